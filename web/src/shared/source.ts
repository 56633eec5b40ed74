import type { Program as Source } from "../api/client";

/** The name of the main file of a program in C++. */
export const main = "program.cpp";
type File = NonNullable<Source["files"]>[number];

/** A name that a file may have: of a text's own name, as far as it goes. */
export function nameOf(text: string): string {
  const [, stem = "", ending = ".h"] = text.toLowerCase().match(/^(.*?)(\.h|\.hpp|\.cpp|\.c)?$/) ?? [];
  const kept = stem.replace(/[^a-z0-9]+/g, "-").replace(/^[^a-z]+|-+$/g, "");
  return kept ? kept + (ending.startsWith(".h") ? ".h" : ".cpp") : "";
}

/** A program with a file more, or with one in place of what it was; without a text, without it. */
export function withFile(source: Source, name: string, text: string | undefined): Source {
  const files = source.files ?? [];
  const rest = files.filter((f) => f.name !== name);
  if (text === undefined) return { ...source, files: rest };
  return files.some((f) => f.name === name)
    ? { ...source, files: files.map((f): File => (f.name === name ? { name, text } : f)) }
    : { ...source, files: [...rest, { name, text }] };
}

/** By how much the lines of each further file are higher, as the server counts them. */
const lineStep = 100_000;

/** Which file and line a line number of a program stands for. */
export function placeOf(source: Source | undefined, line: number): { file: string; line: number } {
  const file = source?.files?.[Math.floor(line / lineStep) - 1];
  return file ? { file: file.name, line: line % lineStep } : { file: main, line };
}

/** A line number in words: "line 4", "line 4 of lamp.h". */
export function lineWords(source: Source | undefined, line: number): string {
  const place = placeOf(source, line);
  return place.file === main ? `line ${line}` : `line ${place.line} of ${place.file}`;
}

/** What stands in a line. */
export function lineOf(source: Source | undefined, line: number): string {
  const place = placeOf(source, line);
  const text = source?.files?.find((f) => f.name === place.file)?.text ?? source?.text ?? "";
  return text.split("\n")[place.line - 1]?.trim() ?? "";
}
