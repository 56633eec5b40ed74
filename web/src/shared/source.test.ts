import { expect, test } from "vitest";
import { lineOf, lineWords, nameOf, placeOf, withFile } from "./source";

test("a file has a name of small letters, digits and hyphens, and ends in .h or .cpp", () => {
  for (const [said, name] of [
    ["lamp.h", "lamp.h"],
    ["Lamp Show.HPP", "lamp-show.h"],
    ["lamp", "lamp.h"],
    ["2nd_lamp.c", "nd-lamp.cpp"],
    ["../../x.cpp", "x.cpp"],
    ["größe.h", "gr-e.h"],
    ["---", ""],
    ["", ""],
  ] as const) {
    expect(nameOf(said)).toBe(name);
  }
});

test("a file is put in, changed where it stands, and taken out", () => {
  const source = { language: "cpp" as const, text: "", files: [{ name: "a.h", text: "1" }] };
  const two = withFile(source, "b.h", "2");
  expect(two.files?.map((f) => f.name)).toEqual(["a.h", "b.h"]);
  expect(withFile(two, "a.h", "3").files).toEqual([
    { name: "a.h", text: "3" },
    { name: "b.h", text: "2" },
  ]);
  expect(withFile(two, "a.h", undefined).files).toEqual([{ name: "b.h", text: "2" }]);
});

test("one number says the file and the line", () => {
  const source = { language: "cpp" as const, text: "a\n b\n", files: [{ name: "lamp.h", text: "c\nd" }] };
  expect(placeOf(source, 2)).toEqual({ file: "program.cpp", line: 2 });
  expect(placeOf(source, 100_002)).toEqual({ file: "lamp.h", line: 2 });
  expect(lineWords(source, 2)).toBe("line 2");
  expect(lineWords(source, 100_002)).toBe("line 2 of lamp.h");
  expect(lineOf(source, 2)).toBe("b");
  expect(lineOf(source, 100_002)).toBe("d");
  expect(lineOf(source, 9)).toBe("");
});
