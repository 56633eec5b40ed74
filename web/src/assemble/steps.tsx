import { Check } from "lucide-react";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { AssemblyView, Step } from "../api/client";
import { useSheet } from "../session/context";
import { Bands } from "../shared/bands";
import { Button } from "../shared/controls";
import { useKeys } from "../shared/keys";
import { LevelMark } from "../shared/level";
import { useLegName } from "./leg-name";
import { LoadProgram } from "./load-program";
import { Place } from "./place";
import { QuickCheck } from "./quick-check";
import { Rows } from "./rows";

/** Keeps the names of holes in one piece: "L-7" must not break at its sign. */
const unbroken = (words: string) => words.replace(/([LR])-(\d)/g, "$1\u2011$2");

/** The step to do, large, and all of them below it. */
export function Steps({
  report,
  step,
  onChoose,
  ...picked
}: {
  report: AssemblyView;
  step: Step | undefined;
  onChoose: (id: string | undefined) => void;
  leg: string;
  hole: string;
  onLeg: (leg: string) => void;
  onHole: (hole: string) => void;
}) {
  const { edit } = useSheet();
  const legName = useLegName();
  const steps = report.steps;
  const at = step ? steps.indexOf(step) : -1;
  const done = steps.filter((s) => s.done).length;
  const finish = (s: Step) => {
    edit(`do step ${steps.indexOf(s) + 1}`, {
      op: "step-done",
      text: s.id,
      name: s.do,
      at: new Date().toISOString(),
    });
    onChoose(undefined);
  };
  const takeBack = (s: Step) => {
    edit(`take step ${steps.indexOf(s) + 1} back`, { op: "step-undone", text: s.id, name: s.do });
    onChoose(s.id);
  };
  const go = (by: number) =>
    onChoose(steps[Math.min(Math.max((at < 0 ? steps.length : at) + by, 0), steps.length - 1)]?.id);
  useKeys({
    d: () => step && !step.done && finish(step),
    b: () => {
      const last = steps.filter((s) => s.done).at(-1);
      if (last) takeBack(last);
    },
    ArrowDown: () => go(1),
    ArrowUp: () => go(-1),
  });
  return (
    <>
      <NotYet />
      <div className="border-ink border-b-2 bg-sheet px-4 py-3" aria-live="polite">
        <div className="flex items-center gap-3 text-small text-faint">
          <span>{step ? `Step ${at + 1} of ${steps.length} · ${step.group}` : "All steps are done"}</span>
          <progress
            className="steps h-2 grow"
            value={done}
            max={steps.length}
            aria-label={`${done} of ${steps.length} steps are done`}
          />
        </div>
        {step ? (
          <>
            <p className="my-2 font-semibold text-large leading-snug">{unbroken(step.do)}</p>
            {step.bands && <Bands bands={step.bands} />}
            {step.watch.map((w) => (
              <p key={w} className="my-1 border-care border-l-4 pl-2">
                {w}
              </p>
            ))}
            {step.id === "program" && <LoadProgram />}
            <QuickCheck step={step} />
            <div className="mt-3 flex gap-2">
              {step.done ? (
                <Button className="grow py-3 text-large" onClick={() => takeBack(step)}>
                  Take it back
                </Button>
              ) : (
                <Button
                  look="main"
                  className="grow py-3 text-large"
                  data-next="assemble"
                  onClick={() => finish(step)}
                >
                  Done <kbd className="ml-2 font-mono text-base opacity-80">D</kbd>
                </Button>
              )}
            </div>
          </>
        ) : (
          <p className="my-2 text-large">
            Everything is in. If it does not do what it should, look at what is really there: “As built”.
          </p>
        )}
      </div>
      <div className="relative max-h-[34vh] min-h-0 grow overflow-auto lg:max-h-none">
        <StepList steps={steps} step={step} onChoose={onChoose} />
        <details className="border-rule border-t px-4 py-2">
          <summary className="py-1">Put a part elsewhere</summary>
          <p className="my-2 text-small">
            Tap a leg on the map and then a hole, or name both here. The rest follows.
          </p>
          <Place
            report={report}
            {...picked}
            words="Put it there"
            onPlace={(terminal, hole) =>
              edit(`put ${legName(terminal)} at ${hole}`, { op: "fix", terminal, text: hole })
            }
            refusedOp="fix"
          />
          <Fixed />
        </details>
        <Rows rows={report.rows} />
        {done > 0 && (
          <div className="border-rule border-t px-4 py-3">
            <Button
              onClick={() => {
                edit("begin again", { op: "all-undone" });
                onChoose(undefined);
              }}
            >
              Begin again with an empty breadboard
            </Button>
          </div>
        )}
      </div>
    </>
  );
}

/** A plan with stops is not worth building yet. */
function NotYet() {
  const { view } = useSheet();
  const stops = view.analysis.counts.stop;
  if (stops === 0) return null;
  return (
    <p role="alert" className="flex items-center gap-2 border-stop border-l-4 bg-sheet px-3 py-2">
      <LevelMark level="stop" />
      <span>
        {stops === 1 ? "One finding says" : `${stops} findings say`} that this plan does damage or cannot
        work.{" "}
        <Link className="underline" to="..">
          Mend the plan first
        </Link>
        .
      </span>
    </p>
  );
}

function StepList({
  steps,
  step,
  onChoose,
}: {
  steps: Step[];
  step: Step | undefined;
  onChoose: (id: string) => void;
}) {
  const here = useRef<HTMLButtonElement>(null);
  const id = step?.id;
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows the step, and nothing else
  useEffect(() => {
    const item = here.current;
    const list = item?.closest(".overflow-auto");
    // The list alone moves, not the page: the map stays where it is.
    if (item && list) list.scrollTop = item.offsetTop - list.clientHeight / 2;
  }, [id]);
  return (
    <ol aria-label="All steps">
      {steps.map((s, i) => (
        <li key={s.id}>
          {s.group !== steps[i - 1]?.group && <h2 className="px-4 pt-3 pb-1 font-semibold">{s.group}</h2>}
          <button
            type="button"
            ref={s === step ? here : undefined}
            aria-current={s === step ? "step" : undefined}
            onClick={() => onChoose(s.id)}
            className={`flex w-full gap-2 px-4 py-1.5 text-left ${s === step ? "border-copper border-l-4 bg-wash" : "hover:bg-wash"}`}
          >
            <span className="w-5 shrink-0 pt-0.5">
              {s.done && <Check size={18} className="text-good" aria-label="done" />}
            </span>
            <span className={`grow ${s.look ? "italic" : ""} ${s.done ? "text-faint" : ""}`}>
              {unbroken(s.do)}
            </span>
            {s.at && (
              <time dateTime={s.at} className="whitespace-nowrap font-mono text-faint text-small">
                {new Date(s.at).toLocaleTimeString(undefined, { timeStyle: "short" })}
              </time>
            )}
          </button>
        </li>
      ))}
    </ol>
  );
}

/** The legs that the builder has put somewhere. */
function Fixed() {
  const { view, edit } = useSheet();
  const legName = useLegName();
  const fixed = Object.entries(view.document.assembly?.fixed ?? {});
  return (
    <ul className="mt-2" aria-label="Put by you">
      {fixed.map(([terminal, hole]) => (
        <li key={terminal} className="flex items-center gap-2">
          <span className="grow">
            {legName(terminal)}: <span className="font-mono">{hole}</span>
          </span>
          <Button
            onClick={() => edit(`let ${legName(terminal)} go where it goes best`, { op: "fix", terminal })}
          >
            Let it go where it goes best
          </Button>
        </li>
      ))}
    </ul>
  );
}
