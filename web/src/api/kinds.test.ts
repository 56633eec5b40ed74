import { expect, test } from "vitest";
import type { Kind, Library } from "./client";
import { isOwn, withOwn } from "./kinds";

const kind = (id: string, name: string) => ({ id, name }) as Kind;
const library = { catalogue: { kinds: [kind("led", "LED"), kind("own-rain", "rain module")] } } as Library;

test("a build's own kinds are as they were when it got them", () => {
  const { kinds } = withOwn(library, [
    kind("own-rain", "rain module of spring"),
    kind("own-wind", "wind vane"),
  ]).catalogue;
  expect(kinds.map((k) => k.name)).toEqual(["LED", "rain module of spring", "wind vane"]);
  expect(kinds.filter(isOwn).map((k) => k.id)).toEqual(["own-rain", "own-wind"]);
  expect(library.catalogue.kinds[1]?.name).toBe("rain module");
});

test("a build without kinds of its own has the library's", () => {
  expect(withOwn(library, undefined)).toBe(library);
  expect(withOwn(library, [])).toBe(library);
});
