import { expect, test } from "vitest";
import type { LiveUpdate, LiveWish, Recording } from "../api/client";
import { type Line, Live } from "./live";

/** A server with runs that have names, which a test speaks for. */
class Desk {
  lines: (Line & { session: string | undefined; wishes: LiveWish[] })[] = [];
  waiting: { milliseconds: number; then: () => void }[] = [];
  live = new Live({
    open: (session) => {
      const wishes: LiveWish[] = [];
      const line = {
        session,
        wishes,
        send: (text: string) => void wishes.push(JSON.parse(text)),
        close: () => {},
        onmessage: null,
        onclose: null,
      };
      this.lines.push(line);
      return line;
    },
    wait: (milliseconds, then) => void this.waiting.push({ milliseconds, then }),
  });

  get line() {
    return this.lines.at(-1) as (typeof this.lines)[number];
  }
  tell(update: Partial<LiveUpdate>) {
    this.line.onmessage?.({ data: JSON.stringify({ playing: true, speed: 1, ...update }) });
  }
  drop() {
    this.line.onclose?.();
  }
  /** Lets the time go by until the next try. */
  try() {
    const next = this.waiting.shift();
    next?.then();
    return next?.milliseconds;
  }
}

const whole = (ended: number): Recording => ({
  format: "cablaggio.recording/1",
  seed: 7,
  lasts: 3600,
  ended,
  how: "",
  actions: [{ at: 0.5, do: "press", of: "button1" }],
  rows: [],
  serial: [],
  stress: [],
  cut: false,
});

test("news is put together, in the order in which all rows came last", () => {
  const desk = new Desk();
  desk.tell({ session: "a", whole: whole(1) });
  const row = (name: string, at: number, value: number) => ({
    kind: "pin",
    of: name,
    name,
    changes: [{ at, value, text: String(value) }],
  });
  desk.tell({ news: { at: 2, all: true, rows: [row("D4", 1.5, 1)] } });
  desk.tell({ news: { at: 3, all: true, rows: [row("D2", 2.5, 1), { ...row("D4", 0, 0), changes: [] }] } });
  desk.tell({ news: { at: 4, rows: [row("D4", 3.5, 0)], serial: [{ at: 3.6, text: "hello", line: 3 }] } });
  const made = desk.live.snapshot().recording;
  expect(made?.ended).toBe(4);
  expect(made?.rows.map((r) => [r.name, r.changes.length])).toEqual([
    ["D2", 1],
    ["D4", 2],
  ]);
  expect(made?.serial).toHaveLength(1);
});

test("what is too much is thinned out, and what holds at the oldest time that is shown stays", () => {
  const desk = new Desk();
  desk.tell({ session: "a", whole: whole(0) });
  for (let n = 1; n <= 400; n++) {
    const changes = Array.from({ length: 50 }, (_, i) => ({
      at: n + i / 50,
      value: i % 2,
      text: String(i % 2),
    }));
    desk.tell({ news: { at: n + 1, all: n === 1, rows: [{ kind: "pin", of: "D4", name: "D4", changes }] } });
  }
  const changes = desk.live.snapshot().recording?.rows[0]?.changes ?? [];
  expect(changes.length).toBeLessThanOrEqual(6000);
  expect(changes[0]?.at).toBeLessThanOrEqual(101);
  expect(changes.filter((c) => c.at > 350)).toHaveLength(2550 - 1);
  expect(changes.every((c, i) => c.value !== changes[i - 1]?.value)).toBe(true);
});

test("a lost line is tried again, ever more seldom, and comes back to its run", () => {
  const desk = new Desk();
  desk.tell({ session: "a", whole: whole(1) });
  desk.drop();
  expect(desk.live.snapshot()).toMatchObject({ away: true });
  expect(desk.try()).toBe(500);
  desk.drop();
  expect(desk.try()).toBe(1000);
  expect(desk.line.session).toBe("a");
  desk.tell({ session: "a", whole: whole(2) });
  expect(desk.live.snapshot()).toMatchObject({ away: false, playing: true });
  expect(desk.line.wishes).toEqual([]);
});

test("a server that has forgotten the run is asked to run it again to where it was", () => {
  const desk = new Desk();
  desk.tell({ session: "a", whole: whole(12) });
  desk.drop();
  desk.try();
  desk.tell({ session: "b", whole: whole(0), playing: false });
  expect(desk.line.wishes).toEqual([
    { do: "again", actions: whole(0).actions, seed: 7, seconds: 12 },
    { do: "play" },
  ]);
});

test("what is wished before the server has spoken waits for it", () => {
  const desk = new Desk();
  desk.live.wish({ do: "act", action: { do: "press", of: "button1", at: 0 } });
  expect(desk.line.wishes).toEqual([]);
  desk.tell({ session: "a", whole: whole(0) });
  expect(desk.line.wishes).toEqual([{ do: "act", action: { do: "press", of: "button1", at: 0 } }]);
});

test("what was wrong is over with the next wish; a refusal is no reason to try again", () => {
  const desk = new Desk();
  desk.tell({ session: "a", whole: whole(1) });
  desk.tell({ problem: "That cannot be turned." });
  desk.tell({ news: { at: 2 } });
  expect(desk.live.snapshot().wrong).toBe("That cannot be turned.");
  desk.live.wish({ do: "hold" });
  expect(desk.live.snapshot().wrong).toBeUndefined();
  desk.tell({ refused: true, problem: "The program does not compile." });
  desk.drop();
  expect(desk.waiting).toHaveLength(0);
});
