import type { Recording } from "../api/client";
import { shines } from "../symbols/symbols";
import { lightnessOf, lightOf, seenAt } from "./rows";

type Row = Recording["rows"][number];

/** What the eye sees of a lens: its colour as the screen takes it, and how light it is, 0 to 100. */
export interface Glow {
  colour: string;
  lightness: number;
}

/** A channel of sRGB as light, 0 to 1, and back: IEC 61966-2-1. */
const light = (channel: number) =>
  channel <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4;
const channel = (part: number) => (part <= 0.0031308 ? part * 12.92 : 1.055 * part ** (1 / 2.4) - 0.055);

/** Lamps in one lens: their light adds up. What the eye does not see adds nothing. */
export function mixed(lamps: { lightness: number; ink: string }[]): Glow {
  const sum = [0, 0, 0];
  let all = 0;
  for (const { lightness, ink } of lamps) {
    const colour = shines[ink];
    if (!colour) continue;
    const part = lightOf(lightness);
    all += part;
    for (const i of [0, 1, 2]) {
      const of = light(Number.parseInt(colour.slice(1 + 2 * i, 3 + 2 * i), 16) / 255);
      sum[i] = (sum[i] ?? 0) + part * of;
    }
  }
  const most = Math.max(...sum);
  if (most === 0) return { colour: "transparent", lightness: 0 };
  const hex = sum.map((part) =>
    Math.round(255 * channel(part / most))
      .toString(16)
      .padStart(2, "0"),
  );
  return { colour: `#${hex.join("")}`, lightness: Math.min(100, lightnessOf(all)) };
}

/** What the eye sees of the lens over some rows at a time. */
export function glowAt(rows: Row[], time: number): Glow {
  return mixed(rows.map((row) => ({ lightness: seenAt(row, time), ink: row.ink ?? "" })));
}
