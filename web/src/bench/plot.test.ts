import { describe, expect, it } from "vitest";
import { path, series } from "./plot";

const said = (...lines: string[]) => lines.map((text, i) => ({ at: i, text, line: 1 }));

describe("series", () => {
  it("names numbers by the word before them", () => {
    expect(series(said("warmth 412 light: 87\n", "warmth 415 light: 90\n"))).toEqual([
      {
        name: "warmth",
        points: [
          { at: 0, value: 412 },
          { at: 1, value: 415 },
        ],
      },
      {
        name: "light",
        points: [
          { at: 0, value: 87 },
          { at: 1, value: 90 },
        ],
      },
    ]);
  });
  it("tells numbers without a name apart by their place", () => {
    expect(series(said("12.5, -13\n", "12.6, -14\n")).map((s) => [s.name, s.points[1]?.value])).toEqual([
      ["1", 12.6],
      ["2", -14],
    ]);
  });
  it("reads a line when it is ended, in however many pieces it comes", () => {
    expect(series(said("2", "1", "\r\n2", "2\r\n3")).at(0)?.points).toEqual([
      { at: 2, value: 21 },
      { at: 3, value: 22 },
    ]);
  });
  it("says nothing of text, and of a single number", () => {
    expect(series(said("ready\n", "go\n", "7\n"))).toEqual([]);
  });
});

describe("path", () => {
  it("fills the box from the least to the most", () => {
    const [s] = series(said("0\n", "10\n", "5\n"));
    expect(s && path(s, 0, 2, 100, 20)).toBe("M0.0 20.0L50.0 0.0L100.0 10.0");
  });
});
