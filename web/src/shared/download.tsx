import { useEffect, useState } from "react";
import { inWords } from "../api/errors";
import { Button } from "./controls";
import { save } from "./save";

const failed = new EventTarget();

/** Saves a file of the server. What goes wrong is said on the page that one is on, which stays. */
export async function download(path: string): Promise<void> {
  const say = (detail: string) => failed.dispatchEvent(new CustomEvent("failed", { detail }));
  say("");
  try {
    const response = await fetch(path);
    if (!response.ok) {
      const problem = (await response.json().catch(() => ({}))) as Parameters<typeof inWords>[0];
      return void say(inWords(problem) || "The file could not be made.");
    }
    const named = response.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1];
    save(await response.blob(), named ?? path.split("/").at(-1) ?? "");
  } catch {
    say("The server does not answer. Try again in a moment.");
  }
}

/** Says why a file was not saved. */
export function DownloadTrouble() {
  const [why, setWhy] = useState("");
  useEffect(() => {
    const hear = (event: Event) => setWhy((event as CustomEvent<string>).detail);
    failed.addEventListener("failed", hear);
    return () => failed.removeEventListener("failed", hear);
  }, []);
  if (!why) return null;
  return (
    <div
      role="alert"
      className="fixed right-4 bottom-4 left-4 z-50 flex items-center gap-4 border-2 border-stop bg-sheet px-4 py-2"
    >
      <p className="grow">The file was not saved. {why}</p>
      <Button onClick={() => setWhy("")}>Close</Button>
    </div>
  );
}
