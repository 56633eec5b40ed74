import { useRef, useState } from "react";
import type { Problem, Recording } from "../api/client";
import { inWords } from "../api/errors";
import { FileInput } from "../shared/file-button";
import { Menu, MenuItem } from "../shared/menu";
import { save } from "../shared/save";
import { type Bench, none } from "./run";

const formats = [
  ["svg", "as a drawing (SVG)"],
  ["vcd", "as a value change dump (VCD)"],
  ["csv", "as a table (CSV)"],
  ["json", "as a recording (JSON)"],
  ["txt", "what hands did, as a script"],
] as const;

/**
 * The run that is shown, as a file: it is run again, so that nothing of it is left out. And what
 * hands did in another, from a script or a recording, done again.
 */
export function RunFiles({ id, run, recording }: { id: string; run: Bench; recording: Recording }) {
  const { built, session, program } = run;
  const [failed, setFailed] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const saveAs = async (format: string) => {
    setFailed("");
    try {
      const made = await fetched(id, recording, { built, program }, format);
      save(made, `run.${format}`);
    } catch (problem) {
      setFailed(problem instanceof Error ? problem.message : away);
    }
  };
  const take = async (file: File) => {
    setFailed("");
    const text = await file.text();
    if (!text.trimStart().startsWith("{")) return run.replayScript(text);
    try {
      const made = JSON.parse(text) as Partial<Recording>;
      if (!Array.isArray(made.actions)) throw new Error("no actions");
      run.replay(made.actions, made.seed ?? 1);
    } catch {
      setFailed(
        "This is no recording. What comes from \u201CRun files\u201D as a recording or a script is taken.",
      );
    }
  };
  return (
    <>
      <Menu label="Run files">
        {formats.map(([format, name]) => (
          <MenuItem key={format} onSelect={() => void saveAs(format)}>
            {name}
          </MenuItem>
        ))}
        <MenuItem onSelect={() => input.current?.click()}>do again what a file says…</MenuItem>
        <MenuItem onSelect={() => window.open(`?session=${session}`, "_blank", "noopener")}>
          in another window, as it goes
        </MenuItem>
      </Menu>
      <FileInput
        input={input}
        spoken="A recording or a script"
        accept=".json,.txt,application/json,text/plain"
        onFile={(file) => void take(file)}
      />
      {failed && (
        <p role="alert" className="w-full">
          {failed}
        </p>
      )}
    </>
  );
}

const away = "The server does not answer. Try again in a moment.";

async function fetched(
  id: string,
  recording: Recording,
  { built, program }: { built: boolean; program: string },
  format: string,
): Promise<Blob> {
  const response = await fetch(`/api/builds/${encodeURIComponent(id)}/run`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({
      actions: recording.actions,
      seconds: recording.ended,
      seed: recording.seed,
      built,
      bare: program === none,
      program: program === none ? undefined : program,
      probes: recording.rows
        .filter((r) => r.kind === "volts")
        .map((r) => r.of.split(","))
        .map(([at, against]) => ({ at, against })),
      format: format === "json" ? undefined : format,
    }),
  });
  if (!response.ok) {
    const problem = (await response.json()) as Partial<Problem>;
    throw new Error(inWords(problem) || away);
  }
  return response.blob();
}
