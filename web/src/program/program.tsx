import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { answer, api, type Edit, type ProgramAnalysis, type Program as Source } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { FileButton } from "../shared/file-button";
import { Holds } from "../shared/holds";
import { LevelMark } from "../shared/level";
import { saveText } from "../shared/save";
import { main, nameOf, placeOf, withFile } from "../shared/source";
import { fileName } from "../shared/source-file";
import { Editor, type Remark } from "./editor";
import { Files } from "./files";
import { namesFor } from "./names";
import { Findings, Messages, Pins, Prints } from "./panels";
import { same, useTyping } from "./typing";

type Language = Source["language"];

const languages: { id: Language; name: string }[] = [
  { id: "cpp", name: "C++" },
  { id: "python-board", name: "Python (board)" },
  { id: "python-machine", name: "Python (machine)" },
];

/** The Program section: the program beside what it does to each pin, and what does not fit. */
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
      edit(`import ${file.name}`, {
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
          <Button
            look="main"
            className="w-full py-3 text-large"
            data-next="program"
            onClick={() => void begin(language, false)}
          >
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
            words="Import a file"
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

function Written({ kept }: { kept: Source }) {
  const { view, board, edit } = useSheet();
  const able = useLanguages();
  const { source, looked, change, keep } = useTyping(kept);
  const { begin, takeIn, wrong } = useStart();
  const [go, setGo] = useState<{ line: number }>();
  const [shown, setShown] = useState(main);
  const part = source.files?.find((f) => f.name === shown);
  const files = useRef(source);
  files.current = source;
  const language = source.language;
  // A starter is in the language at hand, unless the board does not run it.
  const writable = able.some((l) => l.id === language) ? language : "cpp";
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
  const remarks = useMemo(
    () =>
      remarksOf(analysis)
        .map((r) => ({ ...r, ...placeOf(source, r.line) }))
        .filter((r) => r.file === (part?.name ?? main)),
    [analysis, source, part?.name],
  );
  const names = useMemo(() => namesFor(analysis?.names ?? [], board, language), [analysis, board, language]);
  const toLine = useCallback((line: number) => {
    const place = placeOf(files.current, line);
    setShown(place.file);
    setGo(place);
  }, []);
  // A header beside a program in C++ is a file of it.
  const takeFile = async (file: File) => {
    const name = nameOf(file.name);
    if (language !== "cpp" || !name.endsWith(".h")) return takeIn(file);
    change(withFile(source, name, await file.text()));
    setShown(name);
  };
  // What was typed is kept before something else comes in its place: otherwise it would be kept
  // after that, over it.
  const replace = (put: () => void) => {
    keep();
    put();
  };
  const save = () => saveText(part?.text ?? source.text, part?.name ?? fileName(source));
  return (
    <main className="flex min-h-0 grow flex-col lg:flex-row">
      <section
        aria-label="Program"
        tabIndex={-1}
        data-next="program"
        className="flex h-[60vh] min-w-0 shrink-0 flex-col lg:h-auto lg:min-h-0 lg:shrink lg:grow"
      >
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
          <Button onClick={() => replace(() => void begin(writable, false))}>Starter</Button>
          <Button onClick={() => replace(() => void begin(writable, true))}>Test program</Button>
          <FileButton
            words="Import"
            spoken="A program, .cpp or .py"
            accept=".cpp,.py,.h,.txt,text/plain"
            onFile={(f) => replace(() => void takeFile(f))}
          />
          <Button onClick={save}>Save as file</Button>
          <Button
            look="quiet"
            className="ml-auto"
            onClick={() => replace(() => edit("remove the program", { op: "program" } as Edit))}
          >
            Remove
          </Button>
        </div>
        {wrong && (
          <p role="alert" className="border-stop border-l-4 px-3 py-2">
            {wrong}
          </p>
        )}
        {language === "cpp" && (
          <Files source={source} shown={part?.name ?? main} onShow={setShown} onChange={change} />
        )}
        <Editor
          key={part?.name ?? main}
          text={part?.text ?? source.text}
          language={language}
          remarks={remarks}
          names={names}
          go={go}
          onChange={(text) => change(part ? withFile(source, part.name, text) : { ...source, text })}
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
        <Holds />
        <div className="min-h-0 grow overflow-auto border-rule border-t">
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
  else if (analysis?.counts.stop) words = "It compiles, but does not fit.";
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
