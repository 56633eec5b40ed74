import { expect, test } from "vitest";
import classic from "../../../core/catalogue/board/data/classic-5v.json";
import type { Profile } from "../api/client";
import { headerLines, pinLines, withPins } from "./profile-of";

const like = classic as unknown as Profile;

test("what is typed as it stands is the board that it began from", () => {
  const same = withPins(like, pinLines(like), headerLines(like));
  expect(same.pins.map((p) => p.name)).toEqual(like.pins.map((p) => p.name));
  expect(same.places).toEqual(like.places);
  expect(same.logic.groups).toEqual(like.logic.groups);
});

test("any names, with a number where the name does not say it", () => {
  const p = withPins(
    like,
    "PA1 = 14: digital-out, digital-in\nLED: digital-out, pwm-out",
    "left: PA1 GND\nright: LED 5V",
  );
  expect(p.pins[0]).toMatchObject({ name: "PA1", number: 14, functions: ["digital-out", "digital-in"] });
  expect(p.pins[1]?.number).toBeUndefined();
  expect(p.pins[1]?.pwm?.hertz).toBe(500);
  expect(p.logic.groups).toEqual([]);
});

test("places that stand on no header are gone, and what hung on pins that are gone", () => {
  const p = withPins(like, pinLines(like), "left: D0 D1 GND 5V\nright: RESET D2");
  expect(p.places?.map((place) => place.name)).toEqual(["RESET"]);
  expect(p.plugs).toBeUndefined();
  const fewer = withPins(like, "D3: digital-in", "one: D3");
  expect(fewer.program?.interrupts).toBeUndefined();
  expect(fewer.program?.ports).toBeUndefined();
});
