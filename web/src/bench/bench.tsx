import { useQuery } from "@tanstack/react-query";
import { Pause, Play, RotateCcw, StepForward } from "lucide-react";
import { useCallback, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answer, api, type BenchHand, type Recording } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { useKept } from "../shared/kept";
import { useKeys } from "../shared/keys";
import { LevelMark } from "../shared/level";
import { lineOf, lineWords } from "../shared/source";
import { shines } from "../symbols/symbols";
import { Console } from "./console";
import { Hands } from "./hands";
import { Picture } from "./picture";
import { at, seenAt } from "./rows";
import { none, type Bench as Run, useActing, useBench } from "./run";
import { RunFiles } from "./run-files";
import { Should } from "./should";
import { Strip } from "./strip";

/** How far one goes back at once, in seconds. */
const backBy = 10;

const noHands: BenchHand[] = [];

/** The Bench section: the build runs, hands act on it, and a strip of paper shows what everything did. */
export function Bench() {
  const { view } = useSheet();
  const hands = useQuery({
    queryKey: ["hands", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/hands", { params: { path: { id: view.id } } })),
  });
  const [query] = useSearchParams();
  const [drawn, draw] = useKept("bench-picture", true);
  const [levels, showLevels] = useKept("bench-levels", false);
  const [watched, watch] = useState<string[]>([]);
  const toggle = (of: string) =>
    watch((now) => (now.includes(of) ? now.filter((w) => w !== of) : [...now, of]));
  const run = useBench(view.id, view.document, {
    session: query.get("session"),
    program: query.get("program"),
  });
  const list = hands.data?.hands ?? noHands;
  const acting = useActing(run);
  const latest = useRef(run);
  latest.current = run;
  const replay = useCallback<Run["replay"]>((actions, seed) => latest.current.replay(actions, seed), []);
  useKeys({
    " ": () => (run.playing ? run.pause() : run.play()),
    ".": run.step,
    ",": () => run.back(backBy),
  });
  if (view.document.parts.length === 0) {
    return (
      <main className="max-w-prose p-6 text-large">
        There is nothing on the bench yet. Put parts into the plan first.
      </main>
    );
  }
  return (
    <main className="flex min-h-0 grow flex-col lg:flex-row">
      <aside
        aria-label="Controls"
        className="order-last w-full shrink-0 border-rule border-t lg:order-none lg:w-64 lg:overflow-auto lg:border-t-0 lg:border-r"
      >
        <Hands hands={list} run={acting} />
        <Should built={run.built} replay={replay} />
      </aside>
      <div className="flex min-h-0 min-w-0 grow flex-col">
        <Clock run={run} />
        <Standing run={run} />
        {run.wrong && (
          <p role="alert" className="border-stop border-l-4 px-4 py-2">
            {run.wrong}
          </p>
        )}
        {!run.programmed && run.program === "" && (
          <p className="border-rule border-b px-4 py-2">
            There is no program: all pins are inputs. Write one in the Program section, and it runs here.
          </p>
        )}
        {run.recording && <Troubles recording={run.recording} now={run.now} source={run.source} />}
        <div className="flex min-h-0 grow flex-col xl:flex-row">
          <section
            aria-label="Breadboard"
            className={`flex min-h-0 flex-col border-rule border-b xl:border-r xl:border-b-0 ${drawn ? "h-[62vh] xl:h-auto xl:basis-[55%]" : "xl:basis-auto"}`}
          >
            <div className="flex items-center gap-2 border-rule border-b px-4 py-1 text-small">
              <Button
                look="quiet"
                className="min-h-0! px-2 py-0.5 underline"
                aria-expanded={drawn}
                onClick={() => draw(!drawn)}
              >
                {drawn ? "Hide the breadboard" : "Breadboard"}
              </Button>
              {drawn && (
                <label className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    className="min-h-0! size-4"
                    checked={levels}
                    onChange={(event) => showLevels(event.target.checked)}
                  />
                  levels on wires
                </label>
              )}
            </div>
            {drawn && (
              <Picture
                run={run}
                acting={acting}
                hands={list}
                levels={levels}
                watched={watched}
                onWatch={toggle}
              />
            )}
          </section>
          {run.recording && (
            <div className="flex min-h-0 min-w-0 grow flex-col xl:basis-[45%]">
              <Lamps recording={run.recording} now={run.now} hands={list} />
              <Strip
                recording={run.recording}
                now={run.now}
                run={run}
                places={hands.data?.places ?? []}
                watched={watched}
                onAll={() => watch([])}
              />
              <Console run={run} recording={run.recording} />
            </div>
          )}
        </div>
      </div>
    </main>
  );
}

function Clock({ run }: { run: Run }) {
  const { view } = useSheet();
  return (
    <div className="flex flex-wrap items-center gap-2 border-rule border-b px-4 py-2">
      <Button
        look="main"
        className="w-24"
        data-next="bench"
        onClick={() => (run.playing ? run.pause() : run.play())}
      >
        {run.playing ? <Pause size={18} aria-hidden /> : <Play size={18} aria-hidden />}
        {run.playing ? "Hold" : "Run"}
      </Button>
      <Button onClick={run.restart}>
        <RotateCcw size={16} aria-hidden /> Start over
      </Button>
      <Button title="Back by ten seconds" onClick={() => run.back(backBy)} disabled={run.now === 0}>
        −{backBy} s
      </Button>
      <Button onClick={run.step} disabled={!run.programmed}>
        <StepForward size={16} aria-hidden /> Step
      </Button>
      <div className="w-28">
        <Choice label="Speed" hidden value={String(run.speed)} onChange={(v) => run.setSpeed(Number(v))}>
          <option value="0.01">100 times slower</option>
          <option value="0.1">ten times slower</option>
          <option value="1">as it is</option>
          <option value="5">five times faster</option>
          <option value="20">20 times faster</option>
        </Choice>
      </div>
      {view.document.assembly?.built && (
        <div className="w-40">
          <Choice
            label="On what"
            hidden
            value={run.built ? "built" : "plan"}
            onChange={(v) => run.setBuilt(v === "built")}
          >
            <option value="plan">on the plan</option>
            <option value="built">on what was built</option>
          </Choice>
        </div>
      )}
      <Programs run={run} />
      {run.recording && <RunFiles id={view.id} run={run} recording={run.recording} />}
      <output className="ml-auto font-mono text-large" aria-label="Time">
        {run.now.toFixed(2)} s
      </output>
    </div>
  );
}

/** Whose program runs: its own, an earlier one, none, or that of another build, as a board keeps it on new wiring. */
function Programs({ run }: { run: Run }) {
  const { view } = useSheet();
  const builds = useQuery({
    queryKey: ["builds", "", false, "programs"],
    queryFn: () => answer(api.GET("/api/builds", { params: { query: { search: "", bin: false, skip: 0 } } })),
  });
  const log = useQuery({
    queryKey: ["log", view.id, "programs"],
    queryFn: () =>
      answer(
        api.GET("/api/builds/{id}/log", { params: { path: { id: view.id }, query: { kind: "program" } } }),
      ),
  });
  const others = (builds.data?.builds ?? []).filter((b) => b.id !== view.id);
  const earlier = (log.data?.entries ?? []).map((e) => ({
    value: `${view.id}@${e.revision}`,
    words: `as of ${new Date(e.made).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" })}`,
  }));
  // One from the book that is further back than the list goes.
  if (run.program.startsWith(`${view.id}@`) && !earlier.some((e) => e.value === run.program)) {
    earlier.push({ value: run.program, words: `of state ${run.program.split("@")[1]}` });
  }
  return (
    <div className="w-32">
      <Choice label="Program" hidden value={run.program} onChange={run.setProgram}>
        <option value="">its program</option>
        <option value={none}>no program</option>
        {earlier.map((e) => (
          <option key={e.value} value={e.value}>
            {e.words}
          </option>
        ))}
        {others.map((b) => (
          <option key={b.id} value={b.id}>
            that of {b.title}
          </option>
        ))}
      </Choice>
    </div>
  );
}

/** Where the program waits, and what keeps the run from going as it should. */
function Standing({ run }: { run: Run }) {
  const line = run.playing ? undefined : run.recording?.line;
  const words = run.away
    ? "The server does not answer. It is tried again, and the run goes on where it was."
    : run.busy
      ? "Running it again, to here…"
      : run.awaits
        ? `It runs until ${run.awaits.name} ${run.awaits.level === undefined ? "changes" : `passes ${run.awaits.level} V`}, and holds there.`
        : run.lags
          ? "The program takes longer here than on its board: time goes slower."
          : line && run.recording?.how === ""
            ? `Held at ${[lineWords(run.source, line), lineOf(run.source, line)].filter(Boolean).join(": ")}`
            : "";
  return (
    <p role="status" className={words ? "border-rule border-b px-4 py-1.5 font-mono text-small" : "sr-only"}>
      {words}
    </p>
  );
}

/** What passed a limit, and a program that broke off, once it has happened. */
function Troubles({ recording, now, source }: { recording: Recording; now: number; source: Run["source"] }) {
  const broke = recording.how !== "" && now >= recording.ended - 0.05;
  const stress = recording.stress.filter((s) => s.at <= now);
  if (!broke && stress.length === 0) return null;
  return (
    <ul aria-label="What went wrong" className="border-rule border-b px-4 py-2">
      {stress.map((s) => (
        <li key={s.words} className="flex items-center gap-2 font-semibold">
          <LevelMark level="stop" /> {s.words}, since {s.at.toFixed(3)} s.
        </li>
      ))}
      {broke && (
        <li className="flex items-center gap-2 font-semibold">
          <LevelMark level={endings[recording.how] ? "note" : "stop"} />
          {endings[recording.how] ?? `The program ${recording.how}: ${recording.why ?? ""}`}
          {recording.line ? ` (${lineWords(source, recording.line)})` : ""}
        </li>
      )}
    </ul>
  );
}

const endings: Record<string, string> = {
  done: "The program has come to its end.",
  over: "After an hour a run here is over: start over.",
};

/** What stands before a thing that is no lamp: a note, or an arm as it points. */
function Sign({ kind, value }: { kind: string; value: number }) {
  if (kind !== "angle") return <span aria-hidden>{value > 0 ? "♪" : "·"}</span>;
  return (
    <svg aria-hidden="true" viewBox="-12 -12 24 14" className="h-4 w-7 shrink-0 text-copper">
      <path d="M-10 0A10 10 0 0 1 10 0" fill="none" stroke="currentColor" strokeWidth="1" />
      <path d="M0 0H-10" transform={`rotate(${value})`} stroke="currentColor" strokeWidth="2.5" />
    </svg>
  );
}

/** The lamps as the eye would see them, and what sounds. */
function Lamps({ recording, now, hands }: { recording: Recording; now: number; hands: BenchHand[] }) {
  const shown = recording.rows.filter((r) => ["lamp", "sound", "load", "angle"].includes(r.kind));
  if (shown.length === 0)
    return hands.length === 0 ? <p className="px-4 py-2">Nothing here lights or sounds.</p> : null;
  return (
    <ul
      aria-label="Lamps"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by the keyboard
      tabIndex={0}
      className="flex max-h-[26vh] shrink-0 flex-wrap gap-x-4 gap-y-1 overflow-auto border-rule border-b px-4 py-2"
    >
      {shown.map((row) => {
        const value = row.kind === "lamp" ? seenAt(row, now) : (at(row, now)?.value ?? 0);
        return (
          <li key={row.kind + row.name} className="flex items-center gap-1.5 text-small">
            {row.kind === "lamp" ? (
              <Glow lightness={value} ink={row.ink ?? ""} />
            ) : (
              <Sign kind={row.kind} value={value} />
            )}
            <span>
              <span className="block">
                <Link
                  to={`../diagnose?part=${row.of}`}
                  title={`${row.name} does something else on the real bench?`}
                  className="hover:underline"
                >
                  {row.name}
                </Link>
              </span>
              <span className="block font-mono text-faint text-small">
                {row.kind === "lamp"
                  ? `${value.toFixed(0)} %${shines[row.ink ?? ""] === "" ? ", unseen" : ""}`
                  : at(row, now)?.text}
              </span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function Glow({ lightness, ink }: { lightness: number; ink: string }) {
  const colour = shines[ink] || "transparent";
  const part = Math.min(1, Math.max(0, lightness / 100));
  return (
    <svg viewBox="0 0 40 40" width="30" height="30" aria-hidden>
      <circle cx="20" cy="20" r={11 + 7 * part} fill={colour} opacity={0.35 * part} />
      <circle cx="20" cy="20" r="10" fill="var(--wash)" stroke="var(--ink)" strokeWidth="1.5" />
      <circle cx="20" cy="20" r="9" fill={colour} opacity={part} />
    </svg>
  );
}
