import type { AssemblyView } from "../api/client";
import { useSheet } from "../session/context";
import { Choice } from "../shared/controls";

/** Which breadboards lie on the bench, and whether the board stands in one of them. */
export function Breadboards({ report }: { report: AssemblyView }) {
  const { view, edit, board } = useSheet();
  const assembly = view.document.assembly;
  const chosen = assembly?.breadboards ?? [];
  const words = (id: string) => report.breadboards.find((b) => b.id === id)?.name ?? id;
  const taken = report.placement?.breadboards ?? [];
  const pairs = report.breadboards.filter((b) => b.rails).map((b) => [b.id, b.id]);
  const set = (ids: string, beside: boolean) =>
    edit(ids ? `take the ${ids.split(" ").map(words).join(" and the ")}` : "let the breadboard be chosen", {
      op: "breadboards",
      text: ids,
      with: beside ? "beside" : "",
    });
  return (
    <>
      <div className="w-60">
        <Choice
          label="Breadboard"
          value={chosen.join(" ")}
          onChange={(ids) => set(ids, assembly?.beside ?? false)}
        >
          <option value="">
            {chosen.length === 0 && taken.length > 0
              ? `chosen for you: ${taken.length > 1 ? `${taken.length} × ` : ""}${words(taken[0] ?? "")}`
              : "choose for me"}
          </option>
          {report.breadboards.map((b) => (
            <option key={b.id} value={b.id}>
              {b.name}
            </option>
          ))}
          {pairs.map((ids) => (
            <option key={ids.join(" ")} value={ids.join(" ")}>
              2 × {words(ids[0] ?? "")}
            </option>
          ))}
        </Choice>
      </div>
      {board.plugs && (
        <div className="w-40">
          <Choice
            label="The board"
            value={assembly?.beside ? "beside" : "in"}
            onChange={(where) => set(chosen.join(" "), where === "beside")}
          >
            <option value="in">stands in it</option>
            <option value="beside">lies beside it</option>
          </Choice>
        </div>
      )}
    </>
  );
}
