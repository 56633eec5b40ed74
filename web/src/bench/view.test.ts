import { expect, test } from "vitest";
import { moved, shown, timeText, type View, zoomed } from "./view";

test("it shows what has come last, and never what was before the run", () => {
  expect(shown({ span: 5 }, 12)).toEqual({ from: 7, to: 12 });
  expect(shown({ span: 5 }, 2)).toEqual({ from: 0, to: 5 });
});

test("what is under the fingers stays there", () => {
  for (const view of [{ span: 5 }, { span: 5, end: 20 }, { span: 0.1, end: 3 }] as View[])
    for (const times of [0.01, 0.5, 2]) {
      const now = 40;
      const before = shown(view, now);
      const at = before.from + 0.3 * view.span;
      const next = zoomed(view, times, now, at);
      const after = shown(next, now);
      if (next.end === undefined || next.end === next.span) continue; // it comes to an end of the run
      expect((at - after.from) / next.span).toBeCloseTo(0.3, 6);
    }
});

test("it goes from microseconds to half a day, and no further", () => {
  expect(zoomed({ span: 1 }, 1e-12, 10).span).toBe(20e-6);
  expect(zoomed({ span: 1 }, 1e12, 10).span).toBe(43_200);
});

test("it goes back and comes to now again", () => {
  const back = moved({ span: 2 }, -3, 10);
  expect(shown(back, 10)).toEqual({ from: 5, to: 7 });
  expect(shown(back, 50)).toEqual({ from: 5, to: 7 });
  expect(moved(back, 3, 10)).toEqual({ span: 2 });
  expect(shown(moved(back, -100, 10), 10).from).toBe(0);
});

test("times are as fine as what is shown", () => {
  expect(timeText(1.23456789, 5)).toBe("1.23");
  expect(timeText(1.23456789, 60)).toBe("1.2");
  expect(timeText(1.23456789, 20e-6)).toBe("1.2345679");
});
