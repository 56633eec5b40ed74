import { CircleHelp, Redo2, Undo2 } from "lucide-react";
import { useRef, useState } from "react";
import { CircuitOut } from "../plan/circuit-out";
import { CompareBoards } from "../plan/compare-boards";
import { Help } from "../plan/help";
import { History } from "../plan/history";
import { PinsIn } from "../plan/pins-in";
import { Shopping } from "../plan/shopping";
import { Supply } from "../plan/supply";
import { useSession, useSheet, useSnapshot } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { FileInput } from "../shared/file-button";
import { useKeys } from "../shared/keys";
import { Menu, MenuItem } from "../shared/menu";
import { ThemeButton } from "../shared/page";
import { ValueField } from "../shared/value-field";
import { formats, Out, papers } from "./out";

/** The title block of the sheet: what it is, on which board, fed by what, and whether it is saved. */
export function TitleBlock() {
  const session = useSession();
  const { waiting, refused } = useSnapshot();
  const { view, library, board, edit } = useSheet();
  const [shown, show] = useState<Shown>();
  useKeys({ "?": () => show("help"), h: () => show("history") });
  const error = refused.find((r) => r.step?.edits[0]?.op === "title")?.problem.title;
  return (
    <header className="flex flex-wrap items-center gap-x-4 gap-y-1 border-ink border-b-2 px-4 py-2 max-sm:gap-x-1 max-sm:px-2 max-sm:py-1">
      <h1 className="min-w-56 grow max-sm:basis-full">
        <ValueField
          label="Build"
          hiddenLabel
          look="title"
          saved={view.document.title}
          error={error}
          onCommit={(name) => edit(`rename the build to ${name}`, { op: "title", name })}
        />
      </h1>
      <div className="w-52 max-sm:w-auto max-sm:min-w-28 max-sm:grow">
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
      <Supply />
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
        <span className="flex max-sm:hidden">
          <ThemeButton />
        </span>
        <Button
          look="quiet"
          className="max-sm:hidden"
          aria-label="Keys and cautions"
          title="Keys and cautions (?)"
          onClick={() => show("help")}
        >
          <CircleHelp size={20} aria-hidden />
        </Button>
        <Files show={show} />
      </div>
      <History open={shown === "history"} onOpenChange={() => show(undefined)} />
      <CompareBoards open={shown === "boards"} onOpenChange={() => show(undefined)} />
      <Shopping open={shown === "shopping"} onOpenChange={() => show(undefined)} />
      <Out title="Print" files={papers} open={shown === "print"} onOpenChange={() => show(undefined)} />
      <Out
        title="Save as a file"
        files={formats}
        open={shown === "save"}
        onOpenChange={() => show(undefined)}
        onCircuit={() => show("circuit")}
      />
      <CircuitOut open={shown === "circuit"} onOpenChange={() => show(undefined)} />
      <Help open={shown === "help"} onOpenChange={() => show(undefined)} />
    </header>
  );
}

type Shown = "history" | "boards" | "help" | "circuit" | "shopping" | "print" | "save" | undefined;

function Files({ show }: { show: (what: Shown) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File>();
  return (
    <>
      <Menu label="Files" spoken="Files and history of this build">
        <MenuItem onSelect={() => show("print")}>print…</MenuItem>
        <MenuItem onSelect={() => show("save")}>save as a file…</MenuItem>
        <MenuItem onSelect={() => input.current?.click()}>import a pin table (CSV)…</MenuItem>
        <MenuItem onSelect={() => show("history")}>history…</MenuItem>
        <MenuItem onSelect={() => show("boards")}>compare boards…</MenuItem>
        <MenuItem onSelect={() => show("shopping")}>shopping list…</MenuItem>
      </Menu>
      <FileInput input={input} spoken="A pin table as a file" accept=".csv,text/csv" onFile={setFile} />
      <PinsIn file={file} onDone={() => setFile(undefined)} />
    </>
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
      className={`w-34 whitespace-nowrap py-1.5 ${status === "saved" ? "max-sm:sr-only" : ""} ${status === "saved" || status === "saving" ? "text-faint" : "text-care"}`}
    >
      {words}
    </span>
  );
}
