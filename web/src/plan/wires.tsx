import { X } from "lucide-react";
import type { Document, Library, Part } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";

/** The wires of a part by hand: what each leg is joined with, and what else it could be. */
export function Wires({ part }: { part: Part }) {
  const { view, library, board, edit, kind: kindOf } = useSheet();
  const doc = view.document;
  const places = [
    board.ground,
    ...board.rails.map((r) => r.name),
    ...board.pins.map((p) => p.name),
    ...(board.places ?? []).map((p) => p.name),
  ];
  const everywhere = [
    ...places.map((name) => `board.${name}`),
    ...doc.parts.flatMap((p) => kindOf(p).terminals.map((t) => `${p.id}.${t.id}`)),
  ];
  return (
    <details>
      <summary className="text-small">Wires by hand</summary>
      <ul className="mt-1 space-y-2">
        {kindOf(part).terminals.map((terminal) => {
          const id = `${part.id}.${terminal.id}`;
          const net = doc.nets.find((n) => n.includes(id)) ?? [];
          return (
            <li key={terminal.id} className="border-rule border-l-2 pl-3">
              <p className="flex flex-wrap items-center gap-2 text-small">
                <span className="font-semibold">{terminal.name}:</span>
                {net.length === 0 ? (
                  "joined to nothing"
                ) : (
                  <>
                    {net
                      .filter((t) => t !== id)
                      .map((t) => label(doc, library, t))
                      .join(", ")}
                    <Button
                      look="quiet"
                      aria-label={`Take the wire off ${terminal.name}`}
                      onClick={() => edit(`take the wire off ${terminal.name}`, { op: "free", terminal: id })}
                    >
                      <X size={16} aria-hidden />
                    </Button>
                  </>
                )}
              </p>
              <Choice
                label={`Wire ${terminal.name} to`}
                hidden
                value=""
                onChange={(to) =>
                  edit(`wire ${terminal.name} to ${label(doc, library, to)}`, {
                    op: "join",
                    terminal: id,
                    to,
                  })
                }
              >
                <option value="">wire it to…</option>
                {everywhere
                  .filter((t) => t !== id && !net.includes(t))
                  .map((t) => (
                    <option key={t} value={t}>
                      {label(doc, library, t)}
                    </option>
                  ))}
              </Choice>
            </li>
          );
        })}
      </ul>
    </details>
  );
}

/** Says a terminal in words: "D4", "anode of red LED 1". */
function label(doc: Document, library: Library, terminal: string): string {
  const [owner = "", leg = ""] = terminal.split(".");
  const part = doc.parts.find((p) => p.id === owner);
  if (!part) return leg;
  const named = library.catalogue.kinds
    .find((k) => k.id === part.kind)
    ?.terminals.find((t) => t.id === leg)
    ?.name.split(",")[0];
  return `${named ?? leg} of ${part.name}`;
}
