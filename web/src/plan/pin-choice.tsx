import { useQuery } from "@tanstack/react-query";
import { Lock, LockOpen } from "lucide-react";
import { answer, api, type Part } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { HeaderMap } from "./header-map";

/** What a move costs, in the points of the choice of pins. */
export const priceWords = ({ price }: { price: number }) =>
  price > 0 ? `costs ${price}` : price < 0 ? `gains ${-price}` : "costs nothing";

type Signal = NonNullable<Part["signals"]>[number];

/** Which pin a signal is on: every pin of the board is offered, with what speaks against it. */
export function PinChoice({ part, signal }: { part: Part; signal: Signal }) {
  const { view, board, library, edit } = useSheet();
  const why = useQuery({
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
  const best = why.data?.other.find((p) => p.possible && !p.with);
  const several = (part.signals?.length ?? 0) > 1;
  const move = (pin: string) =>
    users.has(pin)
      ? edit(`exchange ${signal.pin} and ${pin}`, { op: "swap", part: part.id, signal: signal.name, pin })
      : edit(`move ${part.name} to ${pin}`, { op: "pin", part: part.id, signal: signal.name, pin });
  const lock = () =>
    edit(`${signal.locked ? "unlock" : "lock"} ${part.name}`, {
      op: "lock",
      part: part.id,
      signal: signal.name,
      pin: signal.locked ? undefined : signal.pin,
    });
  return (
    <div>
      <div className="flex items-end gap-2">
        <div className="min-w-0 grow">
          <Choice
            label={several ? `${signal.name}: pin (${needs})` : `Pin (${needs})`}
            value={signal.pin}
            onChange={move}
          >
            {board.pins.map((pin) => {
              const against = !pin.functions.includes(signal.needs)
                ? `cannot do ${needs}`
                : users.has(pin.name)
                  ? `exchange with ${users.get(pin.name)}`
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
        </div>
        <Button
          aria-pressed={signal.locked ?? false}
          aria-label={`Keep ${part.name} on ${signal.pin}`}
          title="A locked pin stays when all pins are chosen again"
          onClick={lock}
        >
          {signal.locked ? <Lock size={18} aria-hidden /> : <LockOpen size={18} aria-hidden />}
        </Button>
      </div>
      <HeaderMap pin={signal.pin} drawn={!several} />
      {best && (
        <p className="mt-0.5 flex items-center gap-2 text-faint text-small">
          Next best: {best.pin}, {priceWords(best)} ({best.reasons.slice(1).join("; ")})
          <Button look="quiet" className="text-small text-copper" onClick={() => move(best.pin)}>
            Take {best.pin}
          </Button>
        </p>
      )}
      {why.data && (
        <details className="text-small">
          <summary>Why this pin, and why not another</summary>
          <table className="mt-1 w-full">
            <tbody>
              <tr className="border-rule border-t bg-wash">
                <th scope="row" className="pr-2 text-left font-mono">
                  {why.data.here.pin}
                </th>
                <td>{why.data.here.reasons.slice(1).join("; ")}</td>
                <td className="whitespace-nowrap pl-2 text-right">it is here</td>
              </tr>
              {why.data.other.map((p) => (
                <tr key={p.pin} className={`border-rule border-t ${p.possible ? "" : "text-faint"}`}>
                  <th scope="row" className="pr-2 text-left font-mono">
                    {p.pin}
                  </th>
                  <td>
                    {p.possible
                      ? [p.with && `exchange with ${p.with}`, ...p.reasons.slice(1)]
                          .filter(Boolean)
                          .join("; ")
                      : p.reasons.join("; ")}
                  </td>
                  <td className="whitespace-nowrap pl-2 text-right">{p.possible && priceWords(p)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </div>
  );
}
