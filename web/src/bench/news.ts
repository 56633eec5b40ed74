import type { BenchNews, Recording } from "../api/client";

type Row = Recording["rows"][number];

/** How many changes of a row are kept in full; of what is older every second pair goes. */
const most = 6000;
/** How long what was seen is kept in any case, in seconds; older things go where a row has too many. */
export const kept = 300;
const mostSaid = 2000;

const same = (a: Row) => (b: Row) => a.kind === b.kind && a.of === b.of && a.name === b.name;

/** Puts news to what is known of a run, in place. What is old, or too much, is thinned out. */
export function add(recording: Recording, news: BenchNews): void {
  recording.ended = news.at;
  recording.how = news.how ?? "";
  recording.why = news.why;
  recording.line = news.line;
  recording.cut ||= news.cut ?? false;
  const rows = news.rows ?? [];
  if (news.all) {
    recording.rows = rows.map((row) => recording.rows.find(same(row)) ?? { ...row, changes: [] });
  }
  for (const row of rows) {
    const known = recording.rows.find(same(row));
    if (!known) continue;
    for (const change of row.changes) known.changes.push(change);
    if (row.looks) known.looks = row.looks;
    thin(known, news.at - kept);
  }
  recording.serial.push(...(news.serial ?? []));
  if (recording.serial.length > 2 * mostSaid) recording.serial.splice(0, recording.serial.length - mostSaid);
  recording.actions.push(...(news.actions ?? []));
  if (news.stress) recording.stress = news.stress;
}

/** What a row is at a time stays, so the change before the oldest that is kept does, too. */
function thin(row: Row, oldest: number) {
  if (row.changes.length <= most) return;
  let first = 0;
  while (first + 1 < row.changes.length && (row.changes[first + 1]?.at ?? 0) <= oldest) first++;
  const half = first + 4 * Math.floor((row.changes.length - first) / 8);
  row.changes = row.changes.filter((_, i) => i >= first && (i >= half || (i - first) % 4 < 2));
}
