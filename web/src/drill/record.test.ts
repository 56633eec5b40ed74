import { describe, expect, it } from "vitest";
import { score, skills } from "./record";

describe("skills", () => {
  it("puts first what wants practice, by the mean of what was spent", () => {
    const list = skills([
      { kind: "open", spent: 6, par: 2 },
      { kind: "open", spent: 2, par: 2 },
      { kind: "turned", spent: 1, par: 1 },
    ]);
    expect(list).toEqual([
      { kind: "open", times: 2, ratio: 2 },
      { kind: "turned", times: 1, ratio: 1 },
    ]);
  });
  it("is empty of nothing", () => expect(skills([])).toEqual([]));
});

describe("score", () => {
  it.each([
    [2, 2, 100],
    [4, 2, 50],
    [0, 0, 100],
    [1, 3, 100],
    [10, 1, 10],
  ])("%d spent of %d is %d", (spent, par, want) => expect(score(spent, par)).toBe(want));
});
