import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, type BoardAnswers, type Observation, ProblemError } from "../api/client";
import { inWords } from "../api/errors";
import type { components } from "../generated/api";
import { Where } from "../map/where";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { useKept } from "../shared/kept";
import { keepSeen, storedSeen } from "../shared/observed";
import { saveText } from "../shared/save";
import { fileName } from "../shared/source-file";

type Language = components["schemas"]["Program"]["language"];

const byHand = "by hand";

/** Asks the board itself, over its cable, what it reads at its pins, and says what that tells of the wiring. */
export function AskBoard() {
  const { view } = useSheet();
  const [port, setPort] = useKept("port", "");
  const [typed, setTyped] = useKept("port-typed", "");
  const ports = useQuery({
    queryKey: ["ports"],
    queryFn: () => answer(api.GET("/api/ports")),
    refetchInterval: 3000, // a board is plugged in meanwhile
  });
  const bench = ports.data?.bench ?? "";
  const chosen = port || bench;
  const name = chosen === byHand ? typed.trim() : chosen;
  const queries = useQueryClient();
  const asked = useMutation({
    mutationFn: ({ hand, observations }: { hand?: string; observations?: Observation[] }) =>
      answer(
        api.POST("/api/builds/{id}/board", {
          params: { path: { id: view.id } },
          body: { port: name, hand, observations },
        }),
      ),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["log", view.id] }),
  });
  if (view.document.parts.length === 0) {
    return (
      <main className="max-w-prose p-6 text-large">
        There is nothing to ask about yet. Put parts into the plan; the board then says what hangs on its
        pins.
      </main>
    );
  }
  return (
    <main className="flex min-h-0 grow flex-col overflow-auto lg:flex-row lg:overflow-hidden">
      <section
        aria-label="Ask"
        className="shrink-0 space-y-4 border-rule border-b p-4 lg:w-96 lg:overflow-auto lg:border-r lg:border-b-0"
      >
        <p>
          The board reads its own pins: each as an input, pulled up or down gently, and says what it sees.
          Nothing is driven.
        </p>
        <Loading />
        <div className="space-y-2">
          <Choice label="The board is at" value={chosen} onChange={setPort}>
            <option value={bench}>the bench (simulated)</option>
            {ports.data?.ports.map((p) => (
              <option key={p.name} value={p.name}>
                {p.name} {p.what}
              </option>
            ))}
            <option value={byHand}>a port that I name…</option>
          </Choice>
          {chosen === byHand && <Named value={typed} onChange={setTyped} />}
        </div>
        <Button
          look="main"
          className="w-full py-3 text-large"
          disabled={asked.isPending || name === ""}
          onClick={() => asked.mutate({})}
        >
          {asked.isPending ? "Asking…" : asked.data ? "Ask it again" : "Ask the board"}
        </Button>
        {asked.error && (
          <p role="alert" className="border-stop border-l-4 pl-3">
            {asked.error instanceof ProblemError ? inWords(asked.error.problem) : asked.error.message}
          </p>
        )}
      </section>
      <section aria-label="What it says" className="min-h-0 min-w-0 grow lg:overflow-auto" aria-live="polite">
        {asked.data && (
          <Outcome
            said={asked.data}
            busy={asked.isPending}
            onHand={(hand) => asked.mutate({ hand, observations: asked.data.observations })}
          />
        )}
      </section>
    </main>
  );
}

function Named({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  const id = useId();
  return (
    <label htmlFor={id} className="flex flex-col gap-0.5">
      <span className="text-faint text-small">Its port</span>
      <input
        id={id}
        value={value}
        maxLength={200}
        placeholder="/dev/ttyACM0"
        autoComplete="off"
        spellCheck={false}
        onChange={(event) => onChange(event.target.value)}
        className="rounded-sheet border border-ink/40 bg-sheet px-2 font-mono placeholder:text-faint"
      />
    </label>
  );
}

/** How the program that answers gets into the board. */
function Loading() {
  const { view, board } = useSheet();
  const [wrong, setWrong] = useState("");
  const save = async (language: Language) => {
    setWrong("");
    try {
      const program = await answer(
        api.GET("/api/builds/{id}/board/program", { params: { path: { id: view.id }, query: { language } } }),
      );
      saveText(program.text, fileName(program));
    } catch (error) {
      setWrong(error instanceof ProblemError ? inWords(error.problem) : "The server does not answer.");
    }
  };
  return (
    <details>
      <summary className="py-1 font-semibold">A real board needs the probing program first</summary>
      <ol className="list-decimal space-y-1 pl-5">
        <li>
          Save it: <Button onClick={() => void save("cpp")}>C++</Button>{" "}
          {board.program?.python !== false && (
            <Button onClick={() => void save("python-machine")}>Python</Button>
          )}
        </li>
        <li>
          Load it into the board with what you load programs with; your own program is gone from it then.
        </li>
        <li>Leave the cable in, choose the port below, and ask.</li>
      </ol>
      <p className="mt-1 text-small">
        Unplug the board before you move a wire, and plug it in again before you ask. Nothing may get warm.
      </p>
      {wrong && <p role="alert">{wrong}</p>}
    </details>
  );
}

function Outcome({
  said,
  busy,
  onHand,
}: {
  said: BoardAnswers;
  busy: boolean;
  onHand: (hand: string) => void;
}) {
  const { view } = useSheet();
  const navigate = useNavigate();
  const ends = said.causes[0]?.ends ?? [];
  const goOn = () => {
    const rest = storedSeen(view.id).filter((o) => !o.ask.startsWith("pin:"));
    keepSeen(view.id, [...rest, ...said.observations]);
    void navigate(`/builds/${view.id}/diagnose`);
  };
  return (
    <div className="flex min-h-full flex-col">
      <div className="space-y-3 border-ink border-b-2 bg-sheet px-4 py-3">
        <p className={`font-semibold text-large ${said.asPlanned ? "text-good" : "text-stop"}`}>
          {said.words}
        </p>
        <p className="text-faint">
          {said.asked} things were asked{said.built ? ", of the bench as it was noted as built" : ""}.
        </p>
        {said.odd.length > 0 && (
          <ul aria-label="What is not as planned" className="list-disc pl-5">
            {said.odd.map((o) => (
              <li key={o}>{o}</li>
            ))}
          </ul>
        )}
        {said.hands.length > 0 && (
          <div className="flex flex-wrap items-center gap-2">
            <span>Hold one so, and meanwhile tap it here:</span>
            {said.hands.map((h) => (
              <Button key={h.hand} disabled={busy} onClick={() => onHand(h.hand)}>
                {h.done && <span aria-hidden>✓</span>}
                {view.document.parts.find((p) => p.id === h.of)?.name ?? h.of} {h.setting}
              </Button>
            ))}
          </div>
        )}
        {said.asPlanned && (
          <p>
            Of {said.considered} single faults of the wiring that are considered, {said.shows} would have
            shown.
            {said.unsaid.length > 0 &&
              ` A break in ${said.unsaid.join(", ")} would not: measure there, or watch them at work.`}
          </p>
        )}
      </div>
      {said.causes.length > 0 && (
        <ol aria-label="What it may be" className="space-y-3 px-4 py-3">
          {said.causes.slice(0, 5).map((c) => (
            <li key={c.faults.join()} className="border-rule border-b pb-2">
              <p className="flex items-baseline gap-3">
                <span className="w-14 shrink-0 text-right font-mono">{Math.round(100 * c.weight)} %</span>
                <span className="font-semibold">{c.words}</span>
              </p>
              <p className="pl-17">{c.cure}</p>
            </li>
          ))}
        </ol>
      )}
      {said.causes.length > 0 && (
        <p className="flex flex-wrap items-center gap-3 px-4 pb-2">
          <Button onClick={goOn}>Go on with questions</Button>
          {(said.causes[0]?.weight ?? 0) < 0.5 &&
            "Several things look like this from a pin. One look or reading more tells them apart."}
        </p>
      )}
      <Where ends={ends} />
    </div>
  );
}
