import type { components } from "../generated/api";

export type Item = components["schemas"]["Item"];

/** A part whose value was measured, and what is printed on it, where that is known. */
export interface MeasuredPart {
  kind: string;
  type?: string;
  /** The id of the value. */
  of: string;
  value: number;
  printed?: number;
}

/** How near two numbers are that stand for the same value. */
const same = (a: number | undefined, b: number) => a !== undefined && Math.abs(a / b - 1) < 1e-6;

/**
 * The drawer with a part that was measured: one more piece of that value, and one less of those that
 * nobody has measured.
 */
export function withMeasured(items: readonly Item[], part: MeasuredPart): Item[] {
  const alike = (item: Item) => item.kind === part.kind && (item.type ?? "") === (part.type ?? "");
  const out = items.map((item) => ({ ...item }));
  const { printed } = part;
  const pile =
    printed === undefined
      ? undefined
      : out.find((i) => alike(i) && !i.measured && i.pieces > 0 && same(i.values?.[part.of], printed));
  if (pile) pile.pieces -= 1;
  const there = out.find((i) => alike(i) && i.measured && same(i.values?.[part.of], part.value));
  if (there) there.pieces += 1;
  else
    out.push({
      kind: part.kind,
      type: part.type || undefined,
      values: { [part.of]: part.value },
      pieces: 1,
      measured: true,
    });
  return out.filter((item) => item !== pile || item.pieces > 0);
}
