import { useQuery } from "@tanstack/react-query";
import { answer, api, type Part } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { short } from "../shared/values";

/** Parts in the drawer that are like this one, with values of their own from the bag or the meter. */
export function FromDrawer({ part }: { part: Part }) {
  const { edit, kind: kindOf } = useSheet();
  const kind = kindOf(part);
  const drawer = useQuery({ queryKey: ["drawer"], queryFn: () => answer(api.GET("/api/drawer")) });
  const like = drawer.data?.items.filter(
    (i) =>
      i.kind === part.kind && (i.type ?? "") === (part.type ?? "") && Object.keys(i.values ?? {}).length > 0,
  );
  if (!like || like.length === 0 || part.of) return null;
  return (
    <div className="flex flex-wrap items-center gap-2 text-small">
      In the drawer:
      {like.map((item) => {
        const values = Object.entries(item.values ?? {});
        const words = values
          .map(([id, v]) => {
            const def = kind.values.find((x) => x.id === id);
            return `${def?.name ?? id} ${short(v, def?.unit ?? "")}`;
          })
          .join(", ");
        return (
          <Button
            key={item.id}
            className="text-small"
            onClick={() =>
              edit(
                `take the ${words} of the drawer for ${part.name}`,
                ...values.map(([value, v]) => ({
                  op: "value" as const,
                  part: part.id,
                  value,
                  text: String(v),
                })),
              )
            }
          >
            {words}
            {item.measured && ", measured"}
          </Button>
        );
      })}
    </div>
  );
}
