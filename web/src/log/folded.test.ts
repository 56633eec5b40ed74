import { expect, it } from "vitest";
import type { LogEntry } from "../api/client";
import { folded } from "./folded";

const entry = (id: number, kind: string, made = "2026-03-01T10:00:00Z"): LogEntry => ({
  id,
  kind,
  made,
  revision: 1,
  text: "",
});

const shape = (entries: LogEntry[]) => folded(entries).map((run) => run.map((e) => e.id));

it("folds four lines and more that came by themselves on one day", () => {
  expect(shape([1, 2, 3, 4].map((n) => entry(n, "change")))).toEqual([[1, 2, 3, 4]]);
  expect(shape([1, 2, 3].map((n) => entry(n, "change")))).toEqual([[1], [2], [3]]);
  expect(shape([1, 2, 3, 4].map((n) => entry(n, "note")))).toEqual([[1], [2], [3], [4]]);
});

it("ends a fold where another kind or another day comes", () => {
  const day = ["2026-03-01T10:00:00Z", "2026-03-03T10:00:00Z"];
  expect(
    shape([
      ...[1, 2, 3, 4].map((n) => entry(n, "step", day[1])),
      ...[5, 6, 7, 8, 9].map((n) => entry(n, "step", day[0])),
      entry(10, "reading", day[0]),
      entry(11, "step", day[0]),
    ]),
  ).toEqual([[1, 2, 3, 4], [5, 6, 7, 8, 9], [10], [11]]);
});
