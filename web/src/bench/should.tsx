import { useMutation, useQuery } from "@tanstack/react-query";
import { Play, X } from "lucide-react";
import { type FormEvent, memo, useDeferredValue } from "react";
import type { ShouldVerdict } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { askShould, useVerdicts } from "../shared/holds";
import { inView } from "../shared/in-view";
import { useKept } from "../shared/kept";
import { LevelMark } from "../shared/level";
import { lineWords } from "../shared/source";
import { PutTogether } from "./put-together";
import type { Bench } from "./run";

/** What the build should do, in sentences, each with whether it holds; what breaks one can be watched. */
export const Should = memo(function Should({ built, replay }: { built: boolean; replay: Bench["replay"] }) {
  const { view, edit } = useSheet();
  const said = view.document.should ?? [];
  const [text, setText] = useKept(`should.${view.id}`, "");
  const verdicts = useVerdicts(built, true);
  // A sentence is kept when it is understood.
  const add = useMutation({
    mutationFn: async (sentence: string) => {
      const understood = await askShould(view.id, [sentence], built, true);
      const wrong = understood.verdicts[0]?.wrong;
      if (wrong) throw new Error(wrong);
      return sentence;
    },
    onSuccess: (sentence) => {
      setText("");
      edit("say what it should do", { op: "should", text: [...said, sentence].join("\n") });
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim()) add.mutate(text.trim());
  };
  // What is broken comes first.
  const list = (verdicts.data?.verdicts ?? []).toSorted((a, b) => Number(a.holds) - Number(b.holds));
  const holding = list.filter((v) => v.holds).length;
  return (
    <section aria-label="It should" className="border-rule border-t">
      <h2 className="flex items-baseline gap-2 bg-wash px-3 py-1.5 font-semibold">
        It should…
        <span className="font-normal text-faint text-small" aria-live="polite">
          {verdicts.isPending ? "trying many hands…" : list.length > 0 && `${holding} of ${list.length} hold`}
        </span>
      </h2>
      {verdicts.isError && (
        <p role="alert" className="px-3 py-2">
          {verdicts.error.message}
        </p>
      )}
      <ul>
        {(list.length > 0 ? list : said.map(untried)).map((v) => (
          <Sentence
            key={v.text}
            verdict={v}
            pending={verdicts.isPending}
            onWatch={() => v.broken && replay(v.broken.actions, v.broken.seed)}
            onDrop={
              said.includes(v.text)
                ? () =>
                    edit("take a sentence out", {
                      op: "should",
                      text: said.filter((s) => s !== v.text).join("\n"),
                    })
                : undefined
            }
          />
        ))}
      </ul>
      <form onSubmit={submit} className="space-y-2 p-3">
        <label className="flex flex-col gap-0.5">
          <span className="text-faint text-small">Say what else it should do</span>
          <input
            value={text}
            list="should-suggest"
            maxLength={120}
            onChange={(event) => setText(event.target.value)}
            placeholder={verdicts.data?.suggest[0] ?? ""}
            autoComplete="off"
            className="w-full rounded-sheet border border-ink/60 bg-sheet px-2 placeholder:text-faint"
          />
        </label>
        <datalist id="should-suggest">
          {verdicts.data?.suggest.map((s) => (
            <option key={s} value={s} />
          ))}
        </datalist>
        {add.isError && (
          <p role="alert" ref={inView} className="border-stop border-l-4 pl-2">
            {add.error.message}
          </p>
        )}
        <Reading text={text} built={built} onTake={setText} />
        <Button type="submit" disabled={add.isPending || !text.trim()}>
          Add and try
        </Button>
        {verdicts.data && <PutTogether pieces={verdicts.data.pieces} onTake={setText} />}
      </form>
    </section>
  );
});

/** How what is typed is understood, before it is tried; and what may be meant, where it is not. */
function Reading({
  text,
  built,
  onTake,
}: {
  text: string;
  built: boolean;
  onTake: (sentence: string) => void;
}) {
  const { view } = useSheet();
  const typed = useDeferredValue(text.trim());
  const reading = useQuery({
    queryKey: ["should-read", view.id, view.tag, built, typed],
    queryFn: () => askShould(view.id, [typed], built, true),
    enabled: typed.length > 3,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const verdict = reading.data?.verdicts[0];
  if (typed.length <= 3 || !verdict) return null;
  if (!verdict.wrong)
    return (
      <p className="text-small" role="status" ref={inView}>
        <span className="text-faint">Understood as: </span>
        {verdict.says}
      </p>
    );
  if (!verdict.instead) return null;
  return (
    <div className="text-small">
      <p className="text-faint">Not understood yet. It may be:</p>
      <ul>
        {verdict.instead.map((sentence) => (
          <li key={sentence}>
            <Button look="quiet" className="px-0! text-left underline" onClick={() => onTake(sentence)}>
              {sentence}
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function untried(text: string): ShouldVerdict {
  return { text, says: text, holds: false, tried: 0 };
}

function Sentence({
  verdict: v,
  pending,
  onWatch,
  onDrop,
}: {
  verdict: ShouldVerdict;
  pending: boolean;
  onWatch: () => void;
  onDrop: (() => void) | undefined;
}) {
  const { view } = useSheet();
  return (
    <li className="border-rule border-b px-3 py-2">
      <div className="flex items-start gap-2">
        <span className="min-w-0 grow">
          {!pending && (
            <b className={v.holds ? "text-good" : "text-stop"}>
              {v.never
                ? "Nothing is said of it: "
                : v.wrong
                  ? "Not understood: "
                  : v.holds
                    ? "Holds: "
                    : "Broken: "}
            </b>
          )}
          {v.says || v.text}
          {v.barely && <span> · {v.barely}</span>}
          {v.extent && <span className="block text-faint text-small">{v.extent}</span>}
        </span>
        {onDrop && (
          <Button look="quiet" aria-label={`Remove: ${v.text}`} onClick={onDrop}>
            <X size={18} aria-hidden />
          </Button>
        )}
      </div>
      {v.wrong && <p className="text-small">{v.wrong}</p>}
      {v.broken && (
        <div className="mt-1 border-stop border-l-4 pl-2">
          <p className="flex gap-2">
            <LevelMark level="stop" size={16} /> <span>{v.broken.words}.</span>
          </p>
          <p className="text-small">How: {v.broken.story}.</p>
          {v.broken.blame && <p>{v.broken.blame}</p>}
          {v.broken.line ? (
            <p className="text-faint">
              The program did something there last in {lineWords(view.document.program, v.broken.line)}.
            </p>
          ) : null}
          <Button className="mt-1" onClick={onWatch}>
            <Play size={16} aria-hidden /> Watch it
          </Button>
        </div>
      )}
    </li>
  );
}
