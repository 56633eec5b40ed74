import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { AwayError, answer, api } from "../api/client";
import type { components } from "../generated/api";
import { HoleMap } from "../map/hole-map";
import { Button } from "../shared/controls";
import { Head } from "../shared/head";
import { Message } from "../shared/page";
import { waitLonger } from "../shared/wait";
import { Choices } from "./choices";
import { Name } from "./name";
import { keepNotes, type Noted, notes, score } from "./record";

type View = components["schemas"]["DrillView"];
type End = components["schemas"]["DrillEnd"];
type Hint = components["schemas"]["DrillHint"];

const hintCosts = 1;
const wrongGuessCosts = 2;
const nothing = { parts: [], wires: [] };

/** One drill: what the bench does, what one may ask of it, the notebook, and the guess. */
export function Drill() {
  const { code = "" } = useParams();
  const view = useQuery({
    queryKey: ["drill", code],
    queryFn: () => answer(api.POST("/api/drills", { body: { code } })),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
    staleTime: Number.POSITIVE_INFINITY,
  });
  useEffect(() => {
    document.title = "Drill – Cablaggio";
  }, []);
  if (view.isError) return <Message title="This is not the code of a drill." />;
  if (!view.data) {
    return (
      <p className="p-6" aria-live="polite">
        Building it up…
      </p>
    );
  }
  return <Bench key={code} view={view.data} />;
}

function Bench({ view }: { view: View }) {
  const [params] = useSearchParams();
  const queries = useQueryClient();
  const [book, setBook] = useState<Noted[]>(() => notes(view.code));
  const [ends, setEnds] = useState<string[]>([]);
  const [end, setEnd] = useState<End>();
  const [hint, setHint] = useState<Hint>();
  const [missed, setMissed] = useState(false);
  const spent = book.reduce((sum, n) => sum + n.spent, 0);
  const note = (n: Noted) => {
    const next = [...book, n];
    keepNotes(view.code, next);
    setBook(next);
    setMissed(false);
  };
  const path = { code: view.code };
  const ask = useMutation({
    mutationFn: (x: { ask: string; words: string; trouble: number }) =>
      answer(api.POST("/api/drills/{code}/ask", { params: { path }, body: { ask: x.ask } })),
    onSuccess: (a, x) => {
      setHint(undefined);
      note({ ask: a.ask, answer: a.answer, words: `${x.words} ${a.words}`, spent: x.trouble });
    },
  });
  const help = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/drills/{code}/hint", {
          params: { path },
          body: {
            observations: book.filter((n) => n.ask !== "").map(({ ask, answer }) => ({ ask, answer })),
          },
        }),
      ),
    onSuccess: (h) => {
      setHint(h);
      note({ ask: "", answer: "", words: `A hint: ${h.words}`, spent: hintCosts });
    },
  });
  const guess = useMutation({
    mutationFn: (cure: string) =>
      answer(
        api.POST("/api/drills/{code}/name", {
          params: { path, header: { "Idempotency-Key": crypto.randomUUID() } },
          body: { cure, spent, lesson: params.get("lesson") ?? undefined },
        }),
      ),
    onSuccess: (e) => {
      if (!e.right) {
        note({ ask: "", answer: "", words: "A wrong guess.", spent: wrongGuessCosts });
        setMissed(true);
        return;
      }
      void queries.invalidateQueries({ queryKey: ["drills", "record"] });
      keepNotes(view.code, []);
      setEnd(e);
    },
  });
  const failed = ask.error ?? help.error ?? guess.error;
  return (
    <main className="mx-auto max-w-6xl px-6 py-5">
      <Head here="Drill">
        <p>
          {view.title} · <span className="font-mono">{view.code}</span>
        </p>
        <output className="font-mono" aria-label="Trouble spent">
          trouble {spent.toFixed(1)}
        </output>
      </Head>
      {failed && (
        <p role="alert" className="mt-3 border-stop border-l-4 pl-3">
          {failed.message}
        </p>
      )}
      {end ? (
        <Ended end={end} spent={spent} />
      ) : (
        <div className="mt-4 grid gap-6 lg:grid-cols-[1fr_24rem]">
          <div className="min-w-0 space-y-5">
            <Does view={view} />
            <Choices
              view={view}
              busy={ask.isPending}
              at={hint?.part}
              onAsk={(x) => {
                setEnds(x.ends);
                ask.mutate(x);
              }}
              onShow={setEnds}
            />
          </div>
          <aside className="space-y-5">
            <section aria-label="Notebook">
              <h2 className="bg-wash px-3 py-1.5 font-semibold">Notebook</h2>
              <ol aria-live="polite">
                {book.map((n, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: lines are told apart by their order
                  <li key={i} className="flex gap-2 border-rule border-b px-3 py-1.5">
                    <span className="min-w-0 grow">{n.words}</span>
                    <span className="shrink-0 font-mono text-faint text-small">+{n.spent.toFixed(1)}</span>
                  </li>
                ))}
              </ol>
              {book.length === 0 && (
                <p className="px-3 py-2 text-faint">Nothing yet. Each question costs trouble; few do.</p>
              )}
              <Button className="m-3" disabled={help.isPending} onClick={() => help.mutate()}>
                A hint (+{hintCosts})
              </Button>
            </section>
            <Name view={view} busy={guess.isPending} missed={missed} onName={(cure) => guess.mutate(cure)} />
            <div className="flex h-80 flex-col border border-rule">
              <HoleMap
                map={view.map}
                whole={ends.length === 0}
                now={{ ...nothing, ends }}
                done={ends.length === 0 ? undefined : nothing}
                onLeg={() => {}}
                onHole={() => {}}
              />
            </div>
          </aside>
        </div>
      )}
    </main>
  );
}

/** What everything does, beside what it should. */
function Does({ view }: { view: View }) {
  const [all, showAll] = useState(false);
  const right = view.does.filter((d) => !d.wrong).length;
  return (
    <section aria-label="What it does">
      <h2 className="bg-wash px-3 py-1.5 font-semibold">What it does</h2>
      <table className="w-full">
        <thead>
          <tr className="text-left text-faint text-small">
            <th className="px-3 py-1 font-normal">Thing</th>
            <th className="px-3 font-normal">When</th>
            <th className="px-3 font-normal">It should</th>
            <th className="px-3 font-normal">It does</th>
          </tr>
        </thead>
        <tbody>
          {view.does
            .filter((d) => all || d.wrong)
            .map((d) => (
              <tr key={d.name + d.when} className="border-rule border-t">
                <td className="px-3 py-1">{d.name}</td>
                <td className="px-3 text-faint">{d.when}</td>
                <td className="px-3 font-mono">{d.should}</td>
                <td className={`px-3 font-mono ${d.wrong ? "font-semibold text-stop" : ""}`}>
                  {d.does}
                  {d.wrong && <span className="sr-only"> (not as it should)</span>}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
      {right > 0 && (
        <Button look="quiet" className="w-full justify-start text-faint" onClick={() => showAll(!all)}>
          {all
            ? "Only what is wrong"
            : right === 1
              ? "1 other thing is as it should be: show it"
              : `${right} other things are as they should be: show them`}
        </Button>
      )}
    </section>
  );
}

function Ended({ end, spent }: { end: End; spent: number }) {
  return (
    <section aria-label="Found" className="mt-5 max-w-prose space-y-3 border-good border-l-8 pl-4">
      <p className="font-semibold text-title">Found.</p>
      <p className="text-large">{end.words}</p>
      <p>{end.cure}</p>
      {end.teaches && <p className="border-copper border-l-4 pl-3 text-large">{end.teaches}</p>}
      <p>
        It took you <b>{spent.toFixed(1)}</b> of trouble, the diagnosis <b>{(end.par ?? 0).toFixed(1)}</b>: a
        score of <b>{score(spent, end.par ?? 0)}</b>.
      </p>
      <p>
        <Link to="/drill" className="text-copper text-large underline underline-offset-4">
          Go on
        </Link>
      </p>
    </section>
  );
}
