import type { LiveRow, LiveUpdate, LiveWish, Recording } from "../api/client";
import { add } from "./news";

export interface Snapshot {
  /** All that is known of the run, changed in place, while it plays without a word; undefined until something is. */
  recording: Recording | undefined;
  playing: boolean;
  speed: number;
  /** It holds when this row changes. */
  awaits: LiveRow | undefined;
  /** The program takes longer than it would on its board. */
  lags: boolean;
  /** It is run again, to where it was. */
  busy: boolean;
  /** The server does not answer; it is tried again. */
  away: boolean;
  /** Why there is no run, or a wish was not fulfilled. */
  wrong: string | undefined;
  /** The name to come back to the run by. */
  session: string | undefined;
}

/** What is known of a run that the server has not spoken of yet. */
export const nothing: Snapshot = {
  recording: undefined,
  playing: false,
  speed: 1,
  awaits: undefined,
  lags: false,
  busy: true,
  away: false,
  wrong: undefined,
  session: undefined,
};

/** What a connection needs of a WebSocket. */
export interface Line {
  send(text: string): void;
  close(): void;
  onmessage: ((event: { data: string }) => void) | null;
  onclose: (() => void) | null;
}

/** The window that a connection is in. */
export interface Surroundings {
  /** Opens a line to a run of the build: to the one of that name, if there is one. */
  open(session: string | undefined): Line;
  wait(milliseconds: number, then: () => void): void;
}

const firstRetry = 500;
const lastRetry = 8000;

/**
 * A connection to a run on the bench that goes on in the server. When it is lost it is tried
 * again, ever more seldom, and comes back to the run where it was; a server that has forgotten
 * the run is asked to run it again, with all that hands did, to where it was.
 */
export class Live {
  private line: Line | undefined;
  private closed = false;
  private ready = false; // the server has spoken on this line
  private early: LiveWish[] = []; // wished before that
  private retry = firstRetry;
  private listeners = new Set<() => void>();
  private now: Snapshot;

  constructor(
    private readonly around: Surroundings,
    session?: string,
  ) {
    this.now = { ...nothing, session };
    this.connect();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = () => this.now;

  /** Tells the server what is wanted of the run. What was wrong before is over. */
  wish(wish: LiveWish) {
    if (this.now.wrong) this.set({ wrong: undefined });
    if (this.ready) this.line?.send(JSON.stringify(wish));
    else if (!this.now.away) this.early.push(wish);
  }

  /** Leaves the run: if nobody else watches, it ends. */
  close() {
    if (this.ready) this.wish({ do: "leave" });
    this.closed = true;
    this.line?.close();
  }

  private set(change: Partial<Snapshot>) {
    this.now = { ...this.now, ...change };
    for (const listener of this.listeners) listener();
  }

  private connect() {
    const line = this.around.open(this.now.session);
    this.line = line;
    line.onmessage = (event) => {
      if (this.line === line && !this.closed) this.take(JSON.parse(event.data) as LiveUpdate);
    };
    line.onclose = () => {
      if (this.line !== line || this.closed) return;
      this.ready = false;
      this.set({ away: true, busy: false });
      this.around.wait(this.retry, () => !this.closed && this.connect());
      this.retry = Math.min(this.retry * 2, lastRetry);
    };
  }

  private take(update: LiveUpdate) {
    if (update.refused) {
      this.closed = true;
      this.set({ wrong: update.problem, busy: false, away: false, playing: false });
      return;
    }
    this.retry = firstRetry;
    this.ready = true;
    const before = this.now;
    const forgotten =
      update.session !== undefined && update.session !== before.session ? before.recording : undefined;
    const recording = update.whole ?? before.recording;
    if (recording && update.news) add(recording, update.news);
    // While it plays, whoever shows it looks at every frame: what is new needs no word.
    const goesOn = before.playing && update.playing && !before.lags === !update.lags && !before.busy;
    if (update.news && goesOn && !update.problem && !before.away) return;
    this.set({
      recording,
      playing: update.playing,
      speed: update.speed,
      awaits: update.awaits,
      lags: update.lags ?? false,
      busy: update.busy ?? false,
      away: false,
      wrong: update.problem ?? before.wrong,
      session: update.session ?? before.session,
    });
    if (forgotten && forgotten.ended > 0) {
      const { actions, seed, ended } = forgotten;
      this.wish({ do: "again", actions, seed, seconds: ended });
      if (before.speed !== update.speed) this.wish({ do: "speed", speed: before.speed });
      if (before.playing) this.wish({ do: "play" });
    }
    for (const wish of this.early.splice(0)) this.wish(wish);
  }
}
