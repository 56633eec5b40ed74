import type { AssemblyView, Edit } from "../api/client";

type BuiltLeg = NonNullable<AssemblyView["built"]>["legs"][number];

/** What a whole part may be, other than in its place. */
export interface Move {
  words: string;
  edits: Edit[];
}

const edit = (terminal: string, text: string): Edit => ({ op: "built-leg", terminal, text });

/** A hole some rows further down; undefined of what is no hole, or beyond the first row. */
function lower(end: string, by: number): string | undefined {
  const m = end.match(/^(.*[a-j])(\d+)$/);
  const row = m ? Number(m[2]) + by : 0;
  return m && row >= 1 ? `${m[1]}${row}` : undefined;
}

/** What can be noted of a part as a whole: its legs follow. */
export function movesOf(legs: BuiltLeg[]): Move[] {
  const out: Move[] = [];
  const inside = legs.filter((l) => l.end !== "");
  if (inside.length === legs.length && (legs.length === 2 || legs.length === 3)) {
    const ends = legs.map((l) => l.end).reverse();
    out.push({ words: "turned round", edits: legs.map((l, i) => edit(l.terminal, ends[i] ?? "")) });
  }
  for (const [words, by] of [
    ["one row down", 1],
    ["one row up", -1],
  ] as const) {
    const to = legs.map((l) => lower(l.end, by));
    if (legs.length > 0 && to.every((e) => e !== undefined))
      out.push({ words, edits: legs.map((l, i) => edit(l.terminal, to[i] ?? "")) });
  }
  if (inside.length > 0)
    out.push({ words: "not plugged in", edits: inside.map((l) => edit(l.terminal, "")) });
  return out;
}
