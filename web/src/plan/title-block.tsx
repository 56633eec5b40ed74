import { Redo2, Undo2 } from "lucide-react";
import { useSession, useSheet, useSnapshot } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { Menu, MenuItem } from "../shared/menu";
import { ThemeButton } from "../shared/page";
import { ValueField } from "../shared/value-field";

/** The title block of the sheet: what it is, on which board, fed by what, and whether it is saved. */
export function TitleBlock() {
  const session = useSession();
  const { waiting, refused } = useSnapshot();
  const { view, library, board, edit } = useSheet();
  const supply = board.supplies.find((s) => s.id === view.document.supply) ?? board.supplies[0];
  const error = refused.find((r) => r.step?.edits[0]?.op === "title")?.problem.title;
  return (
    <header className="flex flex-wrap items-end gap-x-4 gap-y-2 border-ink border-b-2 px-4 py-2">
      <h1 className="min-w-56 grow">
        <ValueField
          label="Build"
          hiddenLabel
          look="title"
          saved={view.document.title}
          error={error}
          onCommit={(name) => edit(`rename the build to ${name}`, { op: "title", name })}
        />
      </h1>
      <div className="w-52">
        <Choice
          label="Board"
          hidden
          value={board.id}
          onChange={(id) =>
            edit(`move to the ${library.boards.find((b) => b.id === id)?.name}`, { op: "board", board: id })
          }
        >
          {library.boards.map((b) => (
            <option key={b.id} value={b.id}>
              {b.name}
            </option>
          ))}
        </Choice>
      </div>
      <span className="py-1.5 text-faint">fed by {supply?.name}</span>
      <SavedMark />
      <div className="flex items-center">
        <Button
          look="quiet"
          aria-label="Undo"
          title={view.undo ? `Undo: ${view.undo}` : "Nothing to undo"}
          disabled={!view.undo || waiting.length > 0}
          onClick={() => session.undo()}
        >
          <Undo2 size={20} aria-hidden />
        </Button>
        <Button
          look="quiet"
          aria-label="Redo"
          title={view.redo ? `Redo: ${view.redo}` : "Nothing to redo"}
          disabled={!view.redo || waiting.length > 0}
          onClick={() => session.redo()}
        >
          <Redo2 size={20} aria-hidden />
        </Button>
        <ThemeButton />
        <SaveAs id={view.id} />
      </div>
    </header>
  );
}

const formats = [
  ["document", "the build, to take in elsewhere (JSON)"],
  ["parts.csv", "parts list (CSV)"],
  ["pins.csv", "pin table (CSV)"],
  ["analysis", "everything computed (JSON)"],
  ["netlist", "circuit, all controls at their first setting (SPICE)"],
] as const;

function SaveAs({ id }: { id: string }) {
  return (
    <Menu label="Files" spoken="Files of this build">
      {formats.map(([format, words]) => (
        <MenuItem key={format} onSelect={() => window.location.assign(`/api/builds/${id}/files/${format}`)}>
          {words}
        </MenuItem>
      ))}
    </Menu>
  );
}

function SavedMark() {
  const { status, view } = useSnapshot();
  const at = view ? new Date(view.changed).toLocaleTimeString(undefined, { timeStyle: "short" }) : "";
  const words =
    status === "away"
      ? "not saved yet"
      : status === "saving"
        ? "saving…"
        : status === "conflict"
          ? "waiting for you"
          : `saved ${at}`;
  return (
    <span
      role="status"
      className={`w-28 py-1.5 ${status === "saved" || status === "saving" ? "text-faint" : "text-care"}`}
    >
      {words}
    </span>
  );
}
