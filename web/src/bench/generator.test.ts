import { expect, test } from "vitest";
import { wrong } from "./generator";

const lux = { least: 0.12345, most: 10_000, unit: "lx" };

test("a generator says what would be right", () => {
  expect(wrong(lux, true, "6", "50", "0.123", "200")).toBeUndefined();
  expect(wrong(lux, true, "0,5", "20", "10", "200")).toBeUndefined();
  expect(wrong(lux, false, "6", "50", "", "")).toBeUndefined();
  expect(wrong(lux, true, "often", "50", "1", "2")).toContain("rate");
  expect(wrong(lux, true, "", "50", "1", "2")).toContain("rate");
  expect(wrong(lux, true, "20000", "50", "1", "2")).toContain("10,000 Hz");
  expect(wrong(lux, true, "6", "100", "1", "2")).toContain("less than 100 %");
  expect(wrong(lux, true, "6", "50", "2", "1")).toContain("the lower one first");
  expect(wrong(lux, true, "6", "50", "0.1", "20")).toContain("from 0.123 to 10000 lx");
});
