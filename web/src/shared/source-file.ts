import type { Program as Source } from "../api/client";
import { main } from "./source";

/** What the file of a program is called. */
export const fileName = (source: Source) => (source.language === "cpp" ? main : "program.py");
