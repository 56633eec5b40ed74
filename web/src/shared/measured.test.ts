import { expect, it } from "vitest";
import { type Item, withMeasured } from "./measured";

const pile: Item = { id: "a", kind: "resistor", values: { resistance: 220 }, pieces: 2 };
const part = { kind: "resistor", of: "resistance", value: 218.4, printed: 220 };

it("takes a measured piece from those that nobody has measured", () => {
  const once = withMeasured([pile], part);
  expect(once).toEqual([
    { ...pile, pieces: 1 },
    { kind: "resistor", values: { resistance: 218.4 }, pieces: 1, measured: true },
  ]);
  expect(withMeasured(once, part)).toEqual([
    { kind: "resistor", values: { resistance: 218.4 }, pieces: 2, measured: true },
  ]);
  expect(pile.pieces).toBe(2);
});

it("takes nothing away that is something else", () => {
  const others: Item[] = [
    { ...pile, values: { resistance: 2200 } },
    { ...pile, measured: true },
    { ...pile, kind: "led" },
    { ...pile, type: "film" },
    { ...pile, pieces: 0 },
  ];
  const got = withMeasured(others, part);
  expect(got.slice(0, 5)).toEqual(others);
  expect(got).toHaveLength(6);
  expect(withMeasured([pile], { ...part, printed: undefined })[0]).toEqual(pile);
});
