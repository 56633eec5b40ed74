import { expect, test } from "vitest";
import { shines } from "../symbols/symbols";
import { mixed } from "./glow";

test("one lamp alone is of its own colour, and as light as it is", () => {
  for (const ink of ["red", "green", "blue", "white", "amber", "yellow"]) {
    const seen = mixed([{ lightness: 40, ink }]);
    expect(seen.lightness).toBeCloseTo(40, 6);
    // Its strongest channel is full, and the others stand to it as they did.
    const part = (hex: string, i: number) => Number.parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16);
    const of = shines[ink] ?? "";
    const order = (hex: string) => [0, 1, 2].sort((a, b) => part(hex, b) - part(hex, a));
    expect(order(seen.colour)[0]).toBe(order(of)[0]);
    expect(Math.max(...[0, 1, 2].map((i) => part(seen.colour, i)))).toBe(255);
  }
});

test("light adds up: two lamps are lighter than either, and no mix is darker for one more", () => {
  for (let a = 0; a <= 100; a += 20) {
    for (let b = 0; b <= 100; b += 20) {
      const both = mixed([
        { lightness: a, ink: "red" },
        { lightness: b, ink: "blue" },
      ]).lightness;
      expect(both).toBeGreaterThanOrEqual(Math.max(a, b) - 1e-9);
      expect(both).toBeLessThanOrEqual(100);
    }
  }
});

test("red and green make yellow, and all three nearly white", () => {
  const rgb = (colour: string) => [1, 3, 5].map((i) => Number.parseInt(colour.slice(i, i + 2), 16));
  const [r = 0, g = 0, b = 0] = rgb(
    mixed([
      { lightness: 60, ink: "red" },
      { lightness: 60, ink: "green" },
    ]).colour,
  );
  expect(Math.min(r, g)).toBeGreaterThan(1.5 * b);
  const white = rgb(mixed(["red", "green", "blue"].map((ink) => ({ lightness: 80, ink }))).colour);
  expect(Math.min(...white)).toBeGreaterThan(170);
});

test("what is dark or not seen has no colour", () => {
  expect(mixed([])).toEqual({ colour: "transparent", lightness: 0 });
  expect(mixed([{ lightness: 0, ink: "red" }]).lightness).toBe(0);
  expect(mixed([{ lightness: 90, ink: "infrared" }])).toEqual({ colour: "transparent", lightness: 0 });
});
