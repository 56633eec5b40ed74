import type { ReactNode } from "react";
import { useSession, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";

/** What the builder has to know about the state of the sheet: away, changed elsewhere, not taken. */
export function Notices() {
  const session = useSession();
  const { status, waiting, changes, refused } = useSnapshot();
  return (
    <div className="empty:hidden">
      {status === "away" && (
        <Notice color="border-care">
          <p className="grow">
            The server does not answer.{" "}
            {waiting.length === 0
              ? "Nothing is lost."
              : `Kept here until it does: ${list(waiting.map((s) => s.words))}.`}{" "}
            Trying again…
          </p>
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
          <Button onClick={() => session.drop()}>Leave mine</Button>
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
