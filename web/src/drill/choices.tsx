import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api } from "../api/client";
import type { components } from "../generated/api";
import { Button } from "../shared/controls";

type View = components["schemas"]["DrillView"];
type Asked = components["schemas"]["Choice"];

const groups: [Asked["sort"], string][] = [
  ["look", "Look"],
  ["see", "Try"],
  ["reads", "Read"],
  ["measure", "Measure"],
];

/** What can be asked at a part: first the part, then the question. */
export function Choices({
  view,
  busy,
  at,
  onAsk,
  onShow,
}: {
  view: View;
  busy: boolean;
  /** The part that a hint points at. */
  at: string | undefined;
  onAsk: (x: Asked) => void;
  onShow: (ends: string[]) => void;
}) {
  const [part, setPart] = useState(view.parts[0]?.id ?? "");
  useEffect(() => {
    if (at !== undefined && view.parts.some((p) => p.id === at)) setPart(at);
  }, [at, view.parts]);
  const choices = useQuery({
    queryKey: ["drill-choices", view.code, part],
    queryFn: () =>
      answer(
        api.GET("/api/drills/{code}/choices", { params: { path: { code: view.code }, query: { part } } }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <section aria-label="Ask the bench">
      <h2 className="bg-wash px-3 py-1.5 font-semibold">Ask the bench</h2>
      <fieldset className="flex flex-wrap gap-1 py-2">
        <legend className="sr-only">At which part</legend>
        {view.parts.map((p) => (
          <button
            key={p.id}
            type="button"
            aria-pressed={p.id === part}
            onClick={() => setPart(p.id)}
            className={`min-h-10 rounded-sheet border px-3 ${p.id === part ? "border-copper border-b-4 font-semibold" : "border-ink/40 bg-sheet hover:bg-wash"}`}
          >
            {p.name}
          </button>
        ))}
      </fieldset>
      {groups.map(([sort, name]) => {
        const of = choices.data?.choices.filter((c) => c.sort === sort) ?? [];
        if (of.length === 0) return null;
        return (
          <div key={sort} className="mb-2">
            <h3 className="font-semibold">{name}</h3>
            <ul className="space-y-1">
              {of.map((c) => (
                <li key={c.ask}>
                  <Button
                    disabled={busy}
                    className="min-h-10 w-full justify-between py-1 text-left"
                    onFocus={() => onShow(c.ends)}
                    onMouseEnter={() => onShow(c.ends)}
                    onClick={() => onAsk(c)}
                  >
                    <span className="grow">
                      {c.words}
                      {c.how.length > 0 && <span className="text-faint text-small"> {c.how.join(" ")}</span>}
                    </span>
                    <span className="shrink-0 font-mono text-faint text-small">+{c.trouble.toFixed(1)}</span>
                  </Button>
                </li>
              ))}
            </ul>
          </div>
        );
      })}
      {choices.data?.choices.length === 0 && <p className="text-faint">Nothing can be asked there.</p>}
    </section>
  );
}
