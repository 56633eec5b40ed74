import { type FormEvent, useState } from "react";
import type { DiagnoseNext, Observation } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { useKept } from "../shared/kept";

const what: Record<string, string> = {
  look: "Look",
  see: "Try it",
  reads: "Read it",
  measure: "Measure",
  try: "Put it right",
};

const few = 8;

/** One question, large, with its answers as buttons, or a field for what the meter shows. */
export function Question({
  next,
  busy,
  problem,
  onAnswer,
}: {
  next: DiagnoseNext;
  busy: boolean;
  /** Why the last answer was not understood. */
  problem: string | undefined;
  onAnswer: (o: Observation) => void;
}) {
  const [all, showAll] = useState(false);
  const say = (answer: string) => onAnswer({ ask: next.ask, answer });
  const shown = next.options.filter((_, i) => all || i < few || i === next.options.length - 1);
  const check = next.check;
  return (
    <section aria-label="Next" aria-busy={busy} className="border-rule border-b bg-sheet px-4 py-3">
      <p className="text-faint">{what[next.sort]}</p>
      <p className="my-1 font-semibold text-large leading-snug">{next.words}</p>
      {next.how.length > 0 && <p className="my-1 border-care border-l-4 pl-2">{next.how.join(" ")}</p>}
      {check && (
        <p className="my-2">
          Range <span className="font-mono">{check.expect.range}</span>; when that is well it reads{" "}
          <span className="font-mono font-semibold text-large">{check.expect.text}</span>
        </p>
      )}
      {problem && (
        <p role="alert" className="my-2 border-stop border-l-4 pl-2">
          {problem}
        </p>
      )}
      {next.field ? (
        <Field next={next} busy={busy} onSay={say} />
      ) : (
        <ul className={`mt-3 gap-2 ${next.sort === "look" ? "grid md:grid-cols-2" : "flex flex-wrap"}`}>
          {shown.map((o, i) => (
            <li key={o.answer}>
              <Button
                disabled={busy}
                className={`min-h-11 py-1 text-left ${next.sort === "look" ? "h-full w-full justify-start" : ""} ${next.sort === "look" && i === 0 ? "font-semibold" : ""}`}
                onClick={() => say(o.answer)}
              >
                {o.words}
              </Button>
            </li>
          ))}
          {shown.length < next.options.length && (
            <li>
              <Button look="quiet" onClick={() => showAll(true)}>
                {next.options.length - shown.length === 1
                  ? "One other thing"
                  : `${next.options.length - shown.length} other things`}{" "}
                that could be seen there…
              </Button>
            </li>
          )}
        </ul>
      )}
    </section>
  );
}

function Field({
  next,
  busy,
  onSay,
}: {
  next: DiagnoseNext;
  busy: boolean;
  onSay: (answer: string) => void;
}) {
  const { view } = useSheet();
  const [text, setText] = useKept(`answer.${view.id}.${next.ask}`, "");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() === "") return;
    onSay(text);
    setText("");
  };
  return (
    <>
      <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
        <label className="flex flex-col gap-0.5">
          <span className="text-faint text-small">It reads</span>
          <input
            // biome-ignore lint/a11y/noAutofocus: someone with a tip in each hand types at once
            autoFocus
            value={text}
            maxLength={40}
            onChange={(event) => setText(event.target.value)}
            autoComplete="off"
            spellCheck={false}
            className="w-48 rounded-sheet border border-ink/60 bg-sheet px-3 py-1 font-mono text-large"
          />
        </label>
        <Button look="main" type="submit" disabled={busy} className="px-6 py-2 text-large">
          Go on
        </Button>
        {next.also.map((word) => (
          <Button key={word} disabled={busy} className="py-2" onClick={() => onSay(word)}>
            It {word}
          </Button>
        ))}
      </form>
      <p className="mt-2 text-faint">
        These readings tell causes apart:{" "}
        {next.options.map((o, i) => (
          <span key={o.answer}>
            {i > 0 && ", "}
            <span className="font-mono">{o.answer}</span> leaves {o.leaves}
          </span>
        ))}
        .
      </p>
    </>
  );
}
