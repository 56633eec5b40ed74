import type { Program as Source } from "../api/client";
import { main } from "./source";

/** What the file of a program is called. */
export const fileName = (source: Source) => (source.language === "cpp" ? main : "program.py");

/** Saves a text as a file on this computer. */
export function saveText(text: string, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "text/plain" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
