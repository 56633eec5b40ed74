import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { BuildView, Problem } from "../api/client";
import { AwayError, ProblemError } from "../api/errors";
import { BuildSession, type Server, type Surroundings } from "./session";
import type { Places, Step } from "./waiting";

/** Numbers that look random and are the same for the same seed (mulberry32, public domain). */
function draws(seed: number): () => number {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

class Shelf implements Places {
  private readonly map = new Map<string, string>();
  throws = false;
  get length(): number {
    return this.map.size;
  }
  key(i: number): string | null {
    return [...this.map.keys()][i] ?? null;
  }
  getItem(key: string): string | null {
    return this.map.get(key) ?? null;
  }
  setItem(key: string, value: string): void {
    if (this.throws) throw new Error("quota");
    this.map.set(key, value);
  }
  removeItem(key: string): void {
    if (this.throws) throw new Error("quota");
    this.map.delete(key);
  }
}

const problem = (status: number, more?: Partial<Problem>) =>
  new ProblemError({ type: "about:blank", title: `status ${status}`, status, ...more });

/** A server as ours answers, with what can go wrong on the way there and back. */
class Book implements Server {
  version = 1;
  /** The words of the steps that were made, in their order. */
  made: string[] = [];
  private readonly keys = new Set<string>();
  /** What becomes of the next request. */
  fate: () => "well" | "before" | "after" | number = () => "well";

  view(): BuildView {
    return { id: "b", tag: String(this.version), title: "b" } as BuildView;
  }
  private async meet<T>(work: () => T): Promise<T> {
    const fate = this.fate();
    await Promise.resolve();
    if (fate === "before") throw new AwayError("away");
    if (typeof fate === "number") throw problem(fate);
    const out = work();
    if (fate === "after") throw new AwayError("the answer was lost");
    return out;
  }
  get(): Promise<BuildView> {
    return this.meet(() => this.view());
  }
  edit(_: string, tag: string, step: Step): Promise<BuildView> {
    return this.meet(() => {
      if (this.keys.has(step.key)) return this.view();
      if (tag !== String(this.version)) throw problem(412, { current: this.view(), changes: ["something"] });
      if (step.words.startsWith("bad")) throw problem(422);
      this.keys.add(step.key);
      this.made.push(step.words);
      this.version++;
      return this.view();
    });
  }
  undo(_: string, tag: string): Promise<BuildView> {
    return this.meet(() => {
      if (tag !== String(this.version)) throw problem(412, { current: this.view() });
      this.version++;
      return this.view();
    });
  }
  redo(id: string, tag: string): Promise<BuildView> {
    return this.undo(id, tag);
  }
  restore(): Promise<BuildView> {
    return this.get();
  }
}

class Browser {
  readonly shelf = new Shelf();
  readonly open = new Map<string, { session: BuildSession; close: () => void }>();
  seen = true;
  private readonly wakes = new Set<() => void>();

  constructor(readonly book: Book) {}

  window(tab: string): BuildSession {
    const around: Surroundings = {
      server: this.book,
      storage: this.shelf,
      tab,
      tabs: async () => new Set(this.open.keys()),
      visible: () => this.seen,
      onWake: (wake) => {
        this.wakes.add(wake);
        return () => this.wakes.delete(wake);
      },
    };
    const session = new BuildSession("b", around);
    this.open.set(tab, { session, close: () => {} });
    this.open.set(tab, { session, close: session.open() });
    return session;
  }
  close(tab: string): void {
    this.open.get(tab)?.close();
    this.open.delete(tab);
  }
  wake(): void {
    this.seen = true;
    for (const wake of this.wakes) wake();
  }
}

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

const settle = () => vi.advanceTimersByTimeAsync(0);
const edit = { op: "title", name: "x" } as const;

test("no step is lost, doubled or out of order, whatever happens", async () => {
  for (let seed = 1; seed <= 300; seed++) {
    const draw = draws(seed);
    const pick = <T>(...of: T[]) => of[Math.floor(draw() * of.length)] as T;
    const book = new Book();
    const browser = new Browser(book);
    book.fate = () =>
      draw() < 0.6 ? "well" : pick<ReturnType<Book["fate"]>>("before", "after", 500, 503, 507, 429);
    const asked: Record<string, string[]> = { one: [], two: [] };
    browser.window("one");
    if (draw() < 0.5) browser.window("two");
    let refused = 0;
    const countRefused = () => {
      for (const { session } of browser.open.values())
        for (const r of session.get().refused) {
          if (r.step) refused++;
          session.dismiss(r);
        }
    };
    for (let n = 0; n < 25; n++) {
      const tab = pick(...browser.open.keys());
      const session = browser.open.get(tab)?.session;
      if (!session) continue;
      const action = draw();
      if (action < 0.5) {
        const words = `${draw() < 0.1 ? "bad" : "good"} ${tab} ${n}`;
        asked[tab]?.push(words);
        session.edit(words, edit);
      } else if (action < 0.6) session.undo();
      else if (action < 0.7) {
        countRefused();
        browser.close(tab); // a reload
        browser.window(tab);
      } else if (action < 0.75) browser.seen = !browser.seen;
      else if (action < 0.9) await vi.advanceTimersByTimeAsync(draw() * 2000);
      else await settle();
      if (session.get().status === "conflict" && draw() < 0.7) session.onTop();
      countRefused();
    }
    // In the end everything works, and what is undecided is made on top.
    book.fate = () => "well";
    for (let round = 0; round < 12; round++) {
      browser.wake();
      await vi.advanceTimersByTimeAsync(70_000);
      for (const { session } of browser.open.values())
        if (session.get().status === "conflict") session.onTop();
      await settle();
      countRefused();
    }
    const where = `seed ${seed}`;
    const all = Object.values(asked).flat();
    expect([...book.made].sort(), where).toEqual(all.filter((w) => w.startsWith("good")).sort());
    for (const [tab, words] of Object.entries(asked)) {
      const made = book.made.filter((w) => w.includes(` ${tab} `));
      expect(made, where).toEqual(words.filter((w) => w.startsWith("good")));
    }
    expect(refused, where).toBe(all.filter((w) => w.startsWith("bad")).length);
    expect(browser.shelf.length, where).toBe(0);
    for (const { session } of browser.open.values()) {
      expect(session.get().status, where).toBe("saved");
      expect(session.get().waiting, where).toEqual([]);
    }
    for (const tab of [...browser.open.keys()]) browser.close(tab);
  }
});

test("a failure that is not about the step keeps it, and says why", async () => {
  for (const status of [408, 429, 500, 503, 507]) {
    const book = new Book();
    const browser = new Browser(book);
    const session = browser.window("one");
    await settle();
    book.fate = () => status;
    session.edit("good 1", edit);
    await settle();
    expect(session.get()).toMatchObject({ status: "away", reason: `status ${status}` });
    expect(session.get().waiting).toHaveLength(1);
    expect(session.get().refused).toEqual([]);
    book.fate = () => "well";
    await vi.advanceTimersByTimeAsync(2000);
    expect(session.get().status).toBe("saved");
    expect(book.made).toEqual(["good 1"]);
    browser.close("one");
  }
});

test("a failed read drops nothing, and what was never sent is not refused", async () => {
  const book = new Book();
  const browser = new Browser(book);
  book.fate = () => 500;
  const session = browser.window("one");
  session.edit("good 1", edit);
  await settle();
  expect(session.get().waiting).toHaveLength(1);
  expect(session.get().status).toBe("away");
  browser.close("one");
});

test("it waits longer after each failure, and not at all while nobody looks", async () => {
  const book = new Book();
  const browser = new Browser(book);
  let asked = 0;
  book.fate = () => {
    asked++;
    return "before";
  };
  const session = browser.window("one");
  await vi.advanceTimersByTimeAsync(60_000);
  const first = asked;
  await vi.advanceTimersByTimeAsync(60_000);
  expect(first).toBeGreaterThan(4);
  expect(asked - first).toBeLessThan(3);
  browser.seen = false;
  await vi.advanceTimersByTimeAsync(120_000);
  const hidden = asked;
  await vi.advanceTimersByTimeAsync(600_000);
  expect(asked).toBe(hidden);
  book.fate = () => "well";
  browser.wake();
  await settle();
  expect(session.get().status).toBe("saved");
  browser.close("one");
});

test("the steps of a window that was closed are made by another, those of an open one are left to it", async () => {
  const book = new Book();
  const browser = new Browser(book);
  const one = browser.window("one");
  await settle();
  book.fate = () => "before";
  one.edit("good 1", edit);
  one.edit("good 2", edit);
  await settle();
  browser.close("one");
  await vi.advanceTimersByTimeAsync(1000);
  book.fate = () => "well";
  const two = browser.window("two");
  await settle();
  expect(book.made).toEqual(["good 1", "good 2"]);
  book.fate = () => "before";
  two.edit("good 3", edit);
  await settle();
  const three = browser.window("three");
  expect(three.get().waiting).toEqual([]);
  browser.close("two");
  browser.close("three");
});

test("a storage that throws is told, and the step is made all the same", async () => {
  const book = new Book();
  const browser = new Browser(book);
  const session = browser.window("one");
  await settle();
  browser.shelf.throws = true;
  book.fate = () => "before";
  session.edit("good 1", edit);
  await settle();
  expect(session.get().safe).toBe(false);
  browser.shelf.throws = false;
  session.edit("good 2", edit);
  expect(session.get().safe).toBe(true);
  expect(browser.shelf.length).toBe(2);
  book.fate = () => "well";
  await vi.advanceTimersByTimeAsync(5000);
  expect(book.made).toEqual(["good 1", "good 2"]);
  expect(browser.shelf.length).toBe(0);
  browser.close("one");
});

test("what somebody else changed first is shown, and one decides", async () => {
  const book = new Book();
  const browser = new Browser(book);
  const session = browser.window("one");
  await settle();
  book.version++;
  session.edit("good 1", edit);
  await settle();
  expect(session.get()).toMatchObject({ status: "conflict", changes: ["something"] });
  browser.wake();
  await settle();
  expect(session.get().status).toBe("conflict");
  session.onTop();
  await settle();
  expect(book.made).toEqual(["good 1"]);
  book.version++;
  session.edit("good 2", edit);
  await settle();
  session.drop();
  expect(session.get().waiting).toEqual([]);
  expect(browser.shelf.length).toBe(0);
  browser.close("one");
});
