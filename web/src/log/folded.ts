import type { LogEntry } from "../api/client";

/** Lines that come by themselves, with what they are called in a fold. */
export const byItself: Record<string, string> = {
  change: "changes of the plan",
  program: "changes of the program",
  step: "steps",
  built: "notes of what is built",
};

/** So many lines of one kind in a row, all of one day, are folded into one. */
const leastFolded = 4;

/** Lines in their order; those that are folded stand together. */
export function folded(entries: LogEntry[]): LogEntry[][] {
  const runs: LogEntry[][] = [];
  for (const entry of entries) {
    const run = runs.at(-1);
    const before = run?.at(-1);
    const goesOn =
      before?.kind === entry.kind &&
      entry.kind in byItself &&
      new Date(before.made).toDateString() === new Date(entry.made).toDateString();
    if (run && goesOn) run.push(entry);
    else runs.push([entry]);
  }
  return runs.flatMap((run) => (run.length < leastFolded ? run.map((entry) => [entry]) : [run]));
}
