import { type FormEvent, useId, useState } from "react";
import type { AssemblyView, Difference, Edit } from "../api/client";
import { useSheet, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";
import { Holds } from "../shared/holds";
import { useKept } from "../shared/kept";
import { LevelMark } from "../shared/level";
import { TextField } from "../shared/text-field";
import { ValueField } from "../shared/value-field";
import { useLegName } from "./leg-name";
import { movesOf } from "./moves";
import { Place } from "./place";
import { Rows } from "./rows";
import { type TappedWire, ThisWire } from "./this-wire";

/** What is really on the breadboard: entered leg by leg and wire by wire, and what is different in it. */
export function Built({
  report,
  wire,
  onWire,
  ...picked
}: {
  report: AssemblyView;
  /** The wire that was tapped. */
  wire: TappedWire | undefined;
  onWire: (wire: TappedWire | undefined) => void;
  leg: string;
  hole: string;
  onLeg: (leg: string) => void;
  onHole: (hole: string) => void;
}) {
  const { edit } = useSheet();
  const legName = useLegName();
  const built = report.built;
  if (!built) return <Begin report={report} />;
  return (
    <div className="min-h-0 grow overflow-auto">
      <div className="border-ink border-b-2 bg-sheet px-4 py-3" aria-live="polite">
        {built.differences.length === 0 ? (
          <p className="font-semibold text-good text-large">
            As planned: every leg {built.toCome > 0 && "that is in "}is joined with what it should be.
          </p>
        ) : (
          <ul aria-label="What is different" className="space-y-3">
            {built.differences.map((d) => (
              <li key={d.what} className="border-stop border-l-4 pl-3">
                <p className="font-semibold text-large leading-snug">{d.what}</p>
                <p>{d.do}</p>
                <PutRight difference={d} />
              </li>
            ))}
          </ul>
        )}
        <div className="-mx-4 mt-3">
          <Holds built />
        </div>
        {built.toCome > 0 && (
          <p className="mt-2">
            Still to come, of legs and wires: {built.toCome}. Each step that you do is noted here too.
          </p>
        )}
        {built.findings.length > 0 && (
          <ul aria-label="What comes of it" className="mt-3 space-y-1 border-rule border-t pt-2">
            {built.findings.map((f) => (
              <li key={f.id} className="flex gap-2">
                <LevelMark level={f.level} />
                {f.title}
              </li>
            ))}
          </ul>
        )}
      </div>
      <div className="space-y-4 px-4 py-3">
        {wire && (
          <ThisWire report={report} wire={wire} hole={picked.hole} onWire={onWire} onHole={picked.onHole} />
        )}
        <div>
          <h2 className="mb-1 font-semibold">A leg or a wire is elsewhere</h2>
          <p className="mb-2 text-small">
            Tap a leg or the end of a wire on the map, and then the hole that it is in; or name a leg and a
            hole here.
          </p>
          <Place
            report={report}
            {...picked}
            words="It is here"
            onPlace={(terminal, hole) =>
              edit(`note ${legName(terminal)} in ${hole}`, { op: "built-leg", terminal, text: hole })
            }
            refusedOp="built-leg"
          />
          <WholePart report={report} leg={picked.leg} />
          <Typed />
        </div>
        <Moved report={report} />
        <Wires report={report} />
        <Resistors report={report} />
        <Rows rows={built.rows} />
        <Button onClick={() => edit("put away what was noted", { op: "as-built", text: "forget" })}>
          Put away what was noted
        </Button>
      </div>
    </div>
  );
}

/** Nobody has looked yet: from what is done so far, or from the whole plan. */
function Begin({ report }: { report: AssemblyView }) {
  const { edit } = useSheet();
  const done = report.steps.filter((s) => s.done).length;
  const begun = done > 0 && done < report.steps.length;
  const look = (text?: string) => edit("look at what is really there", { op: "as-built", text });
  return (
    <div className="space-y-3 p-4">
      <p>
        It does not do what it should? Note where legs and wires really are, and Cablaggio says what is
        different from the plan and what comes of it.
      </p>
      <p>
        {begun
          ? `It begins with the ${done === 1 ? "step that is" : `${done} steps that are`} done, or with everything as planned.`
          : "It begins with everything as planned."}{" "}
        You change what you see to be otherwise.
      </p>
      {begun && (
        <Button look="main" className="text-large" onClick={() => look("steps")}>
          Look at what is done so far
        </Button>
      )}
      <Button look={begun ? "plain" : "main"} className="text-large" onClick={() => look()}>
        {begun ? "Look at it as if all were done" : "Look at what is really there"}
      </Button>
    </div>
  );
}

/** What to do next is a step, like the others: done, it is noted as it should be. */
function PutRight({ difference }: { difference: Difference }) {
  const { edit } = useSheet();
  const { legs = [], in: put = [], out = [], values = [] } = difference.right;
  const edits: Edit[] = [
    ...legs.map((l) => ({ op: "built-leg" as const, terminal: l.leg, text: l.hole })),
    ...out.map((w) => ({ op: "wire-out" as const, with: w.from, text: w.to })),
    ...put.map((w) => ({ op: "wire-in" as const, with: w.from, text: w.to })),
    ...values.map((part) => ({ op: "built-value" as const, part })),
  ];
  if (edits.length === 0) return null;
  return (
    <Button className="mt-2 w-full py-2" onClick={() => edit("put it right", ...edits)}>
      I did that
    </Button>
  );
}

/** What the part of the leg that is chosen may be as a whole. */
function WholePart({ report, leg }: { report: AssemblyView; leg: string }) {
  const { view, edit } = useSheet();
  const { refused } = useSnapshot();
  const part = view.document.parts.find((p) => leg.startsWith(`${p.id}.`));
  if (!part) return null;
  const moves = movesOf(report.built?.legs.filter((l) => l.terminal.startsWith(`${part.id}.`)) ?? []);
  const error = refused.find((r) => (r.step?.edits.length ?? 0) > 1 && r.step?.edits[0]?.op === "built-leg");
  return (
    <div className="mt-2">
      <p className="text-small">Or the whole {part.name} is</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {moves.map((m) => (
          <Button
            key={m.words}
            aria-label={`${part.name} is ${m.words}`}
            onClick={() => edit(`note ${part.name} ${m.words}`, ...m.edits)}
          >
            {m.words}
          </Button>
        ))}
      </div>
      {error && <p className="text-stop">{error.problem.title}</p>}
    </div>
  );
}

/** What is typed stays until it is taken: a refusal loses nothing. */
function useUntilTaken(what: string): [string, (text: string) => void, () => void] {
  const { view } = useSheet();
  const [text, setText] = useKept(`built-${what}.${view.id}`, "");
  const [sentAt, setSentAt] = useState<string>();
  if (sentAt !== undefined && sentAt !== view.tag) {
    setSentAt(undefined);
    setText("");
  }
  const type = (typed: string) => {
    setSentAt(undefined);
    setText(typed);
  };
  return [text, type, () => setSentAt(view.tag)];
}

/** One line for those who type: "led1.anode e14". */
function Typed() {
  const { edit } = useSheet();
  const { refused } = useSnapshot();
  const [text, setText, sent] = useUntilTaken("leg");
  const errorId = useId();
  const error = refused.find((r) =>
    r.step?.edits.some((e) => e.op === "built-leg" && !e.terminal && e.text === text),
  )?.problem.title;
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!text.trim()) return;
        edit(`note ${text}`, { op: "built-leg", text });
        sent();
      }}
    >
      <TextField
        label="or type: part, leg, hole"
        value={text}
        onChange={setText}
        example="sign lamp long leg e14"
        className="grow"
        errorId={error ? errorId : undefined}
      />
      <Button type="submit">Note it</Button>
      {error && (
        <p id={errorId} className="basis-full text-stop">
          {error}
        </p>
      )}
    </form>
  );
}

/** The legs that are not where the plan has them. */
function Moved({ report }: { report: AssemblyView }) {
  const { edit } = useSheet();
  const moved = report.built?.legs.filter((l) => l.end !== l.planned) ?? [];
  if (moved.length === 0) return null;
  return (
    <ul aria-label="Legs elsewhere" className="divide-y divide-rule border-rule border-y">
      {moved.map((l) => (
        <li key={l.terminal} className="flex items-center gap-2 py-1">
          <span className="grow">
            {l.name}: <span className="font-mono">{l.end || "not plugged in"}</span>, planned{" "}
            <span className="font-mono">{l.planned}</span>
          </span>
          <Button
            aria-label={`${l.name} is in ${l.planned} now`}
            onClick={() =>
              edit(`note ${l.name} in ${l.planned}`, {
                op: "built-leg",
                terminal: l.terminal,
                text: l.planned,
              })
            }
          >
            Put right
          </Button>
        </li>
      ))}
    </ul>
  );
}

function Wires({ report }: { report: AssemblyView }) {
  const { edit } = useSheet();
  const { refused } = useSnapshot();
  const [from, setFrom, fromSent] = useUntilTaken("from");
  const [to, setTo, toSent] = useUntilTaken("to");
  const error = refused.find((r) => r.step?.edits.some((e) => e.op === "wire-in"))?.problem.title;
  const add = (event: FormEvent) => {
    event.preventDefault();
    if (!from.trim() || !to.trim()) return;
    edit(`note a wire from ${from} to ${to}`, { op: "wire-in", with: from, text: to });
    fromSent();
    toSent();
  };
  const there = report.built?.wires ?? [];
  const missing = report.built?.missing ?? [];
  return (
    <div>
      <h2 className="mb-1 font-semibold">Wires</h2>
      <ul aria-label="Wires" className="divide-y divide-rule border-rule border-y">
        {there.map((w) => (
          <li key={`${w.from} ${w.to}`} className="flex items-center gap-2 py-0.5">
            <span className="grow">
              {w.name}, {w.colour || <strong>not in the plan</strong>}
            </span>
            <Button
              className="min-h-0! px-2 py-0.5 text-small"
              aria-label={`There is no wire from ${w.name}`}
              onClick={() =>
                edit(`note that there is no wire from ${w.name}`, {
                  op: "wire-out",
                  with: w.from,
                  text: w.to,
                })
              }
            >
              It is missing
            </Button>
          </li>
        ))}
        {missing.map((w) => (
          <li key={`missing ${w.from} ${w.to}`} className="flex items-center gap-2 py-0.5 text-stop">
            <span className="grow">{w.name}</span>
            <Button
              aria-label={`The wire from ${w.name} is in`}
              onClick={() => edit(`note a wire from ${w.name}`, { op: "wire-in", with: w.from, text: w.to })}
            >
              It is in
            </Button>
          </li>
        ))}
      </ul>
      <form onSubmit={add} className="mt-2 flex flex-wrap items-end gap-2">
        <TextField label="A wire from" value={from} onChange={setFrom} example="board.D4" />
        <TextField label="to" value={to} onChange={setTo} example="e14" />
        <Button type="submit">It is there</Button>
        {error && <p className="basis-full text-stop">{error}</p>}
      </form>
    </div>
  );
}

/** The resistors by their bands: another one than planned is noted here. */
function Resistors({ report }: { report: AssemblyView }) {
  const { view, edit } = useSheet();
  const { refused } = useSnapshot();
  const resistors = view.document.parts.filter((p) =>
    report.built?.legs.some((l) => l.resistor && l.terminal.startsWith(`${p.id}.`)),
  );
  if (resistors.length === 0) return null;
  return (
    <details>
      <summary className="py-1 font-semibold">Another resistor, by its bands</summary>
      <p className="mt-1 text-small">By its value or its bands, as in: 2k7, or red violet red gold.</p>
      <div className="mt-2 grid grid-cols-2 gap-2">
        {resistors.map((p) => (
          <ValueField
            key={p.id}
            label={p.name}
            saved={report.built?.legs.find((l) => l.terminal.startsWith(`${p.id}.`))?.value ?? ""}
            error={
              refused.find((r) => r.step?.edits.some((e) => e.op === "built-value" && e.part === p.id))
                ?.problem.title
            }
            onCommit={(text) => edit(`note ${p.name}`, { op: "built-value", part: p.id, text })}
          />
        ))}
      </div>
    </details>
  );
}
