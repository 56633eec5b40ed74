import { type FormEvent, useState } from "react";
import type { Recording } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { useKept } from "../shared/kept";
import { path, series } from "./plot";
import type { Bench } from "./run";

const shownTime = 10; // s of a plot
const strokes = ["", "6 3", "2 2", "8 3 2 3", "1 4", "10 2"];

/** What the program printed, as text or as a plot of its numbers, and a line to send to it. */
export function Console({ run, recording }: { run: Bench; recording: Recording }) {
  const { view } = useSheet();
  const [text, setText] = useKept(`send.${view.id}`, "");
  const [plotted, plot] = useState(false);
  const said = recording.serial.filter((s) => s.at <= run.now);
  const send = (event: FormEvent) => {
    event.preventDefault();
    if (text) run.act({ do: "type", text: `${text}\n` });
    setText("");
  };
  return (
    <section aria-label="Serial link" className="shrink-0 border-rule border-t">
      {plotted ? <Plot said={said} now={run.now} /> : <Text said={said} />}
      <form onSubmit={send} className="flex gap-2 border-rule border-t px-4 py-2">
        <input
          aria-label="Send to the program"
          value={text}
          maxLength={200}
          onChange={(event) => setText(event.target.value)}
          className="min-w-0 grow rounded-sheet border border-ink/40 bg-sheet px-2 font-mono"
        />
        <Button type="submit">Send</Button>
        <Button aria-pressed={plotted} onClick={() => plot(!plotted)}>
          {plotted ? "As text" : "As a plot"}
        </Button>
      </form>
    </section>
  );
}

function Text({ said }: { said: Recording["serial"] }) {
  const lines = said
    .slice(-200)
    .map((s) => s.text)
    .join("")
    .replaceAll("\r", "")
    .split("\n");
  return (
    <pre className="h-24 overflow-auto px-4 py-2 font-mono text-small" aria-live="off">
      {lines.slice(-8).join("\n") || "Nothing was printed yet."}
    </pre>
  );
}

/** The numbers of the last seconds, each series from its least to its most. */
function Plot({ said, now }: { said: Recording["serial"]; now: number }) {
  const all = series(said);
  const from = Math.max(0, now - shownTime);
  if (all.length === 0) {
    return <p className="h-24 px-4 py-2 text-faint">No numbers were printed yet, line by line.</p>;
  }
  return (
    <div className="flex h-24 gap-4 px-4 py-2">
      <svg viewBox="0 -2 600 84" preserveAspectRatio="none" className="h-full min-w-0 grow" aria-hidden>
        {all.map((s, i) => (
          <path
            key={s.name}
            d={path(s, from, Math.max(now, from + 1), 600, 80)}
            fill="none"
            stroke={i % 2 ? "var(--copper)" : "var(--ink)"}
            strokeDasharray={strokes[i]}
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <ul className="w-48 shrink-0 overflow-auto font-mono text-small">
        {all.map((s, i) => (
          <li key={s.name} className="flex items-center gap-2">
            <svg width="24" height="6" aria-hidden>
              <path
                d="M0 3h24"
                stroke={i % 2 ? "var(--copper)" : "var(--ink)"}
                strokeDasharray={strokes[i]}
                strokeWidth="2"
              />
            </svg>
            <span className="min-w-0 grow truncate">{s.name}</span>
            {s.points.at(-1)?.value}
          </li>
        ))}
      </ul>
    </div>
  );
}
