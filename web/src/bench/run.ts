import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import type { BenchAction, Document, LiveRow, LiveWish, Recording } from "../api/client";
import { type Line, Live, nothing, type Snapshot } from "./live";
import { at } from "./rows";

export interface Bench extends Snapshot {
  /** The time that is shown, in seconds: a little behind what is known, so that it goes smoothly. */
  now: number;
  play: () => void;
  pause: () => void;
  restart: () => void;
  /** Goes back by some seconds: the run is run again, without what hands did since. */
  back: (seconds: number) => void;
  /** Goes on to the next thing that the program does, and holds there. */
  step: () => void;
  setSpeed: (speed: number) => void;
  /** Lets it play until a row changes, and holds at that moment; without a row, it plays on. */
  await: (row: LiveRow | undefined) => void;
  act: (action: Omit<BenchAction, "at">) => void;
  actions: BenchAction[];
  /** Whether it runs on what was really built. */
  built: boolean;
  setBuilt: (built: boolean) => void;
  /** Whose program runs: empty, its own; a dash, none; else that of the build with this id, or as it was: "id@7". */
  program: string;
  /** Whether there is one. */
  programmed: boolean;
  /** The text that its lines are of, where that is the build's own as it is now. */
  source: Document["program"];
  setProgram: (program: string) => void;
  /** The places whose voltage is recorded. */
  probes: string[];
  setProbes: (places: string[]) => void;
  /** Lets a run happen from the start, with all that hands do in it. */
  replay: (actions: BenchAction[], seed: number) => void;
  /** The same, of a script: an action a line. */
  replayScript: (script: string) => void;
}

/** What hands need of a run. It stays the same object while they do nothing, however the time goes on. */
export interface Acting {
  act: Bench["act"];
  actions: readonly BenchAction[];
  /** How the cells stand, where there are any. */
  cells: { value: number; text: string } | undefined;
}

export function useActing(run: Bench): Acting {
  const latest = useRef(run);
  latest.current = run;
  const act = useCallback<Bench["act"]>((action) => latest.current.act(action), []);
  const { actions, recording, now } = run;
  const count = actions.length; // they grow in place
  const row = recording?.rows.find((r) => r.kind === "hand" && r.of === "cells");
  const charge = row && at(row, now);
  // biome-ignore lint/correctness/useExhaustiveDependencies: of another length they are others
  return useMemo(() => ({ act, actions: [...actions], cells: charge }), [act, recording, count, charge]);
}

/** Stands for no program at all. */
export const none = "-";

/** Opens lines to runs of a build. */
function opener(id: string, built: boolean, program: string) {
  return (session: string | undefined): Line => {
    const query = new URLSearchParams();
    if (session) query.set("session", session);
    if (built) query.set("built", "true");
    if (program === none) query.set("bare", "true");
    else if (program) query.set("program", program);
    const origin = window.location.origin.replace(/^http/, "ws");
    return new WebSocket(`${origin}/api/builds/${encodeURIComponent(id)}/bench?${query}`) as Line;
  };
}

/** What a run depends on, in a build. */
function runs(document: Document, built: boolean): string {
  const { should, title, assembly, ...rest } = document;
  return JSON.stringify([rest, built ? assembly?.built : undefined]);
}

/** A run that goes on in the server, and is watched while hands act on it. */
export function useBench(
  id: string,
  document: Document,
  begins: { session: string | null; program: string | null },
): Bench {
  const [built, setBuilt] = useState(false);
  const [program, setProgram] = useState(begins.program ?? "");
  const of = useMemo(() => runs(document, built), [document, built]);
  const [live, setLive] = useState<Live>();
  const [probes, setProbes] = useState<string[]>([]);
  const joins = useRef(begins.session);
  const wished = useRef<LiveWish[]>([]); // between the first picture and the run

  // biome-ignore lint/correctness/useExhaustiveDependencies: another wiring or program is another run
  useEffect(() => {
    const made = new Live(
      { open: opener(id, built, program), wait: (milliseconds, then) => setTimeout(then, milliseconds) },
      joins.current ?? undefined,
    );
    joins.current = null;
    for (const early of wished.current.splice(0)) made.wish(early);
    setLive(made);
    setProbes([]);
    return () => made.close();
  }, [id, of, built, program]);

  const seen = useSyncExternalStore(
    useCallback((changed: () => void) => live?.subscribe(changed) ?? (() => {}), [live]),
    () => live?.snapshot() ?? nothing,
  );
  const wish = (w: LiveWish) => {
    if (live) live.wish(w);
    else wished.current.push(w);
  };
  const now = useClock(seen);
  const recording = seen.recording;

  return {
    ...seen,
    now,
    actions: recording?.actions ?? [],
    play: () => wish({ do: "play" }),
    pause: () => wish({ do: "hold" }),
    restart: () => wish({ do: "again", seed: 1 }),
    back: (seconds) => wish({ do: "back", seconds }),
    step: () => wish({ do: "step" }),
    await: (row) => wish({ do: "await", row }),
    setSpeed: (speed) => wish({ do: "speed", speed }),
    act: (action) => {
      wish({ do: "act", action: { ...action, at: 0 } });
      if (!seen.playing) wish({ do: "play" });
    },
    built,
    setBuilt,
    program,
    setProgram,
    programmed: program === "" ? document.program !== undefined : program !== none,
    source: program === "" ? document.program : undefined,
    probes,
    setProbes: (places) => {
      setProbes(places);
      wish({ do: "probe", probes: places.map((at) => ({ at })) });
    },
    replay: (actions, seed) => {
      wish({ do: "again", actions, seed });
      wish({ do: "play" });
    },
    replayScript: (script) => {
      wish({ do: "again", script, seed: 1 });
      wish({ do: "play" });
    },
  };
}

/** How far the shown time may be behind what is known, in seconds at the speed as it is. */
const behind = 0.06;

/** The time that is shown: it goes smoothly from update to update, and never beyond what is known. */
function useClock({ recording, playing, speed }: Snapshot): number {
  const [now, setNow] = useState(0);
  const known = useRef<Recording>(undefined);
  known.current = recording;
  const clock = useRef(0);
  useEffect(() => {
    if (!playing) return;
    let frame = 0;
    let last = performance.now();
    const tick = (at: number) => {
      const end = known.current?.ended ?? 0;
      const next = clock.current + ((at - last) / 1000) * speed;
      clock.current = Math.min(Math.max(next, end - behind * speed), end);
      last = at;
      setNow(clock.current);
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [playing, speed]);
  const end = recording?.ended ?? 0;
  if (!playing) clock.current = end;
  return playing ? Math.min(now, end) : end;
}
