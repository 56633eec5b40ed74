import type { Recording } from "../api/client";

type Row = Recording["rows"][number];

/** What a row is at a time: the last change before it. */
export function at(row: Row, time: number): Row["changes"][number] | undefined {
  let low = 0;
  let high = row.changes.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((row.changes[middle]?.at ?? 0) <= time) low = middle + 1;
    else high = middle;
  }
  return row.changes[low - 1];
}

/** How bright a lamp looks at a time: what the eye averages over a twentieth of a second. */
export function seenAt(row: Row, time: number): number {
  const eye = 0.05;
  const from = Math.max(0, time - eye);
  let light = 0;
  let t = from;
  const share = (lightness: number) => (lightness > 8 ? ((lightness + 16) / 116) ** 3 : lightness / 903.3);
  let value = at(row, from)?.value ?? 0;
  for (const change of row.changes) {
    if (change.at <= from) continue;
    if (change.at > time) break;
    light += (change.at - t) * share(value);
    t = change.at;
    value = change.value;
  }
  light += (time - t) * share(value);
  const mean = light / Math.max(time - from, 1e-9);
  return mean > 216 / 24389 ? 116 * Math.cbrt(mean) - 16 : (mean * 24389) / 27;
}

/** How far two times are apart, and how often a second that is. */
export function apart(a: number, b: number): string {
  const seconds = Math.abs(b - a);
  const [of, unit] = seconds < 1e-3 ? [1e6, "µs"] : seconds < 1 ? [1e3, "ms"] : [1, "s"];
  const often = seconds > 0 ? ` (${Number((1 / seconds).toPrecision(3))} Hz)` : "";
  return `${Number((seconds * of).toPrecision(3))} ${unit} from the tap before${often}`;
}
