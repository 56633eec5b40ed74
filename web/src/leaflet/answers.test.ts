import { expect, test } from "vitest";
import { begin, leafletOf, notNumbers, number, ofSort, withLeg, withLegs } from "./answers";

test("numbers are read as people type them", () => {
  expect(number("3,3")).toBe(3.3);
  expect(number(" −40 ")).toBe(-40);
  expect(number("")).toBe(0);
  expect(notNumbers({ ...withLeg(begin(), 1, { most: "lots" }), from: "3V3" })).toEqual([
    "from",
    "legs[1].most",
  ]);
});

test("legs that are there stay when there are more or fewer", () => {
  const named = withLeg(begin(), 0, { name: "VCC" });
  const five = withLegs(named, 5);
  expect(five.legs.map((l) => l.is)).toEqual(["supply", "output", "ground", "free", "free"]);
  expect(withLegs(five, 3)).toEqual(named);
  expect(ofSort(named, "contact").legs.map((l) => l.is)).toEqual(["end", "end"]);
});

test("what is not an output says nothing of what it gives", () => {
  const sent = leafletOf(
    withLeg({ ...begin(), milliamps: "20" }, 1, { gives: "voltage", leastGives: "0,5" }),
  );
  expect(sent.amps).toBeCloseTo(0.02);
  expect(sent.legs[0]).toEqual({ name: "", is: "supply" });
  expect(sent.legs[1]).toMatchObject({ gives: "voltage", leastGives: 0.5 });
});
