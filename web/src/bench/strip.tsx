import { useGesture } from "@use-gesture/react";
import { X } from "lucide-react";
import { useRef, useState } from "react";
import type { BenchPlace, LiveRow, Recording } from "../api/client";
import { Button, Choice } from "../shared/controls";
import { useKeys } from "../shared/keys";
import { lineWords } from "../shared/source";
import { Line } from "./line";
import { apart, at } from "./rows";
import type { Bench as Run } from "./run";
import { moved, shown, timeText, type View, zoomed } from "./view";

const named = ({ kind, of, name }: LiveRow): LiveRow => ({ kind, of, name });

const step = 2.5; // that a key zooms by

/**
 * The strip of paper: a row for each thing, time to the right. What is shown ends now, until it is
 * moved: by the arrow keys, by a finger, and shorter or longer by + and −, or two fingers.
 */
export function Strip({
  recording,
  now,
  run,
  places,
  watched,
  onAll,
}: {
  recording: Recording;
  now: number;
  run: Run;
  places: BenchPlace[];
  /** What is shown, by part or pin; nothing: all. */
  watched: string[];
  onAll: () => void;
}) {
  const [view, setView] = useState<View>({ span: 5 });
  const [taps, setTaps] = useState<{ row: string; at: number }[]>([]); // the last two
  const pick = (next: { row: string; at: number }) => setTaps((now) => [...now.slice(-1), next]);
  const [level, setLevel] = useState("");
  const picked = taps.at(-1);
  const before = taps.length > 1 ? taps[0]?.at : undefined;
  const { span } = view;
  const { from, to } = shown(view, now);
  // A time that was picked, and is in view, stays where it is.
  const kept = picked && picked.at >= from && picked.at <= to ? picked.at : undefined;
  const zoom = (times: number, at = kept) => setView((v) => zoomed(v, times, now, at));
  const move = (part: number) => setView((v) => moved(v, part * v.span, now));
  useKeys({
    "+": () => zoom(1 / step),
    "-": () => zoom(step),
    ArrowLeft: () => move(-0.25),
    ArrowRight: () => move(0.25),
  });
  const paper = useRef<HTMLElement>(null);
  useGestures(paper, zoom, move, from, span);
  const rows = recording.rows.filter(
    (r) => r.changes.length > 0 && (watched.length === 0 || r.kind === "volts" || watched.includes(r.of)),
  );
  const chosen = rows.find((r) => r.kind + r.name === picked?.row);
  const change = chosen && picked && at(chosen, picked.at);
  const typed =
    chosen?.kind === "volts" && level.trim() !== "" ? Number(level.trim().replace(",", ".")) : undefined;
  const senseless = Number.isNaN(typed);
  const passes = senseless ? undefined : typed;
  return (
    <section aria-label="Strip" className="flex min-h-48 grow flex-col">
      <div className="flex flex-wrap items-center gap-x-2 border-rule border-b px-4 py-1 text-small">
        <span className="shrink-0 whitespace-nowrap font-mono">
          {timeText(from, span)} to {timeText(to, span)} s
        </span>
        <Button
          look="quiet"
          className="min-h-0! px-2 py-0.5"
          onClick={() => zoom(1 / step)}
          aria-label="Shorter time"
        >
          +
        </Button>
        <Button
          look="quiet"
          className="min-h-0! px-2 py-0.5"
          onClick={() => zoom(step)}
          aria-label="Longer time"
        >
          −
        </Button>
        {view.end !== undefined && (
          <Button look="quiet" className="min-h-0! px-2 py-0.5" onClick={() => setView({ span })}>
            Go on with it
          </Button>
        )}
        {watched.length > 0 && (
          <Button look="quiet" className="min-h-0! px-2 py-0.5 underline" onClick={onAll}>
            All rows
          </Button>
        )}
        <span className="min-w-0 grow basis-40 truncate" role="status">
          {change && chosen
            ? `${chosen.name}: ${change.text}, since ${change.at.toFixed(6)} s${change.line ? `, ${lineWords(run.source, change.line)}` : ""}${before !== undefined && picked ? `; ${apart(before, picked.at)}` : ""}`
            : "Tap a row to read it, a second time to measure from there."}
        </span>
        {chosen && (
          <Button
            look="quiet"
            className="min-h-0! shrink-0 px-2 py-0.5"
            aria-pressed={run.awaits !== undefined}
            disabled={senseless && !run.awaits}
            onClick={() => run.await(run.awaits ? undefined : { ...named(chosen), level: passes })}
          >
            {passes === undefined ? "Hold when it changes" : `Hold when it passes ${passes} V`}
          </Button>
        )}
        {chosen?.kind === "volts" && (
          <label className="flex shrink-0 items-center gap-1">
            <span className="sr-only">The voltage that it passes</span>
            <input
              value={level}
              inputMode="decimal"
              maxLength={8}
              placeholder="any"
              aria-invalid={senseless}
              title="The voltage that it passes, as 2.5; without one it holds at any change"
              onChange={(event) => setLevel(event.target.value)}
              className="h-7 w-16 rounded-sheet border border-ink/40 bg-sheet px-1 text-right font-mono"
            />
            V
          </label>
        )}
        <div className="w-44 shrink-0">
          <Choice
            label="Probe a voltage"
            hidden
            value=""
            onChange={(place) => place && run.setProbes([...run.probes, place])}
          >
            <option value="">Probe a voltage…</option>
            {places
              .filter((p) => !run.probes.includes(p.at))
              .map((p) => (
                <option key={p.at} value={p.at}>
                  {p.name}
                </option>
              ))}
          </Choice>
        </div>
      </div>
      <section
        ref={paper}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by the keyboard
        tabIndex={0}
        aria-label="Rows"
        className="min-h-0 grow touch-pan-y overflow-auto will-change-transform"
      >
        <table className="w-full border-collapse">
          <tbody>
            {rows.map((row) => (
              <tr key={row.kind + row.name} className="border-rule border-b">
                <th
                  scope="row"
                  className="w-36 max-w-36 truncate py-0 pr-2 pl-4 text-left font-normal text-small"
                  title={row.name}
                >
                  {row.kind === "volts" && (
                    <button
                      type="button"
                      aria-label={`Take the probe off ${row.name}`}
                      className="mr-1 cursor-pointer rounded p-1 align-middle hover:bg-wash"
                      onClick={() => run.setProbes(run.probes.filter((p) => p !== row.of))}
                    >
                      <X size={14} aria-hidden />
                    </button>
                  )}
                  {row.name}
                  {row.looks && <span className="block truncate text-faint">{row.looks}</span>}
                </th>
                <td className="p-0">
                  <Line
                    row={row}
                    from={from}
                    span={span}
                    now={now}
                    cursors={[before, picked?.at]}
                    onPick={(time) => pick({ row: row.kind + row.name, at: time })}
                  />
                </td>
                <td className="w-34 max-w-34 truncate px-2 text-right font-mono text-small">
                  {at(row, now)?.text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </section>
  );
}

/** Fingers on the paper: one moves it, two make what is shown shorter or longer; so does a wheel with Ctrl. */
function useGestures(
  paper: React.RefObject<HTMLElement | null>,
  zoom: (times: number, at?: number) => void,
  move: (part: number) => void,
  from: number,
  span: number,
) {
  const line = () => paper.current?.querySelector("canvas")?.getBoundingClientRect();
  useGesture(
    {
      onPinch: ({ delta: [wider], offset: [scale], origin: [x] }) => {
        const box = line();
        if (!box || wider === 0) return;
        zoom((scale - wider) / scale, from + ((x - box.left) / box.width) * span);
      },
      onDrag: ({ delta: [dx], pinching, cancel }) => {
        const box = line();
        if (pinching) cancel();
        else if (box) move(-dx / box.width);
      },
    },
    {
      target: paper,
      eventOptions: { passive: false },
      drag: { axis: "x", filterTaps: true },
      pinch: { scaleBounds: { min: 1e-9, max: 1e9 } },
    },
  );
}
