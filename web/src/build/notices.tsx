import type { ReactNode } from "react";
import { useSession, useSheet, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";

/** What the builder has to know about the state of the sheet: away, changed elsewhere, not taken. */
export function Notices() {
  const session = useSession();
  const { status, reason, waiting, safe, changes, refused } = useSnapshot();
  const { view, board, edit } = useSheet();
  return (
    <div className="empty:hidden">
      {status === "away" && (
        <Notice color="border-care">
          <p className="grow">
            {reason}{" "}
            {waiting.length === 0
              ? "Nothing is lost."
              : `Kept here until it does: ${list(waiting.map((s) => s.words))}.`}{" "}
            Trying again…
          </p>
        </Notice>
      )}
      {!safe && (
        <Notice color="border-stop">
          <p className="grow">
            This browser keeps nothing: leave this window open until it says “saved”, or{" "}
            {list(waiting.map((s) => s.words))} will be lost.
          </p>
        </Notice>
      )}
      {view.analysis.missing && (
        <Notice color="border-care">
          <p className="grow">{view.analysis.missing.join(" ")}</p>
        </Notice>
      )}
      {view.profile && (
        <Notice color="border-rule">
          <p className="grow">
            The {board.name} was described anew since. This build is still on it as it was.
          </p>
          <Button onClick={() => edit(`move to the new ${board.name}`, { op: "board", board: board.id })}>
            Move to what it is now
          </Button>
        </Notice>
      )}
      {status === "conflict" && (
        <Notice color="border-care">
          <div className="grow">
            <p className="font-semibold">This build was changed elsewhere first.</p>
            <p>There: {changes.length > 0 ? list(changes) : "nothing that shows"}.</p>
            <p>Yours, kept here: {list(waiting.map((s) => s.words))}.</p>
          </div>
          <Button look="main" onClick={() => session.onTop()}>
            Make mine on top
          </Button>
          <Button onClick={() => session.drop()}>Discard mine</Button>
        </Notice>
      )}
      {refused.map((r) => (
        <Notice key={r.step?.key ?? r.problem.title} color="border-stop">
          <div className="grow">
            <p>
              {r.step && <span className="font-semibold">Not done: {r.step.words}. </span>}
              {r.problem.title}
            </p>
            {r.problem.problems?.map((p) => (
              <p key={p.where + p.what} className="text-small">
                {[p.what, p.right].filter(Boolean).join("; ")}
              </p>
            ))}
          </div>
          <Button onClick={() => session.dismiss(r)}>Close</Button>
        </Notice>
      ))}
    </div>
  );
}

function list(words: readonly string[]): string {
  return words.join(", ");
}

function Notice({ color, children }: { color: string; children: ReactNode }) {
  return (
    <div
      role="alert"
      className={`flex flex-wrap items-center gap-3 border-rule border-b border-l-8 bg-sheet px-4 py-2 ${color}`}
    >
      {children}
    </div>
  );
}
