import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import meanings from "../../../core/faults/meter/meanings.json";
import type { LogEntry } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { byItself } from "./folded";
import { NoteText } from "./note-text";

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Lines that came by themselves, one after the other, behind one. */
export function Fold({ lines, newest }: { lines: ReactNode[]; newest: LogEntry }) {
  return (
    <li className="-ml-0.5 border-rule border-l-4 py-2 pl-4">
      <details>
        <summary className="cursor-pointer">
          <time className="mr-3 inline-block w-32 text-faint text-small" dateTime={newest.made}>
            {new Date(newest.made).toLocaleDateString(undefined, { dateStyle: "short" })}
          </time>
          {lines.length} {byItself[newest.kind]}, the last: {newest.text}
        </summary>
        <ol className="mt-1">{lines}</ol>
      </details>
    </li>
  );
}

const edge = {
  expected: "border-good",
  edge: "border-care",
  unexpected: "border-stop",
} as Record<string, string>;

export function Line({
  entry,
  since,
  onto,
  onStrike,
  onNote,
}: {
  entry: LogEntry;
  since: string | undefined;
  /** The line that it is a note on, where that is shown too. */
  onto: LogEntry | undefined;
  onStrike: () => void;
  /** Begins a note on it. */
  onNote: () => void;
}) {
  const { view } = useSheet();
  const about = view.document.parts.find((p) => p.id === entry.part)?.name;
  const verdict = entry.reading?.verdict;
  return (
    <li className={`-ml-0.5 border-l-4 py-2 pl-4 ${verdict ? edge[verdict.means] : "border-rule"}`}>
      <div className="flex items-baseline gap-3">
        <time className="w-36 shrink-0 text-faint text-small" dateTime={entry.made}>
          {new Date(entry.made).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" })}
        </time>
        <div className="min-w-0 grow">
          {verdict ? (
            <>
              <p>
                <span className="font-mono font-semibold text-large">{verdict.text}</span>{" "}
                <span className="text-faint">expected</span>{" "}
                <span className="font-mono">{entry.reading?.expect.text}</span>
                {verdict.means !== "expected" && (
                  <strong className={verdict.means === "edge" ? "text-care" : "text-stop"}>
                    {" "}
                    {meanings[verdict.means]}
                  </strong>
                )}
              </p>
              <p className="text-small">{entry.reading?.of}</p>
              {verdict.causes[0] && <p className="text-small">Likeliest: {verdict.causes[0].words}</p>}
              {since && <p className="text-care text-small">{since}</p>}
            </>
          ) : (
            <NoteText text={entry.kind in byItself ? capital(entry.text) : entry.text} />
          )}
          {entry.picture && <Shown entry={entry} />}
          <p className="text-faint text-small">
            {onto && `on the line “${(onto.reading?.verdict.text ?? onto.text).slice(0, 40)}” · `}
            {about && `${about} · `}state {entry.revision} of the plan
            {entry.kind === "program" && (
              <>
                {" · "}
                <Link
                  to={`../bench?program=${view.id}@${entry.revision}`}
                  className="text-copper underline underline-offset-4"
                >
                  run it on the bench
                </Link>
              </>
            )}
          </p>
        </div>
        {verdict && (
          <Button
            look="quiet"
            className="shrink-0"
            onClick={onNote}
            aria-label={`Write a note on ${verdict.text}`}
          >
            Note
          </Button>
        )}
        <Button
          look="quiet"
          className="shrink-0"
          onClick={onStrike}
          aria-label={`Remove: ${entry.text.slice(0, 60)}`}
        >
          Remove
        </Button>
      </div>
    </li>
  );
}

/** A picture in the book; tapped, it is shown whole. */
function Shown({ entry }: { entry: LogEntry }) {
  const { view } = useSheet();
  const [open, setOpen] = useState(false);
  const at = `/api/builds/${view.id}/log/${entry.id}/picture`;
  const words = entry.text || "Picture of the build";
  return (
    <>
      <button type="button" onClick={() => setOpen(true)} className="my-1 block">
        <img
          src={`${at}?small=true`}
          alt={words}
          loading="lazy"
          width={entry.picture?.width}
          height={entry.picture?.height}
          className="h-auto max-h-56 w-auto border border-rule"
        />
      </button>
      <Dialog title={words} open={open} onOpenChange={setOpen} wide>
        <img src={at} alt={words} className="mx-auto max-h-[75vh]" />
      </Dialog>
    </>
  );
}
