import { useQuery } from "@tanstack/react-query";
import { answer, api, type Part } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";

type Signal = NonNullable<Part["signals"]>[number];

/** Which pin a signal is on: every pin of the board is offered, with what speaks against it. */
export function PinChoice({ part, signal }: { part: Part; signal: Signal }) {
  const { view, board, library, edit } = useSheet();
  const free = useQuery({
    queryKey: ["pins", view.id, view.tag, part.id, signal.name],
    queryFn: () =>
      answer(
        api.GET("/api/builds/{id}/pins/{part}/{signal}", {
          params: { path: { id: view.id, part: part.id, signal: signal.name } },
        }),
      ),
  });
  const users = new Map<string, string>();
  for (const p of view.document.parts) {
    for (const s of p.signals ?? []) if (p.id !== part.id) users.set(s.pin, p.name);
  }
  const needs = library.functions.find((f) => f.id === signal.needs)?.name ?? signal.needs;
  const best = free.data?.pins[0];
  const move = (pin: string) =>
    edit(`move ${part.name} to ${pin}`, { op: "pin", part: part.id, signal: signal.name, pin });
  return (
    <div>
      <Choice label={`Pin (${needs})`} value={signal.pin} onChange={move}>
        {board.pins.map((pin) => {
          const against = !pin.functions.includes(signal.needs)
            ? `cannot do ${needs}`
            : users.has(pin.name)
              ? `has ${users.get(pin.name)}`
              : pin.own?.care
                ? `board's ${pin.own.for}`
                : "";
          return (
            <option key={pin.name} value={pin.name}>
              {against ? `${pin.name} – ${against}` : pin.name}
            </option>
          );
        })}
      </Choice>
      {best && (
        <p className="mt-0.5 flex items-center gap-2 text-faint text-small">
          Next best: {best.pin} ({best.reasons.join("; ")})
          <Button look="quiet" className="text-small text-copper" onClick={() => move(best.pin)}>
            Take {best.pin}
          </Button>
        </p>
      )}
    </div>
  );
}
