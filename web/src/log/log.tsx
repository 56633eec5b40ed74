import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useCallback, useEffect, useRef, useState } from "react";
import { AwayError, answer, api, type LogEntry, ProblemError } from "../api/client";
import { inWords } from "../api/errors";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { download } from "../shared/download";
import { FileButton } from "../shared/file-button";
import { useKept } from "../shared/kept";
import { SearchField } from "../shared/search-field";
import { waitLonger } from "../shared/wait";
import { folded } from "./folded";
import { Fold, Line } from "./lines";

/** The Log section: the book of the build, the newest line first. */
export function Log() {
  const { view } = useSheet();
  const queries = useQueryClient();
  const [kind, setKind] = useState("");
  const [part, setPart] = useState("");
  const [search, setSearch] = useState("");
  const [struck, setStruck] = useState<LogEntry>();
  const [on, setOn] = useState<LogEntry>(); // the line that a note is written on
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is done to the build has its line
  useEffect(() => void again(), [view.tag, again]);
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
      <Note
        on={on}
        onKept={async () => {
          setOn(undefined);
          await again();
        }}
        onLeave={() => setOn(undefined)}
      />
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
            <Line
              key={entry.id}
              entry={entry}
              since={since(entry)}
              onto={entry.about ? entries?.find((e) => e.id === entry.about) : undefined}
              onStrike={() => void strike(entry)}
              onNote={() => setOn(entry)}
            />
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

/** Takes pictures in: chosen, taken with the camera, dropped on the page or pasted. */
function Pictures({ onKept }: { onKept: () => Promise<unknown> }) {
  const { view } = useSheet();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string[]>([]);
  const take = useCallback(
    async (file: File) => {
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
        return [];
      } catch (error) {
        const why =
          error instanceof ProblemError
            ? inWords(error.problem)
            : "The server does not answer. Try again in a moment.";
        return [`${file.name || "The picture"} was not kept. ${why}`];
      }
    },
    [view.id, onKept],
  );
  const takeAll = useCallback(
    async (files: File[]) => {
      setBusy(true);
      setWrong([]);
      const failed: string[] = [];
      for (const file of files) failed.push(...(await take(file)));
      setWrong(failed);
      setBusy(false);
    },
    [take],
  );
  useEffect(() => {
    const taken = (files: FileList | undefined) => {
      const pictures = [...(files ?? [])].filter((f) => f.type.startsWith("image/"));
      void takeAll(pictures);
      return pictures.length > 0;
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
  }, [takeAll]);
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      <FileButton
        words={busy ? "Taking it in…" : "Add a picture"}
        spoken="A picture as a file"
        accept="image/png,image/jpeg,image/webp"
        onFile={(file) => void takeAll([file])}
      />
      <Button onClick={() => void download(`/api/builds/${view.id}/log/file/log.pdf`)}>Print it (PDF)</Button>
      <Button onClick={() => void download(`/api/builds/${view.id}/log/file/readings.csv`)}>
        Readings as table (CSV)
      </Button>
      <Button onClick={() => void download(`/api/builds/${view.id}/log/file/log.json`)}>
        Log as file (JSON)
      </Button>
      {wrong.map((words) => (
        <p key={words} role="alert" className="w-full border-stop border-l-4 pl-3">
          {words}
        </p>
      ))}
    </div>
  );
}

/** A line to write down. What is typed stays until it is kept. */
function Note({
  on,
  onKept,
  onLeave,
}: {
  /** The line that it is on; without, on the build or a part. */
  on: LogEntry | undefined;
  onKept: () => Promise<unknown>;
  onLeave: () => void;
}) {
  const { view } = useSheet();
  const [text, setText] = useKept(`note.${view.id}`, "");
  const [part, setPart] = useKept(`note-about.${view.id}`, "");
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (on) setPart(on.part ?? "");
    if (on) field.current?.focus(); // what was typed before stays
  }, [on, setPart]);
  const keep = useMutation({
    mutationFn: (key: string) =>
      answer(
        api.POST("/api/builds/{id}/log", {
          params: { path: { id: view.id }, header: { "Idempotency-Key": key } },
          body: { kind: "note", text, part, about: on?.id },
        }),
      ),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
    onSuccess: async () => {
      setText("");
      setPart("");
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
        <span className="text-faint text-small">
          {on ? `Write a note on the reading ${on.reading?.verdict.text}` : "Write down what you saw or did"}
        </span>
        <textarea
          ref={field}
          data-next="log"
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
      {on && (
        <Button look="quiet" onClick={onLeave}>
          Leave it
        </Button>
      )}
      {keep.isPending && keep.failureReason && (
        <p role="status" className="w-full">
          {keep.failureReason.message} The note is kept here. Trying again…
        </p>
      )}
      {keep.error instanceof ProblemError && (
        <p role="alert" className="w-full border-stop border-l-4 pl-3">
          {inWords(keep.error.problem)}
        </p>
      )}
    </form>
  );
}
