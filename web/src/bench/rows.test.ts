import { describe, expect, it } from "vitest";
import { apart, at, bars, extent, seenAt, steps, within } from "./rows";

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

describe("a row as it is drawn", () => {
  const x = (time: number) => time * 1000;
  const y = (value: number) => 10 - value;
  it("begins with what holds, and ends with what is known", () => {
    const pin = row([
      [0, 0],
      [1, 5],
      [2, 0],
      [3, 5],
    ]);
    expect(within(pin, 1.5, 2.5).map((c) => c.at)).toEqual([1, 2]);
    expect(within(pin, -1, 0.5).map((c) => c.at)).toEqual([0]);
    expect(within(row([]), 0, 1)).toEqual([]);
  });
  it("goes in steps, and is a stroke where more happens than can be seen", () => {
    const drawn = (of: ReturnType<typeof row>) => {
      const path: string[] = [];
      const pen = {
        moveTo: (x: number, y: number) => path.push(`M${x} ${y}`),
        lineTo: (x: number, y: number) => path.push(`${x} ${y}`),
      };
      steps(of.changes, 1, x, y, pen);
      return path;
    };
    expect(
      drawn(
        row([
          [0, 0],
          [0.5, 5],
        ]),
      ),
    ).toEqual(["M0 10", "0 10", "500 10", "500 5", "1000 5"]);
    const dense = drawn(
      row(Array.from({ length: 100_000 }, (_, i): [number, number] => [i / 100_000, (i % 2) * 7])),
    );
    expect(dense.length).toBeLessThan(4 * 700);
    expect(dense.slice(1, 3)).toEqual(["0 10", "0 3"]);
    expect(drawn(row([]))).toEqual([]);
  });
  it("is as bright as it is on average where it changes faster than that", () => {
    const lamp = row(
      Array.from({ length: 100_000 }, (_, i): [number, number] => [i / 100_000, i % 4 ? 0 : 100]),
    );
    const drawn = bars(lamp.changes, 1, x, (c) => c.value);
    expect(drawn.length).toBeLessThan(700);
    for (const bar of drawn.slice(0, -1)) expect(bar.level).toBeCloseTo(25, -1);
    expect(
      bars(
        row([
          [0, 1],
          [0.4, 0],
        ]).changes,
        1,
        x,
        (c) => c.value,
      ),
    ).toEqual([
      { from: 0, to: 0.4, level: 1 },
      { from: 0.4, to: 1, level: 0 },
    ]);
  });
  it("knows its least and most as it grows", () => {
    const pin = row([[0, 3]]);
    expect(extent(pin)).toMatchObject({ least: 3, most: 3 });
    pin.changes.push({ at: 1, value: -2, text: "" });
    expect(extent(pin)).toMatchObject({ least: -2, most: 3 });
  });
});
