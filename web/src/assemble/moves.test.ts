import { describe, expect, it } from "vitest";
import { movesOf } from "./moves";

const leg = (terminal: string, end: string) => ({ terminal, end, name: terminal, planned: end });

describe("what a part may be, other than in its place", () => {
  it("is turned, moved, or out", () => {
    const moves = movesOf([leg("led1.anode", "e14"), leg("led1.cathode", "e15")]);
    expect(moves.map((m) => m.words)).toEqual([
      "turned round",
      "one row down",
      "one row up",
      "not plugged in",
    ]);
    expect(moves[0]?.edits).toEqual([
      { op: "built-leg", terminal: "led1.anode", text: "e15" },
      { op: "built-leg", terminal: "led1.cathode", text: "e14" },
    ]);
    expect(moves[1]?.edits.map((e) => "text" in e && e.text)).toEqual(["e15", "e16"]);
    expect(moves[3]?.edits.map((e) => "text" in e && e.text)).toEqual(["", ""]);
  });
  it("does not leave the breadboard, nor move a leg in a rail", () => {
    expect(movesOf([leg("r.1", "a1"), leg("r.2", "a5")]).map((m) => m.words)).not.toContain("one row up");
    expect(movesOf([leg("r.1", "L+3"), leg("r.2", "a5")]).map((m) => m.words)).toEqual([
      "turned round",
      "not plugged in",
    ]);
  });
  it("has nothing to say of a part that is out", () => {
    expect(movesOf([leg("r.1", ""), leg("r.2", "")])).toEqual([]);
  });
});
