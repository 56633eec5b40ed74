import type { components } from "../generated/api";

/** A drill that was ended: how much trouble was spent, beside what the diagnosis would have spent. */
export type Found = Pick<components["schemas"]["DrillFound"], "kind" | "spent" | "par">;

/** What was asked in a drill so far. */
export interface Noted {
  ask: string;
  answer: string;
  /** The question and the answer, in words. */
  words: string;
  spent: number;
}

const noteKey = (code: string) => `cablaggio.drill.${code}`;

/** What was asked in a drill. */
export function notes(code: string): Noted[] {
  return read<Noted>(noteKey(code)).filter((n) => typeof n.ask === "string" && typeof n.spent === "number");
}

export function keepNotes(code: string, list: Noted[]): void {
  write(noteKey(code), list);
}

/** How a kind of fault goes: the mean of what was spent beside what had to be, and how often. */
export interface Skill {
  kind: string;
  times: number;
  /** 1: as good as the diagnosis; 2: twice the trouble. */
  ratio: number;
}

/** Skills by kind of fault, those that want practice first. */
export function skills(list: Found[]): Skill[] {
  const by = new Map<string, Found[]>();
  for (const f of list) by.set(f.kind, [...(by.get(f.kind) ?? []), f]);
  return [...by]
    .map(([kind, of]) => ({
      kind,
      times: of.length,
      ratio: of.reduce((sum, f) => sum + f.spent / Math.max(f.par, 1), 0) / of.length,
    }))
    .sort((a, b) => b.ratio - a.ratio || a.kind.localeCompare(b.kind));
}

/** A score, 0 to 100: 100 for no more trouble than the diagnosis would have had. */
export function score(spent: number, par: number): number {
  return Math.round(100 * Math.min(1, Math.max(par, 1) / Math.max(spent, 1)));
}

function read<T>(key: string): T[] {
  try {
    const list: unknown = JSON.parse(window.localStorage.getItem(key) ?? "[]");
    return Array.isArray(list) ? (list.filter((x) => x !== null && typeof x === "object") as T[]) : [];
  } catch {
    return [];
  }
}

function write(key: string, list: unknown[]): void {
  try {
    if (list.length > 0) window.localStorage.setItem(key, JSON.stringify(list));
    else window.localStorage.removeItem(key);
  } catch {
    // The drill goes on all the same; only the record is not kept.
  }
}
