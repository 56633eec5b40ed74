import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";
import { AwayError, answer, api, ProblemError } from "../api/client";
import { inWords } from "../api/errors";
import type { components } from "../generated/api";
import { Button } from "../shared/controls";
import { ValueField } from "../shared/value-field";
import { waitLonger } from "../shared/wait";

type View = components["schemas"]["MeterView"];
const key = ["meter"];

/** What the leaflet of the builder's own meter says; until it is told, a usual one is assumed. */
export function OwnMeter() {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<{ field: string; words: string }>();
  const [before, setBefore] = useState<View>();
  const meter = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/meter")),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  const view = meter.data;
  const section = useRef<HTMLElement>(null);
  const turn = useRef<Promise<void>>(Promise.resolve());
  const { hash } = useLocation();
  const shown = view !== undefined;
  useEffect(() => {
    if (shown && hash === "#meter") section.current?.scrollIntoView();
  }, [shown, hash]);
  if (!view) return null;
  // One after the other, each of the state that the one before left: whoever tabs on is faster than
  // the server.
  const change = (field: string, make: (header: { "If-Match": string }) => Promise<View>) => {
    turn.current = turn.current.then(() => changed(field, make));
    return turn.current;
  };
  const changed = async (field: string, make: (header: { "If-Match": string }) => Promise<View>) => {
    setWrong(undefined);
    const was = queries.getQueryData<View>(key) ?? view;
    try {
      const now = await make({ "If-Match": was.tag });
      setBefore(was);
      queries.setQueryData(key, now);
      await queries.invalidateQueries({ queryKey: ["checks"] });
    } catch (error) {
      const problem = error instanceof ProblemError ? error.problem : undefined;
      setWrong({
        field,
        words: problem
          ? inWords(problem)
          : "The server does not answer. Nothing was changed; try again in a moment.",
      });
      if (problem?.status === 412) await queries.invalidateQueries({ queryKey: key });
    }
  };
  return (
    <section id="meter" ref={section} aria-labelledby="own-meter" className="mt-8 scroll-mt-4">
      <h2 id="own-meter" className="font-semibold text-large">
        Your meter
      </h2>
      <p className="mb-3 max-w-prose text-faint">
        {view.own
          ? "What a meter must read, and what a reading means, is worked out for this one."
          : "A usual handheld meter is assumed. Where the leaflet of yours says something else, write it here."}
      </p>
      <div className="grid gap-x-4 gap-y-3 sm:grid-cols-2 lg:grid-cols-3">
        {view.fields.map((f) => (
          <div key={f.id}>
            <ValueField
              label={f.name}
              saved={f.text}
              error={wrong?.field === f.id ? wrong.words : undefined}
              look={f.id === "name" ? "words" : "value"}
              onCommit={(text) =>
                void change(f.id, (header) =>
                  answer(api.PATCH("/api/meter", { params: { header }, body: { field: f.id, text } })),
                )
              }
            />
            <p className="text-faint text-small">{f.help}</p>
          </div>
        ))}
      </div>
      <div className="mt-3 flex flex-wrap gap-2">
        {view.own && (
          <Button
            onClick={() =>
              void change("", (header) => answer(api.DELETE("/api/meter", { params: { header } })))
            }
          >
            Assume a usual meter again
          </Button>
        )}
        {before?.own && (
          <Button
            onClick={() =>
              void change("", (header) =>
                answer(api.PUT("/api/meter", { params: { header }, body: before.meter })),
              ).then(() => setBefore(undefined))
            }
          >
            Take the last change back
          </Button>
        )}
      </div>
      {wrong?.field === "" && (
        <p role="alert" className="mt-2 border-stop border-l-4 pl-3">
          {wrong.words}
        </p>
      )}
    </section>
  );
}
