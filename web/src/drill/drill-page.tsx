import { useMutation, useQuery } from "@tanstack/react-query";
import { Check } from "lucide-react";
import { type FormEvent, useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { AwayError, answer, api } from "../api/client";
import type { components } from "../generated/api";
import { Button, Choice } from "../shared/controls";
import { Head } from "../shared/head";
import { waitLonger } from "../shared/wait";
import { type Found, score, skills } from "./record";
import { kindNames } from "./words";

type New = components["schemas"]["NewDrill"];

/** Where a drill begins: ten lessons, a draw, a code from a friend, and how it went so far. */
export function DrillPage() {
  const go = useNavigate();
  const [params] = useSearchParams();
  const [build, setBuild] = useState(params.get("build") ?? "");
  const [kind, setKind] = useState("");
  const [code, setCode] = useState("");
  useEffect(() => {
    document.title = "Drill – Cablaggio";
  }, []);
  const list = useQuery({
    queryKey: ["drills"],
    queryFn: () => answer(api.GET("/api/drills")),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  const own = useQuery({
    queryKey: ["builds", "", false, "drill"],
    queryFn: () => answer(api.GET("/api/builds", { params: { query: { search: "", bin: false, skip: 0 } } })),
  });
  const record = useQuery({
    queryKey: ["drills", "record"],
    queryFn: () => answer(api.GET("/api/drills/record")),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  const done = record.data?.found ?? [];
  const begin = useMutation({
    mutationFn: (wanted: New) => answer(api.POST("/api/drills", { body: wanted })),
    onSuccess: (d, wanted) =>
      go(`/drill/${d.code}${wanted.lesson ? `?lesson=${encodeURIComponent(wanted.lesson)}` : ""}`),
  });
  const passed = new Map(done.filter((f) => f.lesson).map((f) => [f.lesson, score(f.spent, f.par)]));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (code.trim()) begin.mutate({ code: code.trim() });
  };
  return (
    <main className="mx-auto max-w-5xl px-6 py-5">
      <Head here="Drill">
        <p className="text-faint">A fault is hidden on a bench. Look, try, measure, and name it.</p>
      </Head>
      {begin.isError && (
        <p role="alert" className="mt-3 border-stop border-l-4 pl-3">
          {begin.error.message}
        </p>
      )}
      <div className="mt-4 grid gap-8 md:grid-cols-[3fr_2fr]">
        <section aria-labelledby="lessons">
          <h2 id="lessons" className="font-semibold text-large">
            Ten lessons, in order
          </h2>
          <ol className="mt-2">
            {list.data?.lessons.map((l, i) => {
              const got = passed.get(l.id);
              return (
                <li key={l.id} className="border-rule border-b">
                  <button
                    type="button"
                    disabled={begin.isPending}
                    onClick={() => begin.mutate({ lesson: l.id })}
                    className="flex w-full items-center gap-3 px-2 py-3 text-left hover:bg-wash"
                  >
                    <span className="w-8 shrink-0 text-right font-mono text-faint">{i + 1}</span>
                    <span className="grow">{l.title}</span>
                    {got !== undefined && (
                      <span className="flex items-center gap-1 font-mono text-good">
                        <Check size={18} aria-label="found" /> {got}
                      </span>
                    )}
                  </button>
                </li>
              );
            })}
          </ol>
          {list.isPending && <p aria-live="polite">Opening…</p>}
        </section>
        <div className="space-y-8">
          <section aria-labelledby="draw" className="space-y-3">
            <h2 id="draw" className="font-semibold text-large">
              Draw one
            </h2>
            <Choice label="On" value={build} onChange={setBuild}>
              <option value="">any ready build</option>
              <optgroup label="Ready builds">
                {list.data?.builds.map((b) => (
                  <option key={b.id} value={b.id}>
                    {b.title}
                  </option>
                ))}
              </optgroup>
              <optgroup label="Your builds">
                {own.data?.builds.map((b) => (
                  <option key={b.id} value={b.id}>
                    {b.title}
                  </option>
                ))}
              </optgroup>
            </Choice>
            <Choice label="What may be wrong" value={kind} onChange={setKind}>
              <option value="">anything</option>
              {Object.entries(kindNames).map(([id, name]) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Choice>
            <Button
              look="main"
              className="px-6 py-2"
              disabled={begin.isPending}
              onClick={() => begin.mutate({ build, kind: kind as New["kind"] })}
            >
              Hide a fault
            </Button>
          </section>
          <section aria-labelledby="code" className="space-y-2">
            <h2 id="code" className="font-semibold text-large">
              A code from a friend
            </h2>
            <form onSubmit={submit} className="flex gap-2">
              <input
                aria-label="The code of a drill"
                value={code}
                maxLength={40}
                onChange={(event) => setCode(event.target.value)}
                placeholder="BLINK-7K2QMA"
                autoComplete="off"
                spellCheck={false}
                className="min-w-0 grow rounded-sheet border border-ink/60 bg-sheet px-2 font-mono uppercase placeholder:text-faint"
              />
              <Button type="submit" disabled={begin.isPending || !code.trim()}>
                Begin
              </Button>
            </form>
          </section>
          {record.data && <Record found={done} />}
        </div>
      </div>
    </main>
  );
}

/** How it went so far, by kind of fault: bars of the trouble that was spent beside what had to be. */
function Record({ found }: { found: Found[] }) {
  const list = skills(found);
  if (list.length === 0) {
    return (
      <p className="text-faint">
        What you find is kept: how fast, by the kind of fault, and what to practise next.
      </p>
    );
  }
  const most = Math.max(2, ...list.map((s) => s.ratio));
  const [first] = list;
  return (
    <section aria-labelledby="record">
      <h2 id="record" className="font-semibold text-large">
        Your record
      </h2>
      <p className="text-faint text-small">Trouble spent, beside what the diagnosis spends (1).</p>
      <ul className="mt-1 space-y-1">
        {list.map((s) => (
          <li key={s.kind} className="grid grid-cols-[9rem_1fr_3rem] items-center gap-2">
            <span className="truncate text-small">{kindNames[s.kind] ?? s.kind}</span>
            <span className="relative h-3 bg-wash" aria-hidden>
              <span
                className="absolute inset-y-0 left-0 bg-copper"
                style={{ width: `${(100 * s.ratio) / most}%` }}
              />
              <span className="absolute inset-y-0 w-0.5 bg-ink" style={{ left: `${100 / most}%` }} />
            </span>
            <span className="text-right font-mono text-small">{s.ratio.toFixed(1)}</span>
          </li>
        ))}
      </ul>
      {first && first.ratio > 1.2 && (
        <p className="mt-2">Practise next: {(kindNames[first.kind] ?? first.kind).toLowerCase()}.</p>
      )}
    </section>
  );
}
