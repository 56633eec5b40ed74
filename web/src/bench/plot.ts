import type { Recording } from "../api/client";

/** One series of numbers that a program prints: by its name, or by its place in the line. */
export interface Series {
  name: string;
  points: { at: number; value: number }[];
}

const most = 6;

/**
 * The numbers in what was printed, line by line: "warmth 412 light 87", "12.5, 13", "t: 21". A word
 * before a number names it; numbers without one are told apart by their place. Lines without a
 * number say nothing, and a line that is not ended is not read yet.
 */
export function series(said: Recording["serial"]): Series[] {
  const by = new Map<string, Series>();
  let line = "";
  for (const s of said) {
    const parts = (line + s.text.replaceAll("\r", "")).split("\n");
    line = parts.pop() ?? "";
    for (const part of parts) {
      let place = 0;
      for (const found of part.matchAll(/(?:([\p{L}][\p{L} _-]*)[:=]?\s*)?(-?\d+(?:\.\d+)?)/gu)) {
        place++;
        const name = found[1]?.trim() || String(place);
        const value = Number(found[2]);
        const known = by.get(name);
        if (known) known.points.push({ at: s.at, value });
        else if (by.size < most) by.set(name, { name, points: [{ at: s.at, value }] });
      }
    }
  }
  return [...by.values()].filter((s) => s.points.length > 1);
}

/** The path of a series in a box, time to the right from one time to another. */
export function path(s: Series, from: number, to: number, width: number, height: number): string {
  const inside = s.points.filter((p) => p.at >= from && p.at <= to);
  const values = inside.map((p) => p.value);
  const least = Math.min(...values);
  const span = Math.max(...values) - least;
  return inside
    .map((p, i) => {
      const x = (width * (p.at - from)) / (to - from || 1);
      const y = span > 0 ? height - (height * (p.value - least)) / span : height / 2;
      return `${i === 0 ? "M" : "L"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
}
