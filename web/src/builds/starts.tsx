import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { answer, api, type Library } from "../api/client";
import { inks, SymbolPicture } from "../symbols/symbols";

/** Ready builds, one for each usual job: a click makes a copy to change. */
export function Starts({ library, act }: { library: Library; act: (work: () => Promise<unknown>) => void }) {
  const navigate = useNavigate();
  const starts = useQuery({
    queryKey: ["starts"],
    queryFn: () => answer(api.GET("/api/starts")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const begin = (document: NonNullable<typeof starts.data>["starts"][number]["document"]) =>
    act(async () => {
      const made = await answer(api.POST("/api/builds", { body: { document } }));
      navigate(`/builds/${made.id}`);
    });
  if (!starts.data) return null;
  return (
    <section aria-labelledby="starts-heading">
      <h2 id="starts-heading" className="mt-6 mb-2 font-semibold text-large">
        Or begin from one that works
      </h2>
      <ul className="grid grid-cols-1 gap-x-4 gap-y-1 sm:grid-cols-2 lg:grid-cols-3">
        {starts.data.starts.map((start) => {
          const own = start.document.parts.filter((p) => !p.of);
          const kinds = [...new Map(own.map((p) => [`${p.kind}/${p.type}`, p])).values()].slice(-3);
          return (
            <li key={start.id}>
              <button
                type="button"
                onClick={() => begin(start.document)}
                className="flex h-full w-full flex-col rounded-sheet border border-rule px-3 py-2 text-left hover:border-copper hover:bg-wash"
              >
                <span className="font-semibold">{start.job}</span>
                <span className="text-faint text-small">{start.document.title}</span>
                <span className="mt-auto flex pt-1">
                  {kinds.map((p) => {
                    const kind = library.catalogue.kinds.find((k) => k.id === p.kind);
                    const ink = inks[kind?.types.find((t) => t.id === p.type)?.ink ?? ""];
                    return <SymbolPicture key={p.id} symbol={kind?.symbol ?? ""} ink={ink} />;
                  })}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
