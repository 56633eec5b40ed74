import { useState } from "react";
import type { BuildView, Quantity } from "../api/client";
import { useSheet } from "../session/context";

interface Move {
  name: string;
  was: string;
  is: string;
}

/** What a build's numbers are, by what they are of. */
function numbers(view: BuildView): Map<string, Quantity> {
  const all = new Map<string, Quantity>();
  for (const report of view.analysis.parts) {
    const part = view.document.parts.find((p) => p.id === report.id);
    for (const q of report.quantities) all.set(`${q.name} of ${part?.name}`, q);
  }
  for (const load of view.analysis.loads) all.set(load.name, load.carries);
  return all;
}

const moved = (a: Quantity, b: Quantity) =>
  Math.abs(a.typ - b.typ) > 0.005 * Math.max(Math.abs(a.typ), Math.abs(b.typ)) && a.typText !== b.typText;

/** The numbers that the last change moved, with what they were: change something, and see what it does. */
export function Moved() {
  const { view } = useSheet();
  const [last, setLast] = useState(view);
  const [moves, setMoves] = useState<Move[]>([]);
  if (last.tag !== view.tag) {
    setLast(view);
    const before = numbers(last);
    setMoves(
      [...numbers(view)].flatMap(([name, q]) => {
        const was = before.get(name);
        return was && moved(was, q) ? [{ name, was: was.typText, is: q.typText }] : [];
      }),
    );
  }
  if (moves.length === 0) return null;
  return (
    <details className="border-rule border-t px-4 py-1.5 text-small">
      <summary>
        The last change moved {moves.length} {moves.length === 1 ? "number" : "numbers"}
      </summary>
      <ul className="mt-1 max-h-40 space-y-1 overflow-auto">
        {moves.map((m) => (
          <li key={m.name} className="flex flex-wrap justify-between gap-x-3">
            <span>{m.name}</span>
            <span className="font-mono">
              {m.was} → {m.is}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
