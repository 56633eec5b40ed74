import type { Hookup } from "../api/client";

/** A helper beside the row: the place in the row after which it branches off, and where it leads. */
export interface Branch {
  role: string;
  after: number;
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
  return (
    hookup.helpers
      .filter((helper) => !hookup.row.includes(helper.role))
      .map((helper) => {
        const joins = hookup.joins.filter((join) => join.some((t) => belongsTo(t, helper.role)));
        const at = joins.find((join) =>
          join.some((t) => hookup.row.slice(0, -1).some((name) => belongsTo(t, name))),
        );
        const after = hookup.row.findIndex((name) => at?.some((t) => belongsTo(t, name)));
        const to = joins.find((join) => join !== at)?.find(isEnd) ?? "";
        return { role: helper.role, after: Math.max(after, 0), to };
      })
      // What leads back into the row, such as a diode across a coil, has no end of its own to draw.
      .filter((branch) => branch.to !== "")
  );
}
