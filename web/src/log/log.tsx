import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useCallback, useEffect, useState } from "react";
import { Link } from "react-router";
import { AwayError, answer, api, type LogEntry, ProblemError } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { FileButton } from "../shared/file-button";
import { SearchField } from "../shared/search-field";
import { waitLonger } from "../shared/wait";
import { NoteText } from "./note-text";

/** The Log stage: the book of the build, the newest line first. */
export function Log() {
  const { view } = useSheet();
  const queries = useQueryClient();
  const [kind, setKind] = useState("");
  const [part, setPart] = useState("");
  const [search, setSearch] = useState("");
  const [struck, setStruck] = useState<LogEntry>();
  const log = useInfiniteQuery({
    queryKey: ["log", view.id, kind, part, search],
    queryFn: ({ pageParam }) =>
      answer(
        api.GET("/api/builds/{id}/log", {
          params: { path: { id: view.id }, query: { kind, part, search, before: pageParam } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.more ? page.entries.at(-1)?.id : undefined),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  const entries = log.data?.pages.flatMap((page) => page.entries);
  const checks = useQuery({
    queryKey: ["checks", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/checks", { params: { path: { id: view.id } } })),
    enabled: entries?.some((e) => e.reading) ?? false,
  });
  /** What has become of a reading since: its check may have gone, or expect something else. */
  const since = (entry: LogEntry): string | undefined => {
    if (!entry.reading || !checks.data) return undefined;
    const now = checks.data.checks.find((c) => c.id === entry.reading?.check);
    if (!now) return "The plan has changed since: this is not measured any more.";
    if (now.expect.text !== entry.reading.expect.text)
      return `The plan has changed since: it should read ${now.expect.text} now.`;
    return undefined;
  };
  const again = useCallback(
    () => queries.invalidateQueries({ queryKey: ["log", view.id] }),
    [queries, view.id],
  );
  const strike = async (entry: LogEntry) => {
    await answer(
      api.DELETE("/api/builds/{id}/log/{entry}", { params: { path: { id: view.id, entry: entry.id } } }),
    );
    setStruck(entry);
    await again();
  };
  const putBack = async (entry: LogEntry) => {
    await answer(
      api.POST("/api/builds/{id}/log/{entry}/restore", {
        params: { path: { id: view.id, entry: entry.id } },
      }),
    );
    setStruck(undefined);
    await again();
  };
  return (
    <main className="mx-auto w-full max-w-4xl overflow-auto px-6 py-4">
      <Note onKept={again} />
      <Pictures onKept={again} />
      <div className="mt-5 mb-2 flex flex-wrap items-end gap-3">
        <div className="w-36">
          <Choice label="Show" value={kind} onChange={setKind}>
            <option value="">everything</option>
            <option value="reading">readings</option>
            <option value="note">notes</option>
            <option value="picture">pictures</option>
            <option value="fault">faults found</option>
            <option value="step">steps</option>
            <option value="built">as built</option>
            <option value="change">changes of the plan</option>
            <option value="program">programs</option>
          </Choice>
        </div>
        <div className="w-56">
          <About value={part} onChange={setPart} />
        </div>
        <SearchField value={search} onChange={setSearch} />
      </div>
      {struck && (
        <p role="status" className="mb-2 flex items-center gap-3 border-copper border-l-4 pl-3">
          A line was taken out.
          <Button onClick={() => void putBack(struck)}>Put it back</Button>
        </p>
      )}
      {log.error && <p role="alert">{log.error.message}</p>}
      {entries?.length === 0 && (
        <p className="max-w-prose text-faint">
          {kind || part || search
            ? "Nothing in the book is like this."
            : "Nothing yet. What you read on the meter stands here, beside what it should have been; and what you write down above."}
        </p>
      )}
      <ol aria-label="The log, the newest first" className="border-rule border-l-2">
        {folded(entries ?? []).map((run) => {
          const lines = run.map((entry) => (
            <Line key={entry.id} entry={entry} since={since(entry)} onStrike={() => void strike(entry)} />
          ));
          const [first] = run;
          return first && run.length > 1 ? <Fold key={first.id} lines={lines} newest={first} /> : lines;
        })}
      </ol>
      {log.hasNextPage && (
        <Button disabled={log.isFetchingNextPage} onClick={() => void log.fetchNextPage()}>
          Show older ones
        </Button>
      )}
    </main>
  );
}

/** Lines that come by themselves, with what they are called in a fold. */
const byItself: Record<string, string> = {
  change: "changes of the plan",
  program: "changes of the program",
  step: "steps",
  built: "notes of what is built",
};

/** So many lines of one kind in a row, all of one day, are folded into one. */
const leastFolded = 4;

/** Lines in their order; those that are folded stand together. */
function folded(entries: LogEntry[]): LogEntry[][] {
  const runs: LogEntry[][] = [];
  for (const entry of entries) {
    const run = runs.at(-1);
    const before = run?.at(-1);
    const goesOn =
      before?.kind === entry.kind &&
      entry.kind in byItself &&
      new Date(before.made).toDateString() === new Date(entry.made).toDateString();
    if (run && goesOn) run.push(entry);
    else runs.push([entry]);
  }
  return runs.flatMap((run) => (run.length < leastFolded ? run.map((entry) => [entry]) : [run]));
}

/** Lines that came by themselves, one after the other, behind one. */
function Fold({ lines, newest }: { lines: ReactNode[]; newest: LogEntry }) {
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

/** The part that something is about, or the whole build. */
function About({ value, onChange }: { value: string; onChange: (part: string) => void }) {
  const { view } = useSheet();
  return (
    <Choice label="About" value={value} onChange={onChange}>
      <option value="">the whole build</option>
      {view.document.parts.map((p) => (
        <option key={p.id} value={p.id}>
          {p.name}
        </option>
      ))}
    </Choice>
  );
}

const edge = {
  "as expected": "border-good",
  "at the edge": "border-care",
  "not as expected": "border-stop",
} as Record<string, string>;

function Line({
  entry,
  since,
  onStrike,
}: {
  entry: LogEntry;
  since: string | undefined;
  onStrike: () => void;
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
                {verdict.means !== "as expected" && (
                  <strong className={verdict.means === "at the edge" ? "text-care" : "text-stop"}>
                    {" "}
                    {verdict.means}
                  </strong>
                )}
              </p>
              <p className="text-small">{entry.text.replace(/: [^:]*$/, "")}</p>
              {verdict.causes[0] && <p className="text-small">Likeliest: {verdict.causes[0].words}</p>}
              {since && <p className="text-care text-small">{since}</p>}
            </>
          ) : (
            <NoteText text={entry.text} />
          )}
          {entry.picture && <Shown entry={entry} />}
          <p className="text-faint text-small">
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
        <Button
          look="quiet"
          className="shrink-0"
          onClick={onStrike}
          aria-label={`Take out: ${entry.text.slice(0, 60)}`}
        >
          Take out
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
        <img src={`${at}?small=true`} alt={words} loading="lazy" className="max-h-56 border border-rule" />
      </button>
      <Dialog title={words} open={open} onOpenChange={setOpen} wide>
        <img src={at} alt={words} className="mx-auto max-h-[75vh]" />
      </Dialog>
    </>
  );
}

/** Takes pictures in: chosen, taken with the camera, dropped on the page or pasted. */
function Pictures({ onKept }: { onKept: () => Promise<unknown> }) {
  const { view } = useSheet();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string>();
  const take = useCallback(
    async (file: File) => {
      setBusy(true);
      setWrong(undefined);
      try {
        await answer(
          api.POST("/api/builds/{id}/log/pictures", {
            params: { path: { id: view.id }, header: { "Idempotency-Key": crypto.randomUUID() } },
            body: file as never,
            bodySerializer: () => file,
            headers: { "Content-Type": file.type || "application/octet-stream" },
          }),
        );
        await onKept();
      } catch (error) {
        setWrong(
          error instanceof ProblemError
            ? [error.problem.title, error.problem.detail].filter(Boolean).join(" ")
            : "The server does not answer. The picture was not kept; try again in a moment.",
        );
      } finally {
        setBusy(false);
      }
    },
    [view.id, onKept],
  );
  useEffect(() => {
    const taken = (files: FileList | undefined) => {
      const file = [...(files ?? [])].find((f) => f.type.startsWith("image/"));
      if (file) void take(file);
      return file !== undefined;
    };
    const paste = (event: ClipboardEvent) => {
      if (taken(event.clipboardData?.files)) event.preventDefault();
    };
    const drop = (event: DragEvent) => {
      if (event.dataTransfer?.files.length) event.preventDefault();
      taken(event.dataTransfer?.files);
    };
    const over = (event: DragEvent) => event.preventDefault();
    window.addEventListener("paste", paste);
    window.addEventListener("drop", drop);
    window.addEventListener("dragover", over);
    return () => {
      window.removeEventListener("paste", paste);
      window.removeEventListener("drop", drop);
      window.removeEventListener("dragover", over);
    };
  }, [take]);
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      <FileButton
        words={busy ? "Taking it in…" : "Add a picture"}
        spoken="A picture as a file"
        accept="image/png,image/jpeg,image/webp"
        onFile={(file) => void take(file)}
      />
      <Button onClick={() => window.location.assign(`/api/builds/${view.id}/log/file/log.pdf`)}>
        Print it (PDF)
      </Button>
      <Button onClick={() => window.location.assign(`/api/builds/${view.id}/log/file/readings.csv`)}>
        Readings as table (CSV)
      </Button>
      <Button onClick={() => window.location.assign(`/api/builds/${view.id}/log/file/log.json`)}>
        Log as file (JSON)
      </Button>
      {wrong && (
        <p role="alert" className="w-full border-stop border-l-4 pl-3">
          {wrong}
        </p>
      )}
    </div>
  );
}

/** A line to write down. What is typed stays until it is kept. */
function Note({ onKept }: { onKept: () => Promise<unknown> }) {
  const { view } = useSheet();
  const [text, setText] = useState("");
  const [part, setPart] = useState("");
  const keep = useMutation({
    mutationFn: (key: string) =>
      answer(
        api.POST("/api/builds/{id}/log", {
          params: { path: { id: view.id }, header: { "Idempotency-Key": key } },
          body: { kind: "note", text, part },
        }),
      ),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
    onSuccess: async () => {
      setText("");
      await onKept();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim()) keep.mutate(crypto.randomUUID());
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3" aria-label="Write a note">
      <label className="flex min-w-64 grow flex-col gap-0.5">
        <span className="text-faint text-small">Write down what you saw or did</span>
        <textarea
          value={text}
          rows={2}
          maxLength={10_000}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) submit(event);
          }}
          className="rounded-sheet border border-ink/40 bg-sheet px-3 py-1 text-large"
        />
      </label>
      <div className="w-48">
        <About value={part} onChange={setPart} />
      </div>
      <Button look="main" type="submit" disabled={!text.trim() || keep.isPending}>
        Keep it
      </Button>
      {keep.isPending && keep.failureReason && (
        <p role="status" className="w-full">
          {keep.failureReason.message} The note is kept here. Trying again…
        </p>
      )}
      {keep.error instanceof ProblemError && (
        <p role="alert" className="w-full border-stop border-l-4 pl-3">
          {keep.error.problem.title} {keep.error.problem.detail}
        </p>
      )}
    </form>
  );
}
