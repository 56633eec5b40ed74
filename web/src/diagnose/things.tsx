import { useState } from "react";
import { Link } from "react-router";
import type { Observation, Said, Thing } from "../api/client";
import { Button, Choice } from "../shared/controls";
import { inView } from "../shared/in-view";
import { withTheRest } from "../shared/observed";
import { Told } from "./told";

/** The beginning: what each thing does, as far as it is not what it should. */
export function Things({
  build,
  things,
  readings,
  seen,
  heard,
  considered,
  found,
  at,
  built,
  onBuilt,
  problem,
  onDone,
}: {
  /** Its id. */
  build: string;
  things: Thing[];
  /** What the meter read that still applies. */
  readings: Observation[];
  seen: Observation[];
  /** The same in words, as far as it was understood. */
  heard: Said[];
  considered: number;
  /** What was put right last. */
  found: string | undefined;
  /** The part that is pointed at in another section. */
  at: string | undefined;
  /** Whether it begins from what was really built; undefined where nobody has noted that. */
  built: boolean | undefined;
  onBuilt: (built: boolean) => void;
  /** What of what was seen is not understood: answers to questions that are gone are left out then. */
  problem?: string;
  onDone: (seen: Observation[]) => void;
}) {
  const asks = new Set(things.flatMap((t) => t.states.map((s) => s.ask)));
  const [apart, setApart] = useState(() => heard.filter((o) => o.apart)); // what was said of nothing that can be pointed at
  const [withReadings, take] = useState(true);
  const taken = withReadings ? readings : [];
  const other = [
    ...taken,
    ...seen.filter((o) => !problem && !asks.has(o.ask) && !taken.some((r) => r.ask === o.ask)),
  ].filter((o) => ![...apart, ...heard.filter((h) => h.apart)].some((a) => a.ask === o.ask));
  const [said, say] = useState(() => new Map(seen.map((o) => [o.ask, o.answer])));
  const should = new Map(things.flatMap((t) => t.states.map((s) => [s.ask, s.should] as const)));
  const pointed = [...said].map(([ask, answer]) => ({ ask, answer })).filter((o) => asks.has(o.ask));
  const wrong = pointed.filter((o) => o.answer !== should.get(o.ask));
  const amiss = wrong.length + apart.length;
  const besides = apart.map(({ ask, answer }) => ({ ask, answer }));
  // What lights in another's place is not known to be right otherwise.
  const rest = things.filter((t) => !apart.some((o) => o.part === t.part));
  const set = (ask: string, answer: string) =>
    say((now) => {
      const next = new Map(now);
      if (answer === "" || next.get(ask) === answer) next.delete(ask);
      else next.set(ask, answer);
      return next;
    });
  return (
    <main className="flex min-h-0 grow flex-col">
      <div className="px-6 pt-4">
        {found && (
          <p role="status" className="mb-3 border-good border-l-8 pl-3 text-large">
            Found, and in the log: {found}
          </p>
        )}
        {problem && (
          <p role="alert" className="mb-3 border-stop border-l-8 pl-3 text-large">
            {problem} What you pointed at is still here.
          </p>
        )}
        <h1 className="font-semibold text-large">What does it do that it should not?</h1>
        {built !== undefined && (
          <div className="my-2 w-56">
            <Choice
              label="Begin from"
              value={built ? "built" : "plan"}
              onChange={(v) => onBuilt(v === "built")}
            >
              <option value="plan">the plan</option>
              <option value="built">what was really built</option>
            </Choice>
          </div>
        )}
        <p className="text-faint">
          Load its program, or the test program, press and turn, and point at what is not as it should be.
        </p>
        <Told
          build={build}
          built={built ?? false}
          onHeard={(more) => {
            say((now) => new Map([...now, ...more.map((o) => [o.ask, o.answer] as const)]));
            const also = more.filter((o) => o.apart);
            setApart((now) => [...now.filter((o) => !also.some((a) => a.ask === o.ask)), ...also]);
          }}
        />
        {apart.length > 0 && (
          <ul aria-label="Also said">
            {apart.map((o) => (
              <li key={o.ask} className="flex flex-wrap items-center gap-3">
                <b>{o.words}</b>
                <Button
                  look="quiet"
                  aria-label={`Not so: ${o.words}`}
                  onClick={() => setApart((now) => now.filter((x) => x !== o))}
                >
                  Not so
                </Button>
              </li>
            ))}
          </ul>
        )}
      </div>
      <ul className="min-h-0 grow overflow-auto px-6 py-3">
        {things.map((t) => (
          <li
            key={t.sort + t.name}
            ref={t.part === at ? inView : undefined}
            className={`border-rule border-b py-2 ${t.part === at ? "border-l-4 border-l-copper pl-3" : ""}`}
          >
            <h2 className="font-semibold">{t.name}</h2>
            {t.states.map((s) => (
              <div key={s.ask} className="my-1 flex flex-wrap items-center gap-x-3 gap-y-1">
                <span className="w-80 max-w-full" title={s.when}>
                  {begin(s)} <b>{s.says}</b>.
                </span>
                {t.words.length > 0 ? (
                  <fieldset className="flex flex-wrap gap-1">
                    <legend className="sr-only">
                      {t.name}
                      {when(s)}
                    </legend>
                    {t.words.map((w) => (
                      <Word
                        key={w}
                        of={t.name + when(s)}
                        word={w}
                        on={said.get(s.ask) === w}
                        right={w === s.should}
                        onChoose={() => set(s.ask, w)}
                      />
                    ))}
                  </fieldset>
                ) : (
                  <label className="flex items-center gap-2">
                    <span className="text-faint text-small">it reads</span>
                    <input
                      value={said.get(s.ask) ?? ""}
                      onChange={(event) => set(s.ask, event.target.value)}
                      inputMode="numeric"
                      maxLength={8}
                      placeholder={s.should}
                      aria-label={`${t.name}${when(s)}, reads`}
                      className="w-28 rounded-sheet border border-ink/60 bg-sheet px-2 font-mono placeholder:text-faint"
                    />
                  </label>
                )}
              </div>
            ))}
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-3 border-rule border-t bg-sheet px-6 py-3">
        <Button
          look="main"
          className="px-6 py-2 text-large"
          disabled={amiss === 0}
          onClick={() => onDone([...withTheRest(rest, pointed), ...besides, ...other])}
        >
          The rest is right: find it
        </Button>
        <Button
          className="py-2"
          disabled={pointed.length === 0 && apart.length === 0}
          onClick={() => onDone([...pointed, ...besides, ...other])}
        >
          I have not looked at the rest
        </Button>
        {readings.length > 0 && (
          <label className="flex min-h-10 items-center gap-2">
            <input
              type="checkbox"
              checked={withReadings}
              onChange={(event) => take(event.target.checked)}
              className="size-5 accent-copper"
            />
            with {readings.length === 1 ? "the reading" : `the ${readings.length} readings`} of the meter
          </label>
        )}
        {amiss === 0 && (
          <Link to={`/drill?build=${build}`} className="order-last ml-auto underline underline-offset-4">
            All is well? Practise on it
          </Link>
        )}
        <span className="text-faint">
          {amiss === 0
            ? `Point at one thing at least. ${considered} single faults are thought of.`
            : `${amiss} ${amiss === 1 ? "thing is" : "things are"} not right.`}
        </span>
      </div>
    </main>
  );
}

type State = Thing["states"][number];

const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);
const begin = (s: State) => (s.short ? `${capital(s.short)} it` : s.when ? `When ${s.when} it` : "It");
const when = (s: State) => (s.short ? `, ${s.short}` : s.when && `, when ${s.when}`);

function Word({
  of,
  word,
  on,
  right,
  onChoose,
}: {
  of: string;
  word: string;
  on: boolean;
  right: boolean;
  onChoose: () => void;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-label={`${word}: ${of}`}
      onClick={onChoose}
      className={`min-h-10 rounded-sheet border px-3 ${
        on
          ? right
            ? "border-good bg-good text-sheet"
            : "border-stop bg-stop text-sheet"
          : "border-ink/40 bg-sheet hover:bg-wash"
      }`}
    >
      {word}
    </button>
  );
}
