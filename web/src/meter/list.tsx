import { Check as Tick } from "lucide-react";
import meanings from "../../../core/faults/meter/meanings.json";
import type { LogEntry, MeterCheck } from "../api/client";

/** What to measure, in the order of the work, with what was read of it last. */
export function List({
  checks,
  current,
  last,
  onChoose,
}: {
  checks: MeterCheck[];
  current: MeterCheck;
  last: Map<string, LogEntry>;
  onChoose: (id: string) => void;
}) {
  const groups = [...new Set(checks.map((c) => c.group))];
  return groups.map((group) => (
    <section key={group} aria-label={group}>
      <h2 className="sticky top-0 bg-wash px-3 py-1.5 font-semibold">{group}</h2>
      <ol>
        {checks
          .filter((c) => c.group === group)
          .map((c) => {
            const entry = last.get(c.id);
            const good = entry && entry.reading?.verdict.means !== "unexpected";
            return (
              <li key={c.id}>
                <button
                  type="button"
                  aria-current={c.id === current.id ? "step" : undefined}
                  onClick={() => onChoose(c.id)}
                  className={`flex w-full items-center gap-2 border-rule border-b px-3 py-2 text-left hover:bg-wash ${c.id === current.id ? "border-l-4 border-l-copper bg-sheet font-semibold" : ""}`}
                >
                  <span className="min-w-0 grow">{short(c)}</span>
                  {entry ? (
                    <span
                      className={`flex shrink-0 items-center gap-1 whitespace-nowrap font-mono text-small ${good ? "text-good" : "text-stop"}`}
                    >
                      {good ? <Tick size={16} aria-label="as expected" /> : <span aria-hidden>✕</span>}
                      {!good && <span className="sr-only">{meanings.unexpected}</span>}
                      {entry.reading?.verdict.text}
                    </span>
                  ) : (
                    <span className="shrink-0 whitespace-nowrap font-mono text-faint text-small">
                      {c.expect.typText}
                    </span>
                  )}
                </button>
              </li>
            );
          })}
      </ol>
    </section>
  ));
}

/** A check in a few words, for the list. */
function short(c: MeterCheck): string {
  const bare = (words: string) => words.replace(/ \([^)]*\)$/, "").replace(/^board's /, "");
  const [red, black] = [bare(c.red.words), bare(c.black?.words ?? "")];
  const part = (words: string) => words.replace(/^.*? of /, "");
  if (c.question.way === "lifted") return part(red);
  if (c.question.way === "counts") return `turns of ${part(black)}`;
  if (part(red) === part(black)) return `over ${part(red)}`;
  return `${red} – ${black}`;
}
