import { useState } from "react";
import { answer, api, ProblemError } from "../api/client";
import { inLines } from "../api/errors";
import type { components } from "../generated/api";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";

type Table = components["schemas"]["PinTable"];

/** Takes in a pin table from a file: what it would move is shown before it is taken. */
export function PinsIn({ file, onDone }: { file: File | undefined; onDone: () => void }) {
  const { view, edit } = useSheet();
  const [table, setTable] = useState<Table>();
  const [wrong, setWrong] = useState<string[]>();
  const [read, setRead] = useState<File>();
  if (file && file !== read) {
    setRead(file);
    setTable(undefined);
    setWrong(undefined);
    void file
      .text()
      .then((text) =>
        answer(api.POST("/api/builds/{id}/pins", { params: { path: { id: view.id } }, body: { text } })),
      )
      .then(setTable)
      .catch((error: unknown) => {
        setWrong(
          error instanceof ProblemError
            ? inLines(error.problem)
            : [error instanceof Error ? error.message : "The file cannot be read."],
        );
      });
  }
  return (
    <Dialog title={`Pin table ${file?.name ?? ""}`} open={file !== undefined} onOpenChange={onDone}>
      {wrong && (
        <div role="alert">
          <p>This table cannot be taken. Nothing was changed.</p>
          <ul className="mt-2 list-disc pl-5 text-stop">
            {wrong.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </div>
      )}
      {!wrong && !table && <p>Reading…</p>}
      {table && (
        <>
          {table.changes.length === 0 && <p>The table says what the build already is: nothing would move.</p>}
          <ul className="list-disc pl-5">
            {table.changes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          {table.edits.length > 0 && (
            <Button
              look="main"
              className="mt-4"
              onClick={() => {
                edit(`take the pins of ${file?.name}`, ...table.edits);
                onDone();
              }}
            >
              Move {table.edits.length === 1 ? "this one" : `these ${table.edits.length}`}
            </Button>
          )}
        </>
      )}
    </Dialog>
  );
}
