import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  answer,
  api,
  type Edit,
  type Finding,
  type ProgramAnalysis,
  type Program as Source,
} from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { FileButton } from "../shared/file-button";
import { LevelMark } from "../shared/level";
import { WorkingButton } from "../shared/working";
import { Editor, type Remark } from "./editor";
import { namesFor } from "./names";

type Language = Source["language"];

const languages: { id: Language; name: string }[] = [
  { id: "cpp", name: "C++" },
  { id: "python-board", name: "Python (board)" },
  { id: "python-machine", name: "Python (machine)" },
];

/** How long nobody types before the program is looked at, and before it is kept, in ms. */
const lookAfter = 500;
const keepAfter = 2000;

/** The Program stage: the program beside what it does to each pin, and what does not fit. */
export function Program() {
  const { view } = useSheet();
  const kept = view.document.program;
  return kept ? <Written key={view.id} kept={kept} /> : <Nothing />;
}

/** Which languages the board runs. */
function useLanguages() {
  const { board } = useSheet();
  const python = board.program?.python ?? false;
  return languages.filter((l) => python || l.id === "cpp");
}

function useStart() {
  const { view, edit } = useSheet();
  const [wrong, setWrong] = useState<string>();
  const begin = useCallback(
    async (language: Language, test: boolean) => {
      try {
        const made = await answer(
          api.GET("/api/builds/{id}/program/starter", {
            params: { path: { id: view.id }, query: { language, test } },
          }),
        );
        setWrong(undefined);
        edit(test ? "write the test program" : "write a starter", { op: "program", program: made } as Edit);
      } catch (problem) {
        setWrong(problem instanceof Error ? problem.message : "That did not work.");
      }
    },
    [view.id, edit],
  );
  const takeIn = useCallback(
    async (file: File) => {
      if (file.size > 64 * 1024) return setWrong("A program has at most 64 kB.");
      const text = await file.text();
      const language = file.name.endsWith(".cpp") || file.name.endsWith(".h") ? "cpp" : undefined;
      setWrong(undefined);
      edit(`take in ${file.name}`, {
        op: "program",
        program: { language: language ?? guess(text), text },
      } as Edit);
    },
    [edit],
  );
  return { begin, takeIn, wrong };
}

/** Which language a text is in; the server has the last word. */
function guess(text: string): Language {
  if (/^\s*(import|from)\s.*\bmachine\b/m.test(text)) return "python-machine";
  if (/^\s*(import|from)\s.*\b(board|digitalio|analogio|pwmio)\b/m.test(text)) return "python-board";
  return /^\s*(import \w|from \w+ import|def \w+\(|while .*:\s*$)/m.test(text) ? "python-machine" : "cpp";
}

function Nothing() {
  const { view, edit } = useSheet();
  const able = useLanguages();
  const { begin, takeIn, wrong } = useStart();
  const [language, setLanguage] = useState<Language>("cpp");
  return (
    <main className="max-w-prose space-y-5 overflow-auto p-6">
      <h1 className="font-semibold text-title">Program</h1>
      <p className="text-large">
        The program that goes into the board: it is run here on your wiring, and what does not fit is shown
        with its line.
      </p>
      {able.length > 1 && (
        <Choice label="Language" value={language} onChange={(v) => setLanguage(v as Language)}>
          {able.map((l) => (
            <option key={l.id} value={l.id}>
              {l.name}
            </option>
          ))}
        </Choice>
      )}
      <ul className="space-y-3">
        <li>
          <Button look="main" className="w-full py-3 text-large" onClick={() => void begin(language, false)}>
            Write a starter from the wiring
          </Button>
          <p className="text-faint text-small">
            Pins, modes and levels are right; what the parts do is up to you.
          </p>
        </li>
        <li>
          <Button className="w-full py-2" onClick={() => void begin(language, true)}>
            Write a test program
          </Button>
          <p className="text-faint text-small">Lights each lamp in turn, and prints what each input reads.</p>
        </li>
        <li className="flex gap-3">
          <FileButton
            words="Take in a file"
            spoken="A program, .cpp or .py"
            accept=".cpp,.py,.h,.txt,text/plain"
            onFile={(f) => void takeIn(f)}
          />
          <Button
            onClick={() =>
              edit("begin a program", { op: "program", program: { language, text: empty(language) } } as Edit)
            }
          >
            Begin with an empty one
          </Button>
        </li>
      </ul>
      {wrong && (
        <p role="alert" className="border-stop border-l-4 pl-3">
          {wrong}
        </p>
      )}
      {view.document.parts.length === 0 && (
        <p>There are no parts in the plan yet: a starter has nothing to do.</p>
      )}
    </main>
  );
}

function empty(language: Language): string {
  return language === "cpp"
    ? "void setup() {\n}\n\nvoid loop() {\n}\n"
    : "import time\n\nwhile True:\n    time.sleep(0.1)\n";
}

/** The text as it is typed: looked at after a short pause, kept after a longer one. */
function useTyping(kept: Source) {
  const { edit } = useSheet();
  const [source, setSource] = useState(kept);
  const [looked, setLooked] = useState(kept);
  const pending = useRef<Source>(undefined);
  const sent = useRef(kept);

  const keep = useCallback(() => {
    const mine = pending.current;
    if (!mine) return;
    pending.current = undefined;
    sent.current = mine;
    edit("change the program", { op: "program", program: mine } as Edit);
  }, [edit]);

  // What came from elsewhere: a fix, an undo, another window.
  useEffect(() => {
    if (pending.current || same(kept, sent.current)) return;
    sent.current = kept;
    setSource(kept);
    setLooked(kept);
  }, [kept]);

  useEffect(() => {
    if (same(source, looked)) return;
    const timer = setTimeout(() => setLooked(source), lookAfter);
    return () => clearTimeout(timer);
  }, [source, looked]);

  useEffect(() => {
    if (!pending.current || !source) return;
    const timer = setTimeout(keep, keepAfter);
    return () => clearTimeout(timer);
  }, [source, keep]);

  useEffect(() => {
    const leave = () => keep();
    window.addEventListener("pagehide", leave);
    document.addEventListener("visibilitychange", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      document.removeEventListener("visibilitychange", leave);
      keep();
    };
  }, [keep]);

  const change = useCallback((next: Source) => {
    pending.current = next;
    setSource(next);
  }, []);
  return { source, looked, change, keep };
}

function same(a: Source, b: Source): boolean {
  return a.text === b.text && a.language === b.language;
}

function Written({ kept }: { kept: Source }) {
  const { view, board, edit } = useSheet();
  const able = useLanguages();
  const { source, looked, change, keep } = useTyping(kept);
  const { begin, takeIn, wrong } = useStart();
  const [go, setGo] = useState<{ line: number }>();
  const language = source.language;
  const told = useQuery({
    queryKey: ["program", view.id, view.document.parts, view.document.nets, board.id, looked],
    queryFn: ({ signal }) =>
      answer(
        api.POST("/api/builds/{id}/program", {
          params: { path: { id: view.id } },
          body: looked,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const analysis = told.data;
  const remarks = useMemo(() => remarksOf(analysis), [analysis]);
  const names = useMemo(() => namesFor(view.document, board, language), [view.document, board, language]);
  const toLine = useCallback((line: number) => setGo({ line }), []);
  const save = () => {
    const file = new Blob([source.text], { type: "text/plain" });
    const link = document.createElement("a");
    link.href = URL.createObjectURL(file);
    link.download = language === "cpp" ? "program.cpp" : "program.py";
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <main className="flex min-h-0 grow flex-col lg:flex-row">
      <section aria-label="Program" className="flex min-h-[50vh] min-w-0 grow flex-col lg:min-h-0">
        <div className="flex flex-wrap items-center gap-2 border-rule border-b px-3 py-2">
          <div className="w-44">
            <Choice
              label="Language"
              hidden
              value={language}
              onChange={(v) => change({ ...source, language: v as Language })}
            >
              {languages
                .filter((l) => l.id === language || able.includes(l))
                .map((l) => (
                  <option key={l.id} value={l.id}>
                    {l.name}
                  </option>
                ))}
            </Choice>
          </div>
          <Button onClick={() => void begin(language, false)}>Starter</Button>
          <Button onClick={() => void begin(language, true)}>Test program</Button>
          <FileButton
            words="Take in"
            spoken="A program, .cpp or .py"
            accept=".cpp,.py,.h,.txt,text/plain"
            onFile={(f) => void takeIn(f)}
          />
          <Button onClick={save}>Save as file</Button>
          <Button
            look="quiet"
            className="ml-auto"
            onClick={() => edit("take the program out", { op: "program" } as Edit)}
          >
            Take out
          </Button>
        </div>
        {wrong && (
          <p role="alert" className="border-stop border-l-4 px-3 py-2">
            {wrong}
          </p>
        )}
        <Editor
          text={source.text}
          language={language}
          remarks={remarks}
          names={names}
          go={go}
          onChange={(text) => change({ ...source, text })}
          onLeave={keep}
        />
        {analysis?.prints && <Prints text={analysis.prints} />}
      </section>
      <aside
        aria-label="What it does"
        className="flex min-h-0 w-full shrink-0 flex-col border-rule border-t lg:w-[26rem] lg:border-t-0 lg:border-l"
      >
        <State
          analysis={analysis}
          busy={told.isFetching || !same(source, looked)}
          error={told.isError ? told.error.message : undefined}
          onAgain={() => void told.refetch()}
        />
        <div className="min-h-0 grow overflow-auto">
          {analysis && <Messages analysis={analysis} source={source} onLine={toLine} onMend={change} />}
          {analysis && <Findings analysis={analysis} onLine={toLine} onBefore={keep} />}
          {analysis && <Pins analysis={analysis} onLine={toLine} />}
        </div>
      </aside>
    </main>
  );
}

function remarksOf(analysis: ProgramAnalysis | undefined): Remark[] {
  if (!analysis) return [];
  return [
    ...analysis.messages.map(
      (m): Remark => ({ line: m.line, level: m.wrong ? "stop" : "note", text: m.text }),
    ),
    ...analysis.findings.map(
      (f): Remark => ({ line: f.line ?? 0, level: f.level, text: `${f.title} ${f.why}` }),
    ),
  ].filter((r) => r.line > 0);
}

function State({
  analysis,
  busy,
  error,
  onAgain,
}: {
  analysis: ProgramAnalysis | undefined;
  busy: boolean;
  error: string | undefined;
  onAgain: () => void;
}) {
  let words = "Compiling and running…";
  if (error) words = error;
  else if (analysis && !analysis.compiles) words = "It does not compile.";
  else if (analysis && analysis.findings.length === 0) words = "It fits the wiring.";
  else if (analysis) words = "It runs.";
  const counts = analysis?.counts;
  return (
    <div className="flex min-h-13 items-center justify-between gap-2 border-rule border-b px-4 py-2">
      <div role="status">
        <h2 className="font-semibold">{words}</h2>
      </div>
      {error ? (
        <Button onClick={onAgain}>Try again</Button>
      ) : (
        <span className="flex items-center gap-3 font-mono">
          {busy && analysis && <span className="font-sans text-faint text-small">looking…</span>}
          {analysis?.compiles &&
            (["stop", "care", "note"] as const).map((level) => (
              <span key={level} className={`flex items-center gap-1 ${counts?.[level] ? "" : "opacity-40"}`}>
                <LevelMark level={level} />
                {counts?.[level]}
              </span>
            ))}
        </span>
      )}
    </div>
  );
}

function LineButton({ line, onLine }: { line: number | undefined; onLine: (line: number) => void }) {
  if (!line) return null;
  return (
    <Button
      look="quiet"
      className="min-h-0! px-1.5 py-0.5 font-mono text-small underline"
      onClick={() => onLine(line)}
    >
      line {line}
    </Button>
  );
}

function Messages({
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

function Findings({
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
function Pins({ analysis, onLine }: { analysis: ProgramAnalysis; onLine: (line: number) => void }) {
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

function Prints({ text }: { text: string }) {
  return (
    <details className="shrink-0 border-rule border-t" open>
      <summary className="bg-wash px-3 py-1.5 font-semibold">It prints</summary>
      <pre className="max-h-28 overflow-auto px-3 py-2 font-mono text-small">{text}</pre>
    </details>
  );
}
