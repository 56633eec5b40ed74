import type { Finding, ProgramAnalysis, Program as Source } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { LevelMark } from "../shared/level";
import { lineWords } from "../shared/source";
import { WorkingButton } from "../shared/working";

function LineButton({ line, onLine }: { line: number | undefined; onLine: (line: number) => void }) {
  const { view } = useSheet();
  if (!line) return null;
  return (
    <Button
      look="quiet"
      className="min-h-0! px-1.5 py-0.5 font-mono text-small underline"
      onClick={() => onLine(line)}
    >
      {lineWords(view.document.program, line)}
    </Button>
  );
}

export function Messages({
  analysis,
  source,
  onLine,
  onMend,
}: {
  analysis: ProgramAnalysis;
  source: Source;
  onLine: (line: number) => void;
  onMend: (next: Source) => void;
}) {
  if (
    analysis.messages.length === 0 ||
    (analysis.compiles && !analysis.messages.some((m) => m.option === "absent-library"))
  )
    return null;
  return (
    <ul aria-label="What the compiler says">
      {analysis.messages
        .filter((m) => !analysis.compiles || m.option === "absent-library")
        .map((m) => (
          <li key={`${m.line}:${m.said}`} className="space-y-1 border-rule border-b px-4 py-3">
            <div className="flex gap-2">
              <span className="pt-0.5">
                <LevelMark level={m.wrong ? "stop" : "note"} size={20} />
              </span>
              <p className="font-semibold">{m.text}</p>
            </div>
            <p className="text-faint text-small">
              <LineButton line={m.line} onLine={onLine} /> The compiler: {m.said}
            </p>
            {m.replace && (
              <Button
                look="main"
                className="w-full py-1"
                onClick={() => m.replace && onMend({ ...source, text: mended(source.text, m.replace) })}
              >
                {m.replace.with === "" ? "Take it out" : `Write ${m.replace.with}`}
              </Button>
            )}
          </li>
        ))}
    </ul>
  );
}

/** A text with a change made; columns count bytes from 1. */
function mended(text: string, change: NonNullable<ProgramAnalysis["messages"][number]["replace"]>): string {
  const bytes = new TextEncoder().encode(text);
  const at = (line: number, column: number) => {
    let from = 0;
    for (let n = 1; n < line; n++) from = bytes.indexOf(10, from) + 1;
    return from + column - 1;
  };
  const decode = (part: Uint8Array) => new TextDecoder().decode(part);
  return (
    decode(bytes.slice(0, at(change.line, change.column))) +
    change.with +
    decode(bytes.slice(at(change.toLine, change.toColumn)))
  );
}

export function Findings({
  analysis,
  onLine,
  onBefore,
}: {
  analysis: ProgramAnalysis;
  onLine: (line: number) => void;
  onBefore: () => void;
}) {
  const { edit } = useSheet();
  return (
    <ul aria-label="Findings">
      {analysis.findings.map((finding: Finding) => (
        <li key={finding.id} className="space-y-1.5 border-rule border-b px-4 py-3">
          <div className="flex gap-2">
            <span className="pt-0.5">
              <LevelMark level={finding.level} size={20} />
            </span>
            <p className="font-semibold">{finding.title}</p>
          </div>
          <p className="text-small">
            {finding.why} <LineButton line={finding.line} onLine={onLine} />
          </p>
          {finding.state && !finding.why.includes(finding.state) && (
            <p className="text-faint text-small">Seen while {finding.state}.</p>
          )}
          {finding.found && (
            <p className="text-small">
              <WorkingButton quantity={finding.found} label={finding.title} />
            </p>
          )}
          {finding.fixes.map((fix) => (
            <Button
              key={fix.label}
              look={finding.level === "note" ? "plain" : "main"}
              className="w-full py-1 text-left"
              onClick={() => {
                onBefore();
                edit(fix.label, ...fix.edits);
              }}
            >
              {fix.label}
            </Button>
          ))}
        </li>
      ))}
      {analysis.missing?.map((m) => (
        <li key={m} className="px-4 py-3 text-faint text-small">
          {m}
        </li>
      ))}
    </ul>
  );
}

/** The wiring's pins beside what the program does to each. */
export function Pins({ analysis, onLine }: { analysis: ProgramAnalysis; onLine: (line: number) => void }) {
  if (analysis.pins.length === 0) return null;
  return (
    <table className="w-full border-collapse text-small">
      <caption className="sticky top-0 bg-wash px-4 py-1.5 text-left font-semibold text-base">Pins</caption>
      <thead className="sr-only">
        <tr>
          <th scope="col">Pin</th>
          <th scope="col">Wired there</th>
          <th scope="col">What the program does</th>
        </tr>
      </thead>
      <tbody>
        {analysis.pins.map((p) => (
          <tr key={p.pin} className="border-rule border-b align-top">
            <th scope="row" className="whitespace-nowrap py-1.5 pr-2 pl-4 text-left font-mono text-base">
              <span className="flex items-center gap-1.5">
                {p.pin}
                <LevelMark level={p.level} size={14} />
              </span>
            </th>
            <td className="py-1.5 pr-4">
              <span className={p.wired ? "font-semibold" : "text-faint"}>{p.wired || "nothing wired"}</span>
              <br />
              <span className={p.does ? "" : "text-faint"}>{p.does || "not used"}</span>{" "}
              <LineButton line={p.line} onLine={onLine} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function Prints({ text }: { text: string }) {
  return (
    <details className="shrink-0 border-rule border-t" open>
      <summary className="bg-wash px-3 py-1.5 font-semibold">It prints</summary>
      <pre className="max-h-28 overflow-auto px-3 py-2 font-mono text-small">{text}</pre>
    </details>
  );
}
