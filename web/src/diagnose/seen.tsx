import { X } from "lucide-react";
import type { Observation, Said, Thing } from "../api/client";
import { Button } from "../shared/controls";

/** What was seen and read so far; any of it can be taken back. */
export function Seen({
  things,
  seen,
  said,
  onDrop,
  onChange,
  onAnew,
}: {
  things: Thing[];
  seen: Observation[];
  /** The same in words. */
  said: Said[];
  onDrop: (ask: string) => void;
  onChange: () => void;
  onAnew: () => void;
}) {
  const at = new Map(
    things.flatMap((t) =>
      t.states.map((s) => [s.ask, { name: t.name, when: s.short || s.when, should: s.should }] as const),
    ),
  );
  const told = seen.filter((o) => at.get(o.ask)?.should !== o.answer);
  const right = seen.length - told.length;
  return (
    <section aria-label="What was seen">
      <h2 className="sticky top-0 bg-wash px-3 py-1.5 font-semibold">What was seen</h2>
      <ul>
        {told.map((o) => {
          const of = at.get(o.ask);
          const words = of
            ? `${of.name}: ${o.answer}${of.when ? `, ${of.when}` : ""}`
            : (said.find((s) => s.ask === o.ask)?.words ?? "");
          return (
            <li key={o.ask} className="flex items-center gap-2 border-rule border-b px-3 py-1">
              <span className="min-w-0 grow break-words">{words}</span>
              <Button look="quiet" aria-label={`Take back: ${words}`} onClick={() => onDrop(o.ask)}>
                <X size={18} aria-hidden />
              </Button>
            </li>
          );
        })}
      </ul>
      {right > 0 && (
        <p className="px-3 py-1 text-faint">
          {right === 1 ? "1 other thing is as it should be." : `${right} other things are as they should be.`}
        </p>
      )}
      <div className="flex flex-wrap gap-2 p-3">
        <Button onClick={onChange}>Correct what it does</Button>
        <Button look="quiet" onClick={onAnew}>
          Begin anew
        </Button>
      </div>
    </section>
  );
}
