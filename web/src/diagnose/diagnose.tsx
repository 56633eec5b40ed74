import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { AwayError, answer, api, type Diagnosis, type Observation, ProblemError } from "../api/client";
import { inWords } from "../api/errors";
import { Where } from "../map/where";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { keepSeen, storedSeen } from "../shared/observed";
import { waitLonger } from "../shared/wait";
import { Causes } from "./causes";
import { Question } from "./question";
import { Seen } from "./seen";
import { Things } from "./things";

/** The Diagnose section: what it does, then one question at a time until one cause is left. */
export function Diagnose() {
  const { view } = useSheet();
  const [params] = useSearchParams();
  const [seen, setSeen] = useState<Observation[]>(() => withOne(storedSeen(view.id), params));
  const [built, setBuilt] = useState(false);
  const [changing, change] = useState(false);
  const [found, setFound] = useState<string>();
  const queries = useQueryClient();
  const ask = (observations: Observation[]) =>
    answer(
      api.POST("/api/builds/{id}/diagnosis", {
        params: { path: { id: view.id } },
        body: { observations, built },
      }),
    );
  const diagnosis = useQuery({
    queryKey: ["diagnosis", view.id, view.tag, built, seen],
    queryFn: () => ask(seen),
    placeholderData: keepPreviousData,
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  // What can be pointed at, where what was seen is not understood.
  const bare = useQuery({
    queryKey: ["diagnosis", view.id, view.tag, built, []],
    queryFn: () => ask([]),
    enabled: diagnosis.isError && seen.length > 0,
  });
  // An answer that comes when something else was decided meanwhile counts no more.
  const turn = useRef(0);
  const observe = (next: Observation[]) => {
    turn.current++;
    keepSeen(view.id, next);
    setSeen(next);
    setFound(undefined);
  };
  // An answer counts when it was understood.
  const put = useMutation({
    mutationFn: async (o: Observation) => {
      const next = [...seen.filter((s) => s.ask !== o.ask), o];
      const mine = turn.current;
      return { next, mine, data: await ask(next) };
    },
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
    onSuccess: ({ next, mine, data }) => {
      if (mine !== turn.current) return;
      queries.setQueryData(["diagnosis", view.id, view.tag, built, next], data);
      observe(next);
    },
  });
  if (view.document.parts.length === 0) {
    return (
      <main className="max-w-prose p-6 text-large">
        There is nothing that could be wrong yet. Put parts into the plan; when the build does not do what it
        should, come here.
      </main>
    );
  }
  if (diagnosis.isError && bare.data) {
    // What was pointed at stays; only what is not understood is to be said again.
    return (
      <Things
        build={view.id}
        things={bare.data.things}
        readings={[]}
        seen={seen}
        heard={[]}
        considered={bare.data.considered}
        found={undefined}
        at={undefined}
        built={view.document.assembly?.built ? built : undefined}
        onBuilt={setBuilt}
        problem={told(diagnosis.error)}
        onDone={observe}
      />
    );
  }
  if (diagnosis.isError && !bare.isFetching) {
    return (
      <main className="space-y-3 p-6" role="alert">
        <p>{told(diagnosis.error)}</p>
        <Button onClick={() => void diagnosis.refetch()}>Try again</Button>
      </main>
    );
  }
  if (!diagnosis.data) {
    return (
      <main className="p-6 text-large" aria-live="polite">
        Thinking of all that could be wrong…
      </main>
    );
  }
  const d = diagnosis.data;
  if (seen.length === 0 || changing) {
    return (
      <Things
        build={view.id}
        things={d.things}
        readings={d.readings}
        seen={seen}
        heard={d.seen}
        considered={d.considered}
        found={found}
        at={params.get("part") ?? undefined}
        built={view.document.assembly?.built ? built : undefined}
        onBuilt={setBuilt}
        onDone={(next) => {
          change(false);
          observe(next);
        }}
      />
    );
  }
  const busy = diagnosis.isFetching || put.isPending;
  return (
    <main className="flex min-h-0 grow flex-col lg:flex-row">
      <div className="flex min-h-0 min-w-0 grow flex-col overflow-auto">
        {d.sure || !d.next ? (
          <Cure
            d={d}
            busy={busy}
            onUnchanged={put.mutate}
            onWorks={(words) => {
              observe([]);
              setFound(words);
            }}
          />
        ) : (
          <Question
            key={d.next.ask}
            next={d.next}
            busy={busy}
            problem={put.isError ? told(put.error) : undefined}
            onAnswer={put.mutate}
          />
        )}
        <Where ends={d.sure || !d.next ? (d.causes[0]?.ends ?? []) : d.next.ends} />
      </div>
      <aside
        aria-label="What is left"
        className="max-h-[45vh] w-full shrink-0 overflow-auto border-rule border-t lg:max-h-none lg:w-96 lg:border-t-0 lg:border-l"
      >
        <Causes causes={d.causes} considered={d.considered} unknown={d.unknown} />
        <Seen
          things={d.things}
          seen={seen}
          said={d.seen}
          onDrop={(ask) => observe(seen.filter((s) => s.ask !== ask))}
          onChange={() => change(true)}
          onAnew={() => observe([])}
        />
      </aside>
    </main>
  );
}

/** What was seen, with what another section has sent along: a reading that was not as expected. */
function withOne(seen: Observation[], params: URLSearchParams): Observation[] {
  const ask = params.get("ask");
  const answer = params.get("answer");
  if (!ask || !answer) return seen;
  return [...seen.filter((o) => o.ask !== ask), { ask, answer }];
}

function told(error: Error): string {
  return error instanceof ProblemError ? inWords(error.problem) : error.message;
}

/** The end: what to put right, what proves it, and a line for the log. */
function Cure({
  d,
  busy,
  onUnchanged,
  onWorks,
}: {
  d: Diagnosis;
  busy: boolean;
  onUnchanged: (o: Observation) => void;
  onWorks: (words: string) => void;
}) {
  const { view } = useSheet();
  const queries = useQueryClient();
  const cause = d.causes[0];
  const keep = useMutation({
    mutationFn: (line: { text: string; key: string }) =>
      answer(
        api.POST("/api/builds/{id}/log", {
          params: { path: { id: view.id }, header: { "Idempotency-Key": line.key } },
          body: { kind: "fault", text: line.text },
        }),
      ),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["log", view.id] });
      onWorks(cause?.words ?? "");
    },
  });
  if (!cause || cause.faults.length === 0) {
    return (
      <section aria-label="No cause" className="border-rule border-b bg-sheet px-4 py-3">
        <p className="text-large">{d.assumed}</p>
        <p>What was seen stands on the side; whatever of it you look at again, put right there.</p>
      </section>
    );
  }
  const [unchanged] = cause.try;
  return (
    <section aria-label="Put this right" className="border-rule border-b bg-sheet px-4 py-3" aria-busy={busy}>
      <p className="text-faint">
        {d.sure ? "It is most likely this:" : "No question tells more. The likeliest is this:"}
      </p>
      <p className="my-1 font-semibold text-large leading-snug">{cause.words}</p>
      <p className="my-2 text-large">{cause.cure}</p>
      {cause.proof && <p className="my-2 border-good border-l-4 pl-2">It was this if then: {cause.proof}</p>}
      {!d.sure && d.unexplained.length > 0 && (
        <p className="my-2 border-care border-l-4 pl-2">
          It does not explain that {d.unexplained.join(", nor that ")}. {d.assumed}
        </p>
      )}
      <div className="mt-3 flex flex-wrap gap-3">
        <Button
          look="main"
          className="px-6 py-2 text-large"
          disabled={keep.isPending}
          onClick={() =>
            keep.mutate({ text: `Found: ${cause.words} ${cause.cure}`, key: crypto.randomUUID() })
          }
        >
          It works now
        </Button>
        <Button
          className="px-6 py-2 text-large"
          disabled={busy || !unchanged}
          onClick={() => unchanged && onUnchanged(unchanged)}
        >
          No change
        </Button>
      </div>
      {keep.isPending && keep.failureReason && (
        <p aria-live="polite">{keep.failureReason.message} Trying again…</p>
      )}
      {keep.isError && <p role="alert">{keep.error.message}</p>}
    </section>
  );
}
