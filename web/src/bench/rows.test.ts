import { describe, expect, it } from "vitest";
import { apart, at, seenAt } from "./rows";

const row = (changes: [number, number][]) => ({
  kind: "lamp" as const,
  of: "led1",
  name: "lamp",
  changes: changes.map(([time, value]) => ({ at: time, value, text: "" })),
});

describe("a row at a time", () => {
  it("is what it changed to last", () => {
    const lamp = row([
      [0, 0],
      [1, 80],
      [2, 10],
    ]);
    expect(at(lamp, 0.5)?.value).toBe(0);
    expect(at(lamp, 1)?.value).toBe(80);
    expect(at(lamp, 9)?.value).toBe(10);
    expect(at(row([]), 1)).toBeUndefined();
  });
  it("looks as what it was in the last twentieth of a second", () => {
    expect(seenAt(row([[0, 60]]), 1)).toBeCloseTo(60, 1);
    // Half of the time fully lit looks three quarters as bright (CIE 1976).
    const flicker = row(
      Array.from({ length: 2001 }, (_, i): [number, number] => [i / 1000, i % 2 ? 100 : 0]),
    );
    expect(seenAt(flicker, 1.9)).toBeCloseTo(76, 0);
  });
});

it("says how far two taps are apart", () => {
  expect(apart(1, 1.5)).toBe("500 ms from the tap before (2 Hz)");
  expect(apart(2, 1.9999)).toBe("100 µs from the tap before (10000 Hz)");
  expect(apart(3, 1)).toBe("2 s from the tap before (0.5 Hz)");
  expect(apart(1, 1)).toBe("0 µs from the tap before");
});
