import { useState } from "react";
import type { Recording } from "../api/client";
import { Menu, MenuItem } from "../shared/menu";

const formats = [
  ["svg", "as a drawing (SVG)"],
  ["vcd", "as a value change dump (VCD)"],
  ["csv", "as a table (CSV)"],
  ["json", "as a recording (JSON)"],
] as const;

/** The run that is shown, as a file. */
export function Save({ id, recording, built }: { id: string; recording: Recording; built: boolean }) {
  const [failed, setFailed] = useState(false);
  const save = async (format: string) => {
    setFailed(false);
    try {
      const made =
        format === "json"
          ? new Blob([JSON.stringify(recording, null, 2)], { type: "application/json" })
          : await fetched(id, recording, built, format);
      const link = document.createElement("a");
      link.href = URL.createObjectURL(made);
      link.download = `run.${format}`;
      link.click();
      URL.revokeObjectURL(link.href);
    } catch {
      setFailed(true);
    }
  };
  return (
    <>
      <Menu label="Save the run">
        {formats.map(([format, name]) => (
          <MenuItem key={format} onSelect={() => void save(format)}>
            {name}
          </MenuItem>
        ))}
      </Menu>
      {failed && <span role="alert">The server does not answer. Try again in a moment.</span>}
    </>
  );
}

async function fetched(id: string, recording: Recording, built: boolean, format: string): Promise<Blob> {
  const response = await fetch(`/api/builds/${encodeURIComponent(id)}/run`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({
      actions: recording.actions,
      seconds: recording.lasts,
      seed: recording.seed,
      built,
      probes: recording.rows
        .filter((r) => r.kind === "volts")
        .map((r) => r.of.split(","))
        .map(([at, against]) => ({ at, against })),
      format,
    }),
  });
  if (!response.ok) throw new Error(response.statusText);
  return response.blob();
}
