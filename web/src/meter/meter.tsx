import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Volume2 } from "lucide-react";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { AwayError, answer, api, type LogEntry, type MeterCheck, ProblemError } from "../api/client";
import { inWords } from "../api/errors";
import { Where } from "../map/where";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { useKept } from "../shared/kept";
import { waitLonger } from "../shared/wait";
import { Feed } from "./feed";
import { List } from "./list";
import { ToDrawer } from "./to-drawer";

const logKey = (id: string) => ["log", id];

/** The Meter section: one thing to measure at a time, large, for someone with a probe in each hand. */
export function Meter() {
  const { view } = useSheet();
  const checks = useQuery({
    queryKey: ["checks", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/checks", { params: { path: { id: view.id } } })),
    placeholderData: keepPreviousData,
  });
  const readings = useQuery({
    queryKey: [...logKey(view.id), "reading"],
    queryFn: () =>
      answer(
        api.GET("/api/builds/{id}/log", { params: { path: { id: view.id }, query: { kind: "reading" } } }),
      ),
  });
  const [chosen, choose] = useState<string>();
  if (view.document.parts.length === 0) {
    return (
      <main className="max-w-prose p-6 text-large">
        There is nothing to measure yet. Put parts into the plan; what a meter must read stands here then.
      </main>
    );
  }
  if (checks.isError) {
    return (
      <main className="space-y-3 p-6" role="alert">
        <p>{checks.error.message}</p>
        <Button onClick={() => void checks.refetch()}>Try again</Button>
      </main>
    );
  }
  if (!checks.data) {
    return (
      <main className="p-6 text-large" aria-live="polite">
        Working out what tells most…
      </main>
    );
  }
  const last = new Map<string, LogEntry>();
  const all = readings.data?.entries ?? [];
  for (const entry of all) {
    const check = entry.reading?.check;
    if (check && !last.has(check)) last.set(check, entry);
  }
  const list = checks.data.checks;
  const next = list.find((c) => last.get(c.id)?.reading?.verdict.means !== "expected") ?? list[0];
  const check = list.find((c) => c.id === chosen) ?? next;
  if (!check) return <main className="p-6">There is nothing that a meter could tell here.</main>;
  const go = (by: number) =>
    choose(list[Math.min(Math.max(list.indexOf(check) + by, 0), list.length - 1)]?.id);
  return (
    <main className="flex min-h-0 grow flex-col lg:flex-row">
      <div className="flex min-h-0 min-w-0 grow flex-col lg:order-2">
        <One
          key={check.id}
          check={check}
          number={list.indexOf(check) + 1}
          of={list.length}
          entry={last.get(check.id)}
          past={all.filter((e) => e.reading?.check === check.id).reverse()}
          onJudge={() => choose(check.id)} // and its verdict stays until one goes on
          onNext={() => go(1)}
          onBack={() => go(-1)}
        />
        <Feed readings={all} />
        <Where ends={[check.red.end, check.black?.end].filter((e) => e !== undefined)} />
      </div>
      <nav
        aria-label="What to measure"
        className="max-h-[30vh] w-full shrink-0 overflow-auto border-rule border-t lg:order-1 lg:max-h-none lg:w-80 lg:border-t-0 lg:border-r"
      >
        <List checks={list} current={check} last={last} onChoose={choose} />
        <p className="border-rule border-t px-3 py-2 text-faint text-small">
          {list.length} readings tell {checks.data.faults} things that can be wrong.
          {checks.data.unshown.length > 0 && ` ${checks.data.unshown.length} more show in no reading.`} Meter:{" "}
          {checks.data.meter}.{" "}
          <Link to="/drawer#meter" className="text-copper underline underline-offset-4">
            Yours is another?
          </Link>
        </p>
      </nav>
    </main>
  );
}

const ways: Record<string, string> = {
  volts: "volts, DC",
  amps: "milliamperes, DC",
  ohms: "ohms",
  lifted: "ohms",
  diode: "diode",
  continuity: "continuity",
  counts: "the console",
};

/** One check, large. */
function One({
  check,
  number,
  of,
  entry,
  past,
  onJudge,
  onNext,
  onBack,
}: {
  check: MeterCheck;
  number: number;
  of: number;
  entry: LogEntry | undefined;
  /** All readings of it, the oldest first. */
  past: LogEntry[];
  onJudge: () => void;
  onNext: () => void;
  onBack: () => void;
}) {
  const { view, board, edit } = useSheet();
  const queries = useQueryClient();
  const [text, setText] = useKept(`reading.${view.id}.${check.id}`, "");
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const keep = useMutation({
    mutationFn: (reading: { text: string; key: string }) =>
      answer(
        api.POST("/api/builds/{id}/log", {
          params: { path: { id: view.id }, header: { "Idempotency-Key": reading.key } },
          body: { kind: "reading", check: check.id, reading: reading.text },
        }),
      ),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
    onSuccess: async () => {
      setText("");
      await queries.invalidateQueries({ queryKey: logKey(view.id) });
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() === "" && entry) onNext();
    else {
      onJudge();
      keep.mutate({ text, key: crypto.randomUUID() });
    }
  };
  const kept = keep.data ?? entry;
  const verdict = kept?.reading?.verdict;
  const problem = keep.error instanceof ProblemError ? keep.error.problem : undefined;
  const state = check.state ?? [];
  // What is read at the rail that the supply feeds straight is what the supply has.
  const supply = board.supplies.find((s) => s.id === view.document.supply) ?? board.supplies[0];
  const feeds =
    supply && !supply.regulator && check.id === `volts:board.${supply.rail}:board.${board.ground}`;
  return (
    <section aria-label="Measure" className="border-rule border-b bg-sheet px-4 py-3">
      <div className="flex flex-wrap items-center gap-3 text-faint">
        <span>
          {number} of {of} · {check.group}
        </span>
        <span className="grow" />
        <Speak check={check} />
        <Button look="quiet" onClick={onBack}>
          Back
        </Button>
        <Button look="quiet" onClick={onNext}>
          Next
        </Button>
      </div>
      <p className="my-1 font-semibold text-large leading-snug">{check.do}</p>
      {(state.length > 0 || check.how) && (
        <p className="my-1 border-care border-l-4 pl-2">
          {state.join(" ")} {check.how && <span className="text-faint">{check.how}</span>}
        </p>
      )}
      <div className="my-2 flex flex-wrap items-end gap-x-8 gap-y-2">
        <p>
          <span className="block text-faint text-small">
            {check.question.way === "counts"
              ? "Without the meter, from"
              : `Set the meter to ${ways[check.question.way]}`}
          </span>
          <span className="font-mono text-large">{check.expect.range}</span>
        </p>
        <p>
          <span className="block text-faint text-small">It should read</span>
          <span className="font-mono font-semibold text-[2rem] leading-none">{check.expect.text}</span>
        </p>
      </div>
      <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col gap-0.5">
          <span className="text-faint text-small">It reads</span>
          <input
            ref={field}
            data-next="test"
            value={text}
            maxLength={40}
            onChange={(event) => {
              setText(event.target.value);
            }}
            placeholder={check.question.way === "continuity" ? "beep, or OL" : check.expect.typText}
            autoComplete="off"
            spellCheck={false}
            aria-describedby="verdict"
            className="w-48 rounded-sheet border border-ink/60 bg-sheet px-3 py-1 font-mono text-large placeholder:text-faint"
          />
        </label>
        <Button look="main" type="submit" className="px-6 py-2 text-large">
          {text.trim() === "" && entry ? "Next" : "Check the reading"}
        </Button>
        <div id="verdict" aria-live="polite" className="min-w-60 grow">
          {keep.isPending && keep.failureReason && (
            <p>{keep.failureReason.message} The reading is kept here. Trying again…</p>
          )}
          {problem && (
            <p role="alert" className="border-stop border-l-4 pl-3">
              {inWords(problem)}
            </p>
          )}
        </div>
      </form>
      {verdict && !problem && (
        <div
          className={`mt-3 border-l-8 pl-3 ${verdict.means === "unexpected" ? "border-stop" : verdict.means === "edge" ? "border-care" : "border-good"}`}
        >
          <p className="text-large">
            <span className="font-mono font-semibold">{verdict.text}</span> {verdict.words}
          </p>
          {verdict.causes.length > 0 && (
            <ol className="mt-1 list-decimal space-y-1 pl-6">
              {verdict.causes.map((cause) => (
                <li key={cause.fault}>
                  {cause.words} <span className="text-faint">{cause.look}</span>
                </li>
              ))}
            </ol>
          )}
          {verdict.means === "unexpected" && (
            <p className="mt-1">
              <Link
                to={`../diagnose?${new URLSearchParams({ ask: `taken:${check.id}`, answer: verdict.text })}`}
                className="text-copper underline underline-offset-4"
              >
                Find the fault with this reading
              </Link>
            </p>
          )}
          {check.value && verdict.means !== "unexpected" && !verdict.over && check.part && (
            <Button
              className="mt-2"
              onClick={() =>
                edit(`take ${verdict.text} as measured`, {
                  op: "measure",
                  part: check.part ?? "",
                  value: check.value ?? "",
                  text: verdict.text,
                })
              }
            >
              Reckon with {verdict.text} from now on
            </Button>
          )}
          {check.value && verdict.means !== "unexpected" && check.part && kept && !verdict.over && (
            <ToDrawer key={kept.id} partId={check.part} valueId={check.value} entry={kept} />
          )}
          {feeds && verdict.means !== "unexpected" && !view.document.cells && (
            <Button
              className="mt-2"
              onClick={() =>
                edit(`feed it with ${verdict.text}`, {
                  op: "supply",
                  supply: supply.id,
                  with: view.document.also,
                  text: verdict.text,
                })
              }
            >
              Reckon with a supply of {verdict.text} from now on
            </Button>
          )}
          <Past readings={past} check={check} />
        </div>
      )}
    </section>
  );
}

/** What was read of one check before: a small chart from three readings on. */
function Past({ readings, check }: { readings: LogEntry[]; check: MeterCheck }) {
  const values = readings.flatMap((e) =>
    e.reading && !e.reading.verdict.over ? [e.reading.verdict.value] : [],
  );
  if (readings.length < 2) return null;
  const { low, high } = check.expect;
  const least = Math.min(low, ...values);
  const most = Math.max(high, ...values);
  const y = (v: number) => 44 - (40 * (v - least)) / (most - least || 1);
  const x = (i: number) => 6 + (188 * i) / Math.max(values.length - 1, 1);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-4 text-small">
      <p className="text-faint">
        Read {readings.length} times: {readings.map((e) => e.reading?.verdict.text).join(", ")}
      </p>
      {values.length > 2 && !check.expect.over && (
        <svg viewBox="0 0 200 48" className="h-12 w-50" role="img" aria-label="The readings in their order">
          <rect x="0" width="200" y={y(high)} height={Math.max(y(low) - y(high), 1)} fill="var(--wash)" />
          <polyline
            points={values.map((v, i) => `${x(i)},${y(v)}`).join(" ")}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
          {values.map((v, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: readings are told apart by their order alone
            <circle key={i} cx={x(i)} cy={y(v)} r="3" fill="var(--copper)" />
          ))}
        </svg>
      )}
    </div>
  );
}

/** Says the check aloud, where the browser has a voice, so that the eyes may stay on the probes. */
function Speak({ check }: { check: MeterCheck }) {
  if (!("speechSynthesis" in window)) return null;
  return (
    <Button
      look="quiet"
      onClick={() => {
        const words = [check.do, ...(check.state ?? []), `It should read ${check.expect.typText}.`].join(" ");
        window.speechSynthesis.cancel();
        window.speechSynthesis.speak(new SpeechSynthesisUtterance(words));
      }}
    >
      <Volume2 size={18} aria-hidden /> Say it
    </Button>
  );
}
