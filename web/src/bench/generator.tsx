import { useId, useState } from "react";
import type { BenchAction, BenchHand } from "../api/client";
import { Button } from "../shared/controls";
import type { Acting } from "./run";

/** A test generator in place of a sensor or a wheel: as often a second as is typed, for a share of the time, between two levels. */
export function Generator({ hand, fed, run }: { hand: BenchHand; fed?: BenchAction; run: Acting }) {
  const levels = hand.kind !== "spin";
  const [rate, setRate] = useState("6");
  const [share, setShare] = useState("50");
  const [low, setLow] = useState(rounded(hand.least));
  const [high, setHigh] = useState(rounded(hand.most));
  const errorId = useId();
  const bad = wrong(hand, levels, rate, share, low, high);
  // What is shown is rounded, and may lie a little outside.
  const within = (text: string) => Math.min(Math.max(number(text), hand.least), hand.most);
  const feed = (hertz: number) =>
    run.act({
      do: "feed",
      of: hand.of,
      to: hertz,
      share: number(share) / 100,
      ...(levels && { low: within(low), high: within(high) }),
    });
  return (
    <details className="mt-1">
      <summary className="min-h-8 cursor-pointer py-1 text-small">
        {fed ? `Fed by a generator at ${fed.to} Hz` : "Test generator"}
      </summary>
      <div className="grid grid-cols-2 gap-2 pb-2">
        <Amount label="Rate, Hz" value={rate} onChange={setRate} errorId={bad && errorId} />
        <Amount label="High for, %" value={share} onChange={setShare} errorId={bad && errorId} />
        {levels && (
          <>
            <Amount
              label={hand.unit ? `From, ${hand.unit}` : "From"}
              value={low}
              onChange={setLow}
              errorId={bad && errorId}
            />
            <Amount
              label={hand.unit ? `To, ${hand.unit}` : "To"}
              value={high}
              onChange={setHigh}
              errorId={bad && errorId}
            />
          </>
        )}
        <Button onClick={() => feed(number(rate))} disabled={bad !== undefined}>
          Feed it
        </Button>
        <Button look="quiet" disabled={!fed || bad !== undefined} onClick={() => feed(0)}>
          Take it away
        </Button>
        {bad && (
          <p id={errorId} className="col-span-2 text-small text-stop">
            {bad}
          </p>
        )}
      </div>
    </details>
  );
}

function Amount({
  label,
  value,
  onChange,
  errorId,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  errorId?: string;
}) {
  return (
    <label className="flex min-w-0 flex-col">
      <span className="text-faint text-small">{label}</span>
      <input
        value={value}
        maxLength={12}
        inputMode="decimal"
        aria-describedby={errorId}
        onChange={(event) => onChange(event.target.value)}
        className="w-full rounded-sheet border border-ink/40 bg-sheet px-2 font-mono"
      />
    </label>
  );
}

const number = (text: string) => (text.trim() === "" ? Number.NaN : Number(text.trim().replace(",", ".")));

const rounded = (v: number) => String(Number(v.toPrecision(3)));

/** What would be right of what is typed; undefined: it is. */
export function wrong(
  hand: Pick<BenchHand, "least" | "most" | "unit">,
  levels: boolean,
  rate: string,
  share: string,
  low: string,
  high: string,
): string | undefined {
  if (!(number(rate) > 0 && number(rate) <= 10_000)) return "The rate is above 0, up to 10,000 Hz.";
  if (!(number(share) > 0 && number(share) < 100)) return "It is high for more than 0 and less than 100 %.";
  const [from, to] = [number(low), number(high)];
  const [least, most] = [rounded(hand.least), rounded(hand.most)];
  if (levels && !(Number(least) <= from && from < to && to <= Number(most)))
    return `The levels are two from ${least} to ${most} ${hand.unit}, the lower one first.`;
  return undefined;
}
