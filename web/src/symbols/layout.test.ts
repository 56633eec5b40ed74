import { describe, expect, it } from "vitest";
import sets from "../../../core/catalogue/part/data/sets.json";
import type { Hookup } from "../api/client";
import { branches } from "./layout";

const hookup = (set: keyof typeof sets.sets, id: string) => {
  const found = sets.sets[set].find((h) => h.id === id);
  if (!found) throw new Error(`no hookup ${id}`);
  return found as unknown as Hookup;
};

describe("branches", () => {
  it("has what belongs to a transistor's gate at its gate, one below the other", () => {
    expect(branches(hookup("load", "mosfet"))).toEqual([
      { role: "gate", at: 2.5, below: 0, to: "pin.drive" },
      { role: "pull-down", at: 2.5, below: 1, to: "board.ground" },
    ]);
  });

  it("has a pull between the pin and the contact", () => {
    expect(branches(hookup("contact", "ground-pull-up"))).toEqual([
      { role: "pull-up", at: 1, below: 0, to: "board.supply" },
    ]);
  });

  it("never puts two of a hookup in one place", () => {
    for (const list of Object.values(sets.sets))
      for (const h of list) {
        const places = branches(h as unknown as Hookup).map((b) => `${b.at}/${b.below}`);
        expect(new Set(places).size).toBe(places.length);
      }
  });
});
