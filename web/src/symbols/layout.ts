import type { Hookup } from "../api/client";

/**
 * A helper beside the row: where in the row it branches off, in elements from its start (a half at the
 * leg in the middle of one), how many others do so above it, and where it leads.
 */
export interface Branch {
  role: string;
  at: number;
  below: number;
  to: string;
}

const isEnd = (terminal: string) =>
  terminal.startsWith("pin.") || terminal.startsWith("board.") || terminal === "host";

/** Whether a terminal is the end itself, or a leg of the element, that a row names. */
const belongsTo = (terminal: string, name: string) => terminal === name || terminal.startsWith(`${name}.`);

/**
 * Where the end that taps a row is joined to it, in elements from its start: a whole number between
 * two elements, a half at the middle of one.
 */
export function tapAt(hookup: Hookup): number | undefined {
  const join = hookup.joins.find((j) => hookup.tap && j.includes(hookup.tap));
  if (!join) return undefined;
  const at = hookup.row.flatMap((name, i) => (join.some((t) => belongsTo(t, name)) ? [i] : []));
  if (at.length === 0) return undefined;
  return at.length > 1 ? Math.max(...at) : (at[0] ?? 0) + 0.5;
}

/** Finds where the helpers that are not in the row of a hookup branch off, and where they lead. */
export function branches(hookup: Hookup): Branch[] {
  // Of several signals that are alike one is drawn for all.
  if (hookup.signals.length > 1) return [];
  const taken = new Map<number, number>();
  return (
    hookup.helpers
      .filter((helper) => !hookup.row.includes(helper.role))
      .map((helper) => {
        const joins = hookup.joins.filter((join) => join.some((t) => belongsTo(t, helper.role)));
        const off = joins.find((join) =>
          join.some((t) => hookup.row.slice(0, -1).some((name) => belongsTo(t, name))),
        );
        const places = hookup.row.flatMap((name, i) => (off?.some((t) => belongsTo(t, name)) ? [i] : []));
        const first = places[0] ?? 0;
        // Where no other element of the row is joined, it is at a leg that the element has for it.
        const leg = places.length === 1 && first > 0 && !off?.some(isEnd);
        const to = joins.find((join) => join !== off)?.find(isEnd) ?? "";
        return { role: helper.role, at: leg ? first + 0.5 : first + 1, below: 0, to };
      })
      // What leads back into the row, such as a diode across a coil, has no end of its own to draw.
      .filter((branch) => branch.to !== "")
      .map((branch) => {
        const below = taken.get(branch.at) ?? 0;
        taken.set(branch.at, below + 1);
        return { ...branch, below };
      })
  );
}
