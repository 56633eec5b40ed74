import { useCallback, useEffect, useRef, useState } from "react";
import { AwayError, answer, api, type BenchAction, type Recording } from "../api/client";

/** How far ahead of what is shown a run is worked out, in seconds. */
const ahead = 10;
/** A run is worked out anew when less than this is left of it. */
const left = 4;
/** What a hand does counts this much later, so that it is not over before it is worked out. */
const lead = 0.02;
/** No finger is faster than that (common practice). */
const shortest = 0.08;
export const longest = 300;

export interface Bench {
  /** The time that is shown, in seconds. */
  now: number;
  playing: boolean;
  recording: Recording | undefined;
  /** Whether what hands did last is not worked out yet. */
  busy: boolean;
  wrong: string | undefined;
  speed: number;
  play: () => void;
  pause: () => void;
  restart: () => void;
  setSpeed: (speed: number) => void;
  act: (action: Omit<BenchAction, "at">) => void;
  actions: BenchAction[];
  /** Whether it runs on what was really built. */
  built: boolean;
  setBuilt: (built: boolean) => void;
  /** The places whose voltage is recorded. */
  probes: string[];
  setProbes: (places: string[]) => void;
  /** Lets a run happen from the start, with all that hands do in it. */
  replay: (actions: BenchAction[], seed: number) => void;
}

/**
 * A run that is watched while hands act on it. It is deterministic, so what a hand does at a
 * moment only changes what comes after: the run is worked out again with one action more.
 */
export function useBench(id: string, tag: string): Bench {
  const [now, setNow] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [speed, setSpeed] = useState(1);
  const [recording, setRecording] = useState<Recording>();
  const [wrong, setWrong] = useState<string>();
  const [busy, setBusy] = useState(false);
  const [actions, setActions] = useState<BenchAction[]>([]);
  const [built, setBuilt] = useState(false);
  const [probes, setProbes] = useState<string[]>([]);
  const seed = useRef(1);
  const clock = useRef(0);
  const asked = useRef(0);
  const watched = useRef(probes);
  const done = useRef(actions);
  done.current = actions;

  const work = useCallback(
    async (list: BenchAction[], until: number) => {
      const mine = ++asked.current;
      setBusy(true);
      try {
        const made = await answer(
          api.POST("/api/builds/{id}/run", {
            params: { path: { id } },
            body: {
              actions: list,
              seconds: Math.min(until, longest),
              seed: seed.current,
              built,
              probes: watched.current.map((at) => ({ at })),
            },
          }),
        );
        if (mine !== asked.current) return;
        setRecording(made);
        setWrong(undefined);
      } catch (problem) {
        if (mine !== asked.current) return;
        setWrong(problem instanceof Error ? problem.message : "That did not work.");
        if (!(problem instanceof AwayError)) setPlaying(false);
      }
      setBusy(false);
    },
    [id, built],
  );

  // Another build, program or wiring is another run.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the tag names the state of the build
  useEffect(() => {
    clock.current = 0;
    setNow(0);
    setActions([]);
    watched.current = [];
    setProbes([]);
    void work([], ahead);
  }, [work, tag]);

  useEffect(() => {
    if (!playing) return;
    let frame = 0;
    let last = performance.now();
    const tick = (at: number) => {
      const end = recording?.lasts ?? 0;
      clock.current = Math.min(clock.current + ((at - last) / 1000) * speed, end);
      last = at;
      setNow(clock.current);
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [playing, speed, recording?.lasts]);

  const lasts = recording?.lasts ?? 0;
  const short =
    playing && !busy && !wrong && lasts > 0 && lasts < longest && lasts - now < left * Math.max(1, speed);
  useEffect(() => {
    if (short) void work(done.current, clock.current + ahead * Math.max(1, speed) + left);
  }, [short, work, speed]);

  const act = useCallback(
    (action: Omit<BenchAction, "at">) => {
      const pressed = done.current.findLast(
        (a) => a.do === "press" && a.of === action.of && a.key === action.key,
      );
      const soonest = action.do === "release" && pressed ? pressed.at + shortest : 0;
      const next = [
        ...done.current,
        { ...action, at: Math.max(clock.current + lead, soonest) } as BenchAction,
      ];
      done.current = next;
      setActions(next);
      setPlaying(true);
      void work(next, Math.max(lasts, clock.current + ahead));
    },
    [work, lasts],
  );

  const replay = useCallback(
    (list: BenchAction[], drawn: number) => {
      seed.current = drawn;
      clock.current = 0;
      setNow(0);
      setActions(list);
      done.current = list;
      void work(list, ahead);
    },
    [work],
  );

  const probe = useCallback(
    (places: string[]) => {
      watched.current = places;
      setProbes(places);
      void work(done.current, Math.max(lasts, clock.current + ahead));
    },
    [work, lasts],
  );

  const restart = useCallback(() => replay([], 1), [replay]);

  return {
    now,
    playing,
    recording,
    busy,
    wrong,
    speed,
    actions,
    play: () => setPlaying(true),
    pause: () => setPlaying(false),
    restart,
    setSpeed,
    act,
    built,
    setBuilt,
    probes,
    setProbes: probe,
    replay: (list, drawn) => {
      replay(list, drawn);
      setPlaying(true);
    },
  };
}
