import { beforeEach, expect, test, vi } from "vitest";
import { readKept, writeKept } from "./kept";

/** A storage as a browser has one; it may be full. */
function storage(most = Number.POSITIVE_INFINITY) {
  const all = new Map<string, string>();
  return {
    all,
    getItem: (key: string) => all.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (all.size >= most && !all.has(key)) throw new Error("QuotaExceededError");
      all.set(key, value);
    },
    removeItem: (key: string) => void all.delete(key),
  };
}

beforeEach(() => vi.unstubAllGlobals());

test("what is kept is there again, whatever letters it has, and each name by itself", () => {
  vi.stubGlobal("window", { localStorage: storage() });
  for (const text of ["half a word", "", "\u0000\n“é😀”", "undefined", "null", "a".repeat(10_000)]) {
    writeKept("note.1", text);
    writeKept("note.2", "other");
    expect(readKept("note.1")).toBe(text);
    expect(readKept("note.2")).toBe("other");
  }
  writeKept("view", false);
  expect(readKept("view")).toBe(false);
});

test("what is nothing takes no place", () => {
  const kept = storage();
  vi.stubGlobal("window", { localStorage: kept });
  writeKept("note", "x");
  writeKept("note", undefined);
  expect(readKept("note")).toBeUndefined();
  expect(kept.all.size).toBe(0);
});

test("a storage that is full, shut or holds nonsense loses nothing but what it keeps", () => {
  vi.stubGlobal("window", { localStorage: storage(0) });
  expect(() => writeKept("note", "x")).not.toThrow();
  expect(readKept("note")).toBeUndefined();
  vi.stubGlobal("window", {
    get localStorage() {
      throw new Error("SecurityError");
    },
  });
  expect(() => writeKept("note", "x")).not.toThrow();
  expect(readKept("note")).toBeUndefined();
  const broken = storage();
  vi.stubGlobal("window", { localStorage: broken });
  writeKept("note", "x");
  for (const key of broken.all.keys()) broken.all.set(key, "{half");
  expect(readKept("note")).toBeUndefined();
});
