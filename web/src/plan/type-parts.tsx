import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useId, useRef, useState } from "react";
import { answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { useKept } from "../shared/kept";
import { useKeys } from "../shared/keys";

/** A line for parts as people say them. What was understood is shown before it is taken. */
export function TypeParts() {
  const { view, edit } = useSheet();
  const [text, setText] = useKept(`parts.${view.id}`, "");
  // Enter pressed before the answer for this very text was there.
  const [wanted, setWanted] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  const understoodId = useId();
  const phrase = useQuery({
    queryKey: ["phrase", text],
    queryFn: () => answer(api.GET("/api/phrase", { params: { query: { text } } })),
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const got = text.trim() === "" ? undefined : phrase.data;
  const current = phrase.isPlaceholderData ? undefined : got;

  useKeys({ "/": () => input.current?.focus() });

  useEffect(() => {
    if (wanted === undefined || wanted !== text || !current) return;
    setWanted(undefined);
    if (current.edits.length === 0) return;
    edit(`add ${current.understood.join(", ")}`, ...current.edits);
    setText(current.left.map((rest) => rest.text).join(", "));
  }, [wanted, text, current, edit, setText]);

  const take = (event: FormEvent) => {
    event.preventDefault();
    setWanted(text);
  };
  return (
    <form onSubmit={take} className="border-rule border-b px-4 py-2">
      <label className="flex items-center gap-2">
        <span className="sr-only">Type parts</span>
        <input
          ref={input}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && setText("")}
          maxLength={500}
          placeholder="2 red leds, a button, 10k pot"
          aria-describedby={understoodId}
          aria-keyshortcuts="/"
          // biome-ignore lint/a11y/noAutofocus: a build begins with what it should have
          autoFocus={view.document.parts.length === 0}
          data-next={view.document.parts.length === 0 ? "plan" : undefined}
          autoComplete="off"
          spellCheck={false}
          className="w-full min-w-0 rounded-sheet border border-ink/40 bg-sheet px-2 placeholder:text-faint"
        />
      </label>
      <p id={understoodId} aria-live="polite" className="wrap-anywhere mt-1.5 text-small empty:hidden">
        {got && got.understood.length > 0 && (
          <span>
            Enter adds <strong>{got.understood.join(", ")}</strong>.{" "}
          </span>
        )}
        {got && got.left.length > 0 && (
          <span className="text-care">
            Not added:{" "}
            {got.left.map((rest, i) => (
              <span key={rest.text}>
                {i > 0 && "; "}“{rest.text}”: {rest.why}
              </span>
            ))}
            .
          </span>
        )}
      </p>
      {got && got.complete.length > 0 && (
        <fieldset className="mt-1 flex flex-wrap gap-1">
          <legend className="sr-only">Completions</legend>
          {got.complete.map((whole) => (
            <Button
              key={whole}
              look="quiet"
              className="min-h-7! px-2! text-copper text-small"
              aria-label={`Complete: ${whole}`}
              onClick={() => {
                setText(whole);
                input.current?.focus();
              }}
            >
              {whole.slice(Math.max(whole.lastIndexOf(",") + 1, 0)).trim()}
            </Button>
          ))}
        </fieldset>
      )}
    </form>
  );
}
