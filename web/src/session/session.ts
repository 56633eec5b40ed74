import type { BuildView, Edit, Problem } from "../api/client";
import { AwayError, inWords, ProblemError } from "../api/errors";
import { type Places, type Step, Waiting } from "./waiting";

export type { Step } from "./waiting";

export interface Refusal {
  step: Step | undefined;
  problem: Problem;
}

export type Status = "loading" | "saved" | "saving" | "away" | "conflict" | "gone" | "missing";

export interface Snapshot {
  view: BuildView | undefined;
  status: Status;
  /** Why the last try came to nothing, while the status is away. */
  reason: string;
  /** Steps that are not in the database yet, the oldest first. */
  waiting: readonly Step[];
  /** Whether each of them would survive the window being closed. */
  safe: boolean;
  /** Steps that were not taken, and why. */
  refused: readonly Refusal[];
  /** What somebody else changed first, in words. */
  changes: readonly string[];
}

/** What a session asks of the server. Each rejects with an {@link AwayError} or a {@link ProblemError}. */
export interface Server {
  get(id: string): Promise<BuildView>;
  edit(id: string, tag: string, step: Step): Promise<BuildView>;
  undo(id: string, tag: string): Promise<BuildView>;
  redo(id: string, tag: string): Promise<BuildView>;
  restore(id: string): Promise<BuildView>;
}

/** The window that a session is in. */
export interface Surroundings {
  server: Server;
  storage: Places;
  /** Names the window; a reload keeps the name. */
  tab: string;
  /** The names of the windows that are open. */
  tabs(): Promise<ReadonlySet<string>>;
  /** Whether anybody sees the window. */
  visible(): boolean;
  /** Calls back when the window comes back into view or on line, until the returned function is called. */
  onWake(wake: () => void): () => void;
}

const about = ["op", "part", "value", "signal", "terminal"];

/** What a step is about: its edits without what they set. */
function target(step: Step): string {
  return JSON.stringify(step.edits.map((e) => Object.entries(e).filter(([field]) => about.includes(field))));
}

const firstRetry = 500;
const lastRetry = 60_000;

/** The answers that are about the step that was sent: it cannot be taken as it is. */
const refusals = new Set([400, 409, 413, 415, 422]);

/**
 * One open build: what the server last said of it, and the steps on their way there.
 *
 * Steps go in one after another, each with a key that lets the server take a repeated one once. A
 * step leaves the waiting list when the server has answered that step, with yes or with a refusal
 * that is about it, and not before.
 */
export class BuildSession {
  private snapshot: Snapshot;
  private readonly waiting: Waiting;
  private readonly listeners = new Set<() => void>();
  /** The exchange that was begun last. */
  private last: Promise<unknown> = Promise.resolve();
  private closed = false;
  private retry = firstRetry;
  /** How often the rest of an analysis was asked for. */
  private looked = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly id: string,
    private readonly around: Surroundings,
  ) {
    this.waiting = new Waiting(id, around.storage, around.tab);
    this.snapshot = {
      view: undefined,
      status: "loading",
      reason: "",
      waiting: this.waiting.list(),
      safe: this.waiting.safe(),
      refused: [],
      changes: [],
    };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  get = (): Snapshot => this.snapshot;

  /** Reads the build and sends what is waiting; again whenever the window comes back into view. */
  open(): () => void {
    this.closed = false;
    const asleep = this.around.onWake(() => {
      this.retry = firstRetry;
      void this.refresh();
    });
    const asked = Date.now(); // a window that opens after this is not known to be open
    void this.around.tabs().then((open) => {
      this.waiting.takeOver((tab) => !open.has(tab), asked);
      return this.refresh();
    });
    return () => {
      this.closed = true;
      clearTimeout(this.timer);
      asleep();
    };
  }

  edit(words: string, ...edits: Edit[]): void {
    const step = { key: crypto.randomUUID(), words, edits };
    this.waiting.add(step);
    // What was refused elsewhere on the sheet is still to be put right; a new try at the same thing replaces it.
    const refused = this.snapshot.refused.filter((r) => r.step && target(r.step) !== target(step));
    this.set({ refused });
    void this.send();
  }

  undo(): void {
    void this.move((tag) => this.around.server.undo(this.id, tag));
  }

  redo(): void {
    void this.move((tag) => this.around.server.redo(this.id, tag));
  }

  /** After a conflict: make the waiting steps on top of what is there now. */
  onTop(): void {
    this.set({ status: "saving", changes: [] });
    void this.send();
  }

  /** Give up the waiting steps. */
  drop(): void {
    for (const step of this.waiting.list()) this.waiting.remove(step.key);
    this.set({ status: "saved", changes: [], refused: [] });
  }

  dismiss(refusal: Refusal): void {
    this.set({ refused: this.snapshot.refused.filter((r) => r !== refusal) });
  }

  restoreBuild(): void {
    void this.exclusively(async () => {
      this.set({ view: await this.around.server.restore(this.id), status: "saved" });
    }).then(() => this.send());
  }

  private async refresh(): Promise<void> {
    const there = await this.exclusively(async () => {
      const view = await this.around.server.get(this.id);
      const waits = this.waiting.list().length > 0;
      if (!waits) this.retry = firstRetry;
      // What a conflict is about is still to be decided.
      if (this.snapshot.status === "conflict" && waits) this.set({ view });
      else this.set({ view, status: waits ? "saving" : "saved" });
      this.lookAgain(view);
    });
    if (there) await this.send();
  }

  private async send(): Promise<void> {
    while (this.snapshot.view && !this.stuck()) {
      const step = this.waiting.list()[0];
      if (!step || !(await this.exclusively(() => this.sendOne(step), step))) return;
    }
  }

  private stuck(): boolean {
    return ["conflict", "gone", "missing"].includes(this.snapshot.status);
  }

  /** Sends a step, unless it was answered while this had to wait for its turn. */
  private async sendOne(step: Step): Promise<void> {
    const view = this.snapshot.view;
    if (!view || this.stuck() || this.waiting.list()[0]?.key !== step.key) return;
    this.set({ status: "saving" });
    const next = await this.around.server.edit(this.id, view.tag, step);
    this.waiting.remove(step.key);
    this.retry = firstRetry;
    this.looked = 0;
    this.set({ view: next, status: this.waiting.list().length > 0 ? "saving" : "saved" });
    this.lookAgain(next);
  }

  /** Asks for the rest of an analysis that is still being worked out. */
  private lookAgain(view: BuildView): void {
    clearTimeout(this.timer);
    if (!view.analysis?.missing || this.closed || !this.around.visible()) return;
    this.looked++;
    this.timer = setTimeout(() => void this.refresh(), Math.min(1000 * this.looked, 10_000));
  }

  private async move(to: (tag: string) => Promise<BuildView>): Promise<void> {
    await this.exclusively(async () => {
      const view = this.snapshot.view;
      if (!view || this.waiting.list().length > 0) return;
      this.set({ status: "saving", refused: this.snapshot.refused.filter((r) => r.step) });
      this.set({ view: await to(view.tag), status: "saved" });
    });
    await this.send();
  }

  /** Runs one exchange with the server after those before it; false when nothing should follow it now. */
  private exclusively(exchange: () => Promise<void>, step?: Step): Promise<boolean> {
    const turn = this.last.then(async () => {
      if (this.closed) return false;
      try {
        await exchange();
        return true;
      } catch (error) {
        return this.failed(error, step);
      }
    });
    this.last = turn;
    return turn;
  }

  /** Takes note of a failure; true when others may be sent behind it. */
  private failed(error: unknown, step: Step | undefined): boolean {
    // Nobody would see what is said here. The step is kept, and its next try says it again.
    if (this.closed) return false;
    const problem = error instanceof ProblemError ? error.problem : undefined;
    if (problem?.status === 404) {
      this.set({ status: "missing" });
      return false;
    }
    if (problem?.status === 410) {
      this.set({ status: "gone" });
      return false;
    }
    if (problem?.status === 412) {
      this.set({
        view: problem.current ?? this.snapshot.view,
        status: this.waiting.list().length > 0 ? "conflict" : "saved",
        changes: problem.changes ?? [],
      });
      return false;
    }
    if (problem && refusals.has(problem.status)) {
      if (step) this.waiting.remove(step.key);
      this.set({
        status: this.waiting.list().length > 0 ? "saving" : "saved",
        refused: [...this.snapshot.refused, { step, problem }],
      });
      return true;
    }
    const reason = problem
      ? inWords(problem)
      : error instanceof AwayError
        ? error.message
        : "Something went wrong in this window.";
    this.set({ status: "away", reason });
    this.later();
    return false;
  }

  /** Tries again after a while, longer after each failure. A window that nobody sees waits until somebody does. */
  private later(): void {
    clearTimeout(this.timer);
    if (this.closed || !this.around.visible()) return;
    this.timer = setTimeout(() => void this.refresh(), this.retry);
    this.retry = Math.min(this.retry * 2, lastRetry);
  }

  private set(change: Partial<Snapshot>): void {
    this.snapshot = {
      ...this.snapshot,
      ...change,
      waiting: this.waiting.list(),
      safe: this.waiting.safe(),
    };
    for (const listener of this.listeners) listener();
  }
}
