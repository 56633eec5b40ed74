import type { Edit } from "../api/client";

/** One step that the builder took: edits that go in together, and what they are called. */
export interface Step {
  key: string;
  words: string;
  edits: Edit[];
}

/** What of a browser's storage is needed. All of it may throw: full, forbidden, broken. */
export type Places = Pick<Storage, "getItem" | "setItem" | "removeItem" | "key" | "length">;

/**
 * The steps of one window on their way to the server, the oldest first. Each has a place of its
 * own in the browser's storage, until it is answered or given up, so that neither a reload nor a
 * window that is closed loses it, and no window writes over what another one keeps.
 */
export class Waiting {
  private steps: { step: Step; place: string; kept: boolean }[] = [];
  private last = 0;

  constructor(
    private readonly build: string,
    private readonly storage: Places,
    /** Names the window; a reload keeps the name. */
    private readonly tab: string,
  ) {
    this.takeOver((owner) => owner === tab);
  }

  list(): readonly Step[] {
    return this.steps.map((s) => s.step);
  }

  /** Whether every step has its place: without one, closing the window loses it. */
  safe(): boolean {
    return this.steps.every((s) => s.kept);
  }

  add(step: Step): void {
    this.last = Math.max(this.last + 1, Date.now());
    const place = `${this.prefix()}${this.tab}.${String(this.last).padStart(15, "0")}`;
    this.steps.push({ step, place, kept: false });
    this.keep();
  }

  remove(key: string): void {
    for (const s of this.steps.filter((s) => s.step.key === key)) {
      try {
        this.storage.removeItem(s.place);
      } catch {
        // It stays there. Sent again, it has the key that the server knows it by.
      }
    }
    this.steps = this.steps.filter((s) => s.step.key !== key);
    this.keep();
  }

  /** Takes the steps of windows that are gone, made before a moment; theirs come after one's own. */
  takeOver(gone: (tab: string) => boolean, before = Number.POSITIVE_INFINITY): void {
    const found: { step: Step; place: string; kept: boolean }[] = [];
    for (const place of this.places()) {
      const tab = place.slice(this.prefix().length).split(".")[0] ?? "";
      if (!gone(tab) || Number(order(place)) >= before || this.steps.some((s) => s.place === place)) continue;
      const step = this.read(place);
      if (step) found.push({ step, place, kept: true });
    }
    found.sort((a, b) => (order(a.place) < order(b.place) ? -1 : 1));
    for (const s of found) this.last = Math.max(this.last, Number(order(s.place)) || 0);
    this.steps = [...this.steps, ...found];
  }

  /** Tries again to find a place for what has none. */
  private keep(): void {
    for (const s of this.steps) {
      if (s.kept) continue;
      try {
        this.storage.setItem(s.place, JSON.stringify(s.step));
        s.kept = true;
      } catch {
        return;
      }
    }
  }

  private places(): string[] {
    const found: string[] = [];
    try {
      for (let i = 0; i < this.storage.length; i++) {
        const place = this.storage.key(i);
        if (place?.startsWith(this.prefix())) found.push(place);
      }
    } catch {
      return [];
    }
    return found;
  }

  private read(place: string): Step | undefined {
    try {
      const step = JSON.parse(this.storage.getItem(place) ?? "null") as Step | null;
      if (step && typeof step.key === "string" && Array.isArray(step.edits)) return step;
    } catch {
      return undefined;
    }
    return undefined;
  }

  private prefix(): string {
    return `cablaggio.step.${this.build}.`;
  }
}

function order(place: string): string {
  return place.slice(place.lastIndexOf(".") + 1);
}
