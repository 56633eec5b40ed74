import type { Observation } from "../api/client";

const key = (build: string) => `cablaggio.seen.${build}`;

/** What was seen of a build before the page was loaded anew. */
export function storedSeen(build: string): Observation[] {
  try {
    return parse(window.localStorage.getItem(key(build)));
  } catch {
    return [];
  }
}

/** Keeps what was seen in this browser, so that a reload loses nothing. */
export function keepSeen(build: string, seen: Observation[]): void {
  try {
    if (seen.length > 0) window.localStorage.setItem(key(build), JSON.stringify(seen));
    else window.localStorage.removeItem(key(build));
  } catch {
    // It stays on the page all the same.
  }
}

/** Reads what was kept; whatever is not observations is none. */
export function parse(text: string | null): Observation[] {
  if (!text) return [];
  const list: unknown = JSON.parse(text);
  if (!Array.isArray(list)) return [];
  return list.flatMap((o: unknown) => {
    const { ask, answer } = (o ?? {}) as Partial<Observation>;
    return typeof ask === "string" && typeof answer === "string" ? [{ ask, answer }] : [];
  });
}

/** What is seen when all the rest is as it should be: what was pointed at, and for everything else what it should do; nobody has felt at every part. */
export function withTheRest(
  things: { states: { ask: string; should: string }[] }[],
  pointed: Observation[],
): Observation[] {
  const named = new Set(pointed.map((o) => o.ask));
  const rest = things
    .flatMap((t) => t.states)
    .filter((s) => !named.has(s.ask) && s.should !== "" && !s.ask.startsWith("feel:"))
    .map((s) => ({ ask: s.ask, answer: s.should }));
  return [...pointed, ...rest];
}
