import { expect, test } from "vitest";

/**
 * The folders from the bottom up. A file may import from its own folder and from those before
 * it; screens know nothing of each other.
 */
const order = ["generated", "api", "session", "shared", "symbols", "map", "leaflet", "screens", "build"];
const screens = [
  ...["plan", "assemble", "meter", "program", "bench", "diagnose", "link", "log"],
  ...["builds", "boards", "parts", "drawer", "drill"],
];

const texts = import.meta.glob("./**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });

const rank = (folder: string) => order.indexOf(screens.includes(folder) ? "screens" : folder);

test("folders lean on each other one way", () => {
  const wrong: string[] = [];
  for (const [path, text] of Object.entries(texts)) {
    const own = path.split("/")[1] ?? "";
    if (!path.slice(2).includes("/")) continue; // the page itself
    expect(rank(own), `${path} is in a folder of the order`).toBeGreaterThanOrEqual(0);
    for (const [, other = ""] of String(text).matchAll(/from "\.\.\/([a-z]+)\//g)) {
      const below = rank(other) >= 0 && rank(other) < rank(own);
      if (other !== own && !below) wrong.push(`${path} imports from ${other}`);
    }
  }
  expect(Object.keys(texts).length).toBeGreaterThan(50);
  expect(wrong).toEqual([]);
});
