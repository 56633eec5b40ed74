import type { Recording } from "../api/client";

type Row = Recording["rows"][number];

/** How many changes of a row are no later than a time. */
function until(row: Row, time: number): number {
  let low = 0;
  let high = row.changes.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((row.changes[middle]?.at ?? 0) <= time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** What a row is at a time: the last change before it. */
export function at(row: Row, time: number): Row["changes"][number] | undefined {
  return row.changes[until(row, time) - 1];
}

/** What a row is from one time to another, the change that holds at the beginning first. */
export function within(row: Row, from: number, to: number): Row["changes"] {
  const first = Math.max(0, until(row, from) - 1);
  return row.changes.slice(first, Math.max(first, until(row, to)));
}

/** The least and the most that each row was so far, and how many of its changes that is of. */
const extents = new WeakMap<Row, { changes: number; least: number; most: number }>();

/** The least and the most that a row was; rows only grow, but for what is thinned out. */
export function extent(row: Row): { least: number; most: number } {
  const known = extents.get(row) ?? {
    changes: 0,
    least: Number.POSITIVE_INFINITY,
    most: Number.NEGATIVE_INFINITY,
  };
  if (known.changes > row.changes.length) known.changes = 0;
  for (; known.changes < row.changes.length; known.changes++) {
    const value = row.changes[known.changes]?.value ?? 0;
    known.least = Math.min(known.least, value);
    known.most = Math.max(known.most, value);
  }
  extents.set(row, known);
  return known;
}

/** A stretch of time with one level: the average, where several are too short to be seen. */
export interface Bar {
  from: number;
  to: number;
  level: number;
}

/** The least that is told apart across. */
const place = 1.5;

/** What changes are over time, up to its end, by how far across a time lies. */
export function bars(
  changes: Row["changes"],
  end: number,
  x: (time: number) => number,
  level: (change: Row["changes"][number]) => number,
): Bar[] {
  const out: Bar[] = [];
  for (let i = 0; i < changes.length; ) {
    const from = (changes[i] as Row["changes"][number]).at;
    let to = from;
    let sum = 0;
    do {
      const next = changes[i + 1]?.at ?? end;
      sum += (next - to) * level(changes[i] as Row["changes"][number]);
      to = next;
      i++;
    } while (i < changes.length && x(to) < x(from) + place);
    const mean = to > from ? sum / (to - from) : 0;
    const before = out.at(-1);
    if (before && before.level === mean) before.to = to;
    else out.push({ from, to, level: mean });
  }
  return out;
}

/** What draws a line. */
export interface Pen {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
}

/**
 * Draws changes as steps up to their end, by where a time lies across and a value down. What happens
 * in less than a place that can be seen is a stroke from its least to its most.
 */
export function steps(
  changes: Row["changes"],
  end: number,
  x: (time: number) => number,
  y: (value: number) => number,
  pen: Pen,
): void {
  let down = 0;
  for (let i = 0; i < changes.length; ) {
    const first = changes[i] as Row["changes"][number];
    const across = x(first.at);
    if (i === 0) pen.moveTo(across, y(first.value));
    else pen.lineTo(across, down);
    let last = first;
    let least = first.value;
    let most = first.value;
    let n = 0;
    for (; i < changes.length; i++, n++) {
      const next = changes[i] as Row["changes"][number];
      if (n > 0 && x(next.at) >= across + place) break;
      last = next;
      least = Math.min(least, next.value);
      most = Math.max(most, next.value);
    }
    if (n > 2) {
      pen.lineTo(across, y(least));
      pen.lineTo(across, y(most));
    }
    down = y(last.value);
    pen.lineTo(across, down);
  }
  if (changes.length > 0) pen.lineTo(x(end), down);
}

/** The part of full light that a lightness is, 0 to 100, and back: CIE 1976 L*. */
export const lightOf = (lightness: number) =>
  lightness > 8 ? ((lightness + 16) / 116) ** 3 : lightness / 903.3;
export const lightnessOf = (light: number) =>
  light > 216 / 24389 ? 116 * Math.cbrt(light) - 16 : (light * 24389) / 27;

/** How bright a lamp looks at a time: what the eye averages over a twentieth of a second. */
export function seenAt(row: Row, time: number): number {
  const eye = 0.05;
  const from = Math.max(0, time - eye);
  let light = 0;
  let t = from;
  let value = at(row, from)?.value ?? 0;
  for (const change of within(row, from, time)) {
    if (change.at <= from) continue;
    light += (change.at - t) * lightOf(value);
    t = change.at;
    value = change.value;
  }
  light += (time - t) * lightOf(value);
  return lightnessOf(light / Math.max(time - from, 1e-9));
}

/** How far two times are apart, and how often a second that is. */
export function apart(a: number, b: number): string {
  const seconds = Math.abs(b - a);
  const [of, unit] = seconds < 1e-3 ? [1e6, "µs"] : seconds < 1 ? [1e3, "ms"] : [1, "s"];
  const often = seconds > 0 ? ` (${Number((1 / seconds).toPrecision(3))} Hz)` : "";
  return `${Number((seconds * of).toPrecision(3))} ${unit} from the tap before${often}`;
}
