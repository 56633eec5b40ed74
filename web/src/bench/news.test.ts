import { expect, test } from "vitest";
import type { BenchNews, Recording } from "../api/client";
import { add, kept } from "./news";
import { at } from "./rows";

const blank = () =>
  ({ rows: [], serial: [], actions: [], stress: [], how: "", ended: 0, cut: false }) as unknown as Recording;

const change = (time: number, value: number) => ({ at: time, value, text: String(value) });

test("news is put to what is known, in the order of the rows that it has", () => {
  const r = blank();
  add(r, {
    at: 1,
    all: true,
    rows: [{ kind: "pin", of: "D4", name: "D4", changes: [change(0, 0)] }],
  } as BenchNews);
  add(r, {
    at: 2,
    all: true,
    rows: [
      { kind: "hand", of: "b", name: "bell", changes: [change(1.5, 1)] },
      { kind: "pin", of: "D4", name: "D4", changes: [change(1.6, 1)] },
    ],
    serial: [{ at: 1.7, text: "hello", line: 3 }],
  } as BenchNews);
  expect(r.rows.map((row) => [row.name, row.changes.length])).toEqual([
    ["bell", 1],
    ["D4", 2],
  ]);
  expect(r.serial.map((s) => s.text)).toEqual(["hello"]);
  expect(r.ended).toBe(2);
  add(r, { at: 3, rows: [{ kind: "pin", of: "D9", name: "D9", changes: [change(2, 1)] }] } as BenchNews);
  expect(r.rows).toHaveLength(2); // a row that was not announced is nobody's
});

test("however much happens, a row stays bounded, is what it was at the times that are kept, and ends as it is", () => {
  const r = blank();
  add(r, { at: 0, all: true, rows: [{ kind: "pin", of: "D4", name: "D4", changes: [] }] } as BenchNews);
  let time = 0;
  for (let turn = 0; turn < 400; turn++) {
    const changes = Array.from({ length: 100 }, () => {
      time += 0.05;
      return change(time, Math.round(time / 0.05) % 2);
    });
    add(r, { at: time, rows: [{ kind: "pin", of: "D4", name: "D4", changes }] } as BenchNews);
  }
  const row = r.rows[0];
  if (!row) throw new Error("the row is gone");
  expect(row.changes.length).toBeLessThanOrEqual(6000);
  expect(row.changes.every((c, i) => i === 0 || c.at > (row.changes[i - 1]?.at ?? 0))).toBe(true);
  expect(row.changes.at(-1)?.at).toBeCloseTo(time, 9);
  // The newest half is whole.
  for (let t = time - kept / 4; t < time; t += 0.05) expect(at(row, t + 0.01)?.at).toBeGreaterThan(t - 0.06);
});
