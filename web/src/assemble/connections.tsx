import type { AssemblyView, Link } from "../api/client";
import { useSheet, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";
import { download } from "../shared/download";
import { ValueField } from "../shared/value-field";

/** The same nets as a list from place to place, for a build that is soldered or has no breadboard. */
export function Connections({ report }: { report: AssemblyView }) {
  const { view, edit } = useSheet();
  const { refused } = useSnapshot();
  const metres = (of: (l: Link) => number) =>
    (report.links.reduce((sum, l) => sum + of(l), 0) / 1000).toLocaleString(undefined, {
      maximumFractionDigits: 1,
    });
  return (
    <div className="min-h-0 grow overflow-auto px-4 py-3">
      <p>
        Without a breadboard, or soldered for good: join these one after another. Put the sleeve on before you
        solder. Protect your eyes, and let fresh air in.
      </p>
      <div className="my-3 flex flex-wrap items-end gap-4">
        <ValueField
          label="Wire from place to place, in millimetres"
          saved={String(report.links.find((l) => l.millimetres > 0)?.millimetres ?? "")}
          error={refused.find((r) => r.step?.edits.some((e) => e.op === "reach"))?.problem.title}
          onCommit={(text) => edit("set the length of soldered wires", { op: "reach", text })}
        />
        <p>
          {metres((l) => l.millimetres)} m of wire and {metres((l) => l.sleeve)} m of sleeve in all.
        </p>
      </div>
      <p className="my-2">
        <Button onClick={() => void download(`/api/builds/${view.id}/files/links.csv`)}>Save as CSV</Button>
      </p>
      <table className="w-full">
        <thead className="text-left text-faint text-small">
          <tr>
            <th className="pr-3 font-normal">from</th>
            <th className="pr-3 font-normal">to</th>
            <th className="pr-3 text-right font-normal">wire</th>
            <th className="text-right font-normal">sleeve</th>
          </tr>
        </thead>
        <tbody>
          {report.links.map((l, i) => (
            <tr
              key={`${l.from} ${l.to}`}
              className={l.net === report.links[i - 1]?.net ? "" : "border-ink/40 border-t"}
            >
              <td className="py-1 pr-3">{l.from}</td>
              <td className="pr-3">{l.to}</td>
              <td className="whitespace-nowrap pr-3 text-right font-mono">
                {l.millimetres > 0 ? `${l.millimetres} mm` : "leg to leg"}
              </td>
              <td className="whitespace-nowrap text-right font-mono">{l.sleeve} mm</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
