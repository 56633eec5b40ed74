import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Kind, type Problem, ProblemError } from "../api/client";
import { inLines } from "../api/errors";
import { Button, Choice } from "../shared/controls";
import { readKept, writeKept } from "../shared/kept";
import { type Answers, begin, leafletOf, notNumbers, ofSort, withLeg, withLegs } from "./answers";
import { Field } from "./field";
import { LegFields } from "./leg-fields";
import { PartPicture } from "./part-picture";

const keptAs = "leaflet";

/** What the server makes of the answers so far: a part, or what is missing. */
function useMade(answers: Answers) {
  const leaflet = leafletOf(answers);
  return useQuery({
    queryKey: ["leaflet", JSON.stringify(leaflet)],
    queryFn: async () => {
      try {
        return { part: await answer(api.POST("/api/leaflet", { body: leaflet })) };
      } catch (error) {
        if (error instanceof ProblemError) return { problem: error.problem };
        throw error;
      }
    },
    enabled: notNumbers(answers).length === 0,
    placeholderData: keepPreviousData,
    retry: true,
  });
}

/** A part that is not in the catalogue, from the ten lines that came with it. */
export function LeafletForm({ onKept }: { onKept: (kind: Kind) => void }) {
  const [answers, setAnswers] = useState<Answers>(() => readKept<Answers>(keptAs) ?? begin());
  const [tried, setTried] = useState(false);
  const [refused, setRefused] = useState<string[]>([]);
  const made = useMade(answers);
  const set = (next: Answers) => {
    setAnswers(next);
    writeKept(keptAs, next);
    setRefused([]);
  };
  const problem: Partial<Problem> | undefined = made.data?.problem;
  const part = made.isPlaceholderData ? undefined : made.data?.part;
  const bad = notNumbers(answers);
  const wrong = (where: string) =>
    bad.includes(where)
      ? "a number, such as 3.3"
      : tried
        ? problem?.problems?.find((p) => p.where === where)?.what
        : undefined;
  const keep = async () => {
    setTried(true);
    if (!part) return;
    try {
      const kept = await answer(api.POST("/api/kinds", { body: part }));
      writeKept(keptAs, undefined);
      onKept(kept);
    } catch (error) {
      setRefused(
        error instanceof ProblemError
          ? inLines(error.problem)
          : ["The server does not answer. Nothing is lost."],
      );
    }
  };
  const field = (
    label: string,
    key: "from" | "to" | "milliamps" | "volt" | "open" | "closed",
    hint?: string,
    unit?: string,
  ) => (
    <Field
      label={label}
      value={answers[key]}
      onChange={(value) => set({ ...answers, [key]: value })}
      hint={hint}
      unit={unit}
      error={wrong(key === "milliamps" ? "amps" : key)}
    />
  );
  return (
    <form // Enter in a field keeps nothing: half of a leaflet is none.
      onSubmit={(event) => event.preventDefault()}
      aria-label="A part from its leaflet"
      className="grid gap-6 lg:grid-cols-[3fr_2fr]"
    >
      <div className="space-y-4">
        <p className="text-faint">
          Take the leaflet, or the listing, and lay the part before you. What it does not say stays empty.
        </p>
        <div className="grid gap-3 sm:grid-cols-3">
          <Field
            first
            label="What do you call it?"
            value={answers.name}
            onChange={(name) => set({ ...answers, name })}
            hint="rain module"
            error={wrong("name")}
          />
          <Choice
            label="What sort of part is it?"
            value={answers.sort}
            onChange={(sort) => set(ofSort(answers, sort))}
          >
            <option value="module">a module that is fed, and tells something</option>
            <option value="contact">a contact: open or closed</option>
            <option value="load">something that a current moves</option>
          </Choice>
          <Choice
            label="How many legs in its row?"
            value={String(answers.legs.length)}
            onChange={(n) => set(withLegs(answers, Number(n)))}
          >
            {[2, 3, 4, 5, 6, 7, 8].map((n) => (
              <option key={n}>{n}</option>
            ))}
          </Choice>
        </div>
        <ol aria-label="Its legs, from the left">
          {answers.legs.map((leg, i) => (
            <LegFields
              // biome-ignore lint/suspicious/noArrayIndexKey: a leg is its place in the row
              key={i}
              nth={i + 1}
              sort={answers.sort}
              leg={leg}
              wrong={(name) => wrong(`legs[${i}].${name}`)}
              onChange={(change) => set(withLeg(answers, i, change))}
            />
          ))}
        </ol>
        {answers.sort === "module" && (
          <div className="grid gap-3 sm:grid-cols-3">
            {field("It runs from", "from", undefined, "V")}
            {field("up to", "to", undefined, "V")}
            {field("It takes", "milliamps", undefined, "mA")}
          </div>
        )}
        {answers.sort === "contact" && (
          <div className="grid gap-3 sm:grid-cols-3">
            {field("Open, it is", "open", "open")}
            {field("Closed, it is", "closed", "closed")}
          </div>
        )}
        {answers.sort === "load" && (
          <div className="grid gap-3 sm:grid-cols-3">
            <Choice
              label="With current it"
              value={answers.acts}
              onChange={(acts) => set({ ...answers, acts })}
            >
              <option value="turn">turns</option>
              <option value="sound">makes a tone of its own</option>
              <option value="pull">pulls</option>
              <option value="glow">glows</option>
            </Choice>
            {field("It is made for", "volt", "5", "V")}
            {field("There it takes", "milliamps", "100", "mA")}
          </div>
        )}
      </div>
      <div className="space-y-4 self-start lg:sticky lg:top-0">
        <PartPicture answers={answers} />
        {part && (
          <section aria-label="What comes of it" className="border-good border-l-4 pl-3">
            <p>{part.summary}</p>
            <p className="mt-2 text-faint text-small">Ways to wire it:</p>
            <ul className="list-disc pl-5 text-small">
              {part.hookups.map((h) => (
                <li key={h.id}>{h.name}</li>
              ))}
            </ul>
          </section>
        )}
        {problem && (
          <div
            role={tried ? "alert" : undefined}
            className={`border-l-4 pl-3 ${tried ? "border-stop" : "border-rule"}`}
          >
            Still to be said, or put right:
            <ul className="list-disc pl-5">
              {problem.problems?.map((p) => (
                <li key={`${p.where}${p.what}`}>{p.what}</li>
              ))}
            </ul>
          </div>
        )}
        {refused.length > 0 && (
          <div role="alert" className="border-stop border-l-4 pl-3">
            {refused.join(" ")}
          </div>
        )}
        <div className="flex flex-wrap gap-3">
          <Button look="main" onClick={() => void keep()}>
            Keep this part
          </Button>
          <Button onClick={() => set(begin())}>Begin anew</Button>
        </div>
      </div>
    </form>
  );
}
