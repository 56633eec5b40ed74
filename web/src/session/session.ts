import { AwayError, answer, api, type BuildView, type Edit, type Problem, ProblemError } from "../api/client";

/** One step that the builder took: edits that go in together, and what they are called. */
export interface Step {
  key: string;
  words: string;
  edits: Edit[];
}

export interface Refusal {
  step: Step | undefined;
  problem: Problem;
}

export type Status = "loading" | "saved" | "saving" | "away" | "conflict" | "gone" | "missing";

export interface Snapshot {
  view: BuildView | undefined;
  status: Status;
  /** Steps that are not in the database yet, the oldest first. */
  waiting: readonly Step[];
  /** Steps that were not taken, and why. */
  refused: readonly Refusal[];
  /** What somebody else changed first, in words. */
  changes: readonly string[];
}

const about = ["op", "part", "value", "signal", "terminal"];

/** What a step is about: its edits without what they set. */
function target(step: Step): string {
  return JSON.stringify(step.edits.map((e) => Object.entries(e).filter(([field]) => about.includes(field))));
}

const firstRetry = 500;
const lastRetry = 5000;

/**
 * One open build: what the server last said of it, and the steps on their way there.
 *
 * A step is kept in the browser's storage until the server has answered it, so that neither a
 * reload nor a server that is away loses it. Steps go in one after another, each with a key that
 * lets the server take a repeated one once.
 */
export class BuildSession {
  private snapshot: Snapshot;
  private readonly listeners = new Set<() => void>();
  /** The exchange that was begun last. */
  private last: Promise<unknown> = Promise.resolve();
  private closed = false;
  private retry = firstRetry;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly id: string,
    private readonly storage: Storage = window.localStorage,
  ) {
    this.snapshot = {
      view: undefined,
      status: "loading",
      waiting: this.restore(),
      refused: [],
      changes: [],
    };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  get = (): Snapshot => this.snapshot;

  /** Reads the build and sends what is waiting; again whenever the page comes back into view. */
  open(): () => void {
    this.closed = false;
    const wake = () => {
      if (window.document.visibilityState === "visible") void this.refresh();
    };
    window.addEventListener("online", wake);
    window.document.addEventListener("visibilitychange", wake);
    void this.refresh();
    return () => {
      this.closed = true;
      clearTimeout(this.timer);
      window.removeEventListener("online", wake);
      window.document.removeEventListener("visibilitychange", wake);
    };
  }

  edit(words: string, ...edits: Edit[]): void {
    const step = { key: crypto.randomUUID(), words, edits };
    // What was refused elsewhere on the sheet is still to be put right; a new try at the same thing replaces it.
    const refused = this.snapshot.refused.filter((r) => r.step && target(r.step) !== target(step));
    this.set({ waiting: [...this.snapshot.waiting, step], refused });
    void this.send();
  }

  undo(): void {
    void this.move("/api/builds/{id}/undo");
  }

  redo(): void {
    void this.move("/api/builds/{id}/redo");
  }

  /** After a conflict: make the waiting steps on top of what is there now. */
  onTop(): void {
    this.set({ status: "saving", changes: [] });
    void this.send();
  }

  /** Give up the waiting steps. */
  drop(): void {
    this.set({ waiting: [], status: "saved", changes: [], refused: [] });
  }

  dismiss(refusal: Refusal): void {
    this.set({ refused: this.snapshot.refused.filter((r) => r !== refusal) });
  }

  restoreBuild(): void {
    void this.exclusively(async () => {
      const view = await answer(api.POST("/api/builds/{id}/restore", { params: { path: { id: this.id } } }));
      this.set({ view, status: "saved" });
    }).then(() => this.send());
  }

  private async refresh(): Promise<void> {
    await this.exclusively(async () => {
      const view = await answer(api.GET("/api/builds/{id}", { params: { path: { id: this.id } } }));
      this.set({ view, status: this.snapshot.waiting.length > 0 ? "saving" : "saved" });
    });
    await this.send();
  }

  private async send(): Promise<void> {
    while (this.snapshot.waiting.length > 0 && this.snapshot.view && !this.stuck()) {
      const before = this.snapshot.waiting;
      const done = await this.exclusively(() => this.sendFirst());
      if (!done || this.snapshot.waiting === before) return;
    }
  }

  private stuck(): boolean {
    return this.snapshot.status === "conflict" || this.snapshot.status === "gone";
  }

  private async sendFirst(): Promise<void> {
    const [step] = this.snapshot.waiting;
    const view = this.snapshot.view;
    if (!step || !view) return;
    this.set({ status: "saving" });
    const next = await answer(
      api.POST("/api/builds/{id}/edits", {
        params: {
          path: { id: this.id },
          header: { "If-Match": `"${view.tag}"`, "Idempotency-Key": step.key },
        },
        body: { edits: step.edits },
      }),
    );
    const waiting = this.snapshot.waiting.slice(1);
    this.set({ view: next, waiting, status: waiting.length > 0 ? "saving" : "saved" });
  }

  private async move(path: "/api/builds/{id}/undo" | "/api/builds/{id}/redo"): Promise<void> {
    await this.exclusively(async () => {
      const view = this.snapshot.view;
      if (!view || this.snapshot.waiting.length > 0) return;
      this.set({ status: "saving", refused: [] });
      const params = { path: { id: this.id }, header: { "If-Match": `"${view.tag}"` } };
      this.set({ view: await answer(api.POST(path, { params })), status: "saved" });
    });
  }

  /** Runs one exchange with the server after those before it; false when it failed. */
  private exclusively(exchange: () => Promise<void>): Promise<boolean> {
    const turn = this.last.then(async () => {
      if (this.closed) return false;
      try {
        await exchange();
        this.retry = firstRetry;
        return true;
      } catch (error) {
        this.failed(error);
        return false;
      }
    });
    this.last = turn;
    return turn;
  }

  private failed(error: unknown): void {
    if (error instanceof AwayError) {
      this.set({ status: "away" });
      clearTimeout(this.timer);
      this.timer = setTimeout(() => void this.refresh(), this.retry);
      this.retry = Math.min(this.retry * 2, lastRetry);
      return;
    }
    if (!(error instanceof ProblemError)) throw error;
    const problem = error.problem;
    switch (problem.status) {
      case 404:
        this.set({ status: "missing" });
        return;
      case 410:
        this.set({ status: "gone" });
        return;
      case 412:
        this.set({
          view: problem.current ?? this.snapshot.view,
          status: this.snapshot.waiting.length > 0 ? "conflict" : "saved",
          changes: problem.changes ?? [],
        });
        return;
    }
    // The first step cannot be taken as it is. Those behind it may still be.
    const [step, ...waiting] = this.snapshot.waiting;
    this.set({ waiting, status: "saved", refused: [...this.snapshot.refused, { step, problem }] });
    queueMicrotask(() => void this.send());
  }

  private set(change: Partial<Snapshot>): void {
    if (change.waiting) this.keep(change.waiting);
    this.snapshot = { ...this.snapshot, ...change };
    for (const listener of this.listeners) listener();
  }

  private storageKey(): string {
    return `cablaggio.waiting.${this.id}`;
  }

  private keep(waiting: readonly Step[]): void {
    if (waiting.length === 0) this.storage.removeItem(this.storageKey());
    else this.storage.setItem(this.storageKey(), JSON.stringify(waiting));
  }

  private restore(): Step[] {
    try {
      const kept = JSON.parse(this.storage.getItem(this.storageKey()) ?? "[]");
      return Array.isArray(kept) ? kept : [];
    } catch {
      return [];
    }
  }
}
