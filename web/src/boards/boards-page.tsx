import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api, ProblemError, type Profile } from "../api/client";
import { inLines } from "../api/errors";
import { Button, Choice } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { download } from "../shared/download";
import { FileButton, NotTaken } from "../shared/file-button";
import { Head } from "../shared/head";
import { useLibrary } from "../shared/library";
import { short } from "../shared/values";
import { Describe } from "./describe";

interface Line {
  name: string;
  says: string;
  source: string;
}

const range = (v: { low: number; typ: number; high: number }, unit: string) =>
  v.low === v.high
    ? short(v.typ, unit)
    : `${short(v.low, unit)} – ${short(v.typ, unit)} – ${short(v.high, unit)}`;
const limit = (v: { recommended: number; absolute: number }, unit: string) =>
  `${short(v.recommended, unit)} recommended, ${short(v.absolute, unit)} at most`;

/** Everything that the check believes of a board, and where each number comes from. */
function lines(b: Profile): Line[] {
  const { logic } = b;
  const threshold = (t: typeof logic.vil) =>
    t.volts ? short(t.volts, "V") : `${Math.round((t.fraction ?? 0) * 100)} % of ${logic.rail}`;
  const from = (v: { source?: string }) => v.source ?? "";
  const pull = (name: string, v: typeof logic.pullUp): Line[] =>
    v.typ ? [{ name, says: range(v, "Ω"), source: from(v) }] : [];
  return [
    { name: "one pin carries", says: limit(logic.pin, "A"), source: logic.pin.source },
    ...(logic.pin.beyond ? [{ name: "beyond that", says: logic.pin.beyond, source: logic.pin.source }] : []),
    { name: "all pins together", says: limit(logic.total, "A"), source: logic.total.source },
    ...logic.groups.map((g) => ({
      name: `${g.name} ${g.way} together`,
      says: limit(g.limit, "A"),
      source: g.limit.source,
    })),
    { name: "resistance of a high pin", says: range(logic.high, "Ω"), source: from(logic.high) },
    { name: "resistance of a low pin", says: range(logic.low, "Ω"), source: from(logic.low) },
    ...pull("internal pull-up", logic.pullUp),
    ...pull("internal pull-down", logic.pullDown),
    { name: "reliably low below", says: threshold(logic.vil), source: logic.vil.source },
    { name: "reliably high above", says: threshold(logic.vih), source: logic.vih.source },
    {
      name: "an input tolerates",
      says:
        `${short(logic.tolerates.volts, "V")} above ${logic.rail}` +
        (logic.tolerates.amps ? `; its protection survives ${short(logic.tolerates.amps, "A")}` : ""),
      source: logic.tolerates.source,
    },
    {
      name: "analog reading",
      says: `${logic.analog.bits} bits against ${logic.analog.reference}, sources up to ${short(logic.analog.sourceOhms, "Ω")}`,
      source: logic.analog.source,
    },
    { name: "the board itself takes", says: range(b.appetite, "A"), source: from(b.appetite) },
    ...b.rails.flatMap((r) => [
      { name: `${r.name} rail`, says: range(r.volts, "V"), source: from(r.volts) },
      { name: `${r.name} rail gives`, says: limit(r.limit, "A"), source: r.limit.source },
    ]),
    ...b.supplies.map((s) => ({
      name: `fed by ${s.name}`,
      says:
        `${short(s.input.low, "V")} to ${short(s.input.high, "V")}` +
        (s.survives ? ` (survives ${short(s.survives, "V")})` : "") +
        `, ${limit(s.limit, "A")}`,
      source: from(s.input),
    })),
  ];
}

/** Where most numbers come from, said once for all. */
const memory = "from memory of manufacturers' data sheets for this class; check your own";

export function BoardsPage() {
  const library = useLibrary();
  const [id, setId] = useState("");
  useEffect(() => {
    document.title = "Boards – Cablaggio";
  }, []);
  const queries = useQueryClient();
  const [describing, setDescribing] = useState(false);
  const [wrong, setWrong] = useState<string[]>([]);
  const [twice, setTwice] = useState<string>();
  const refresh = async (show: string) => {
    setWrong([]);
    await queries.invalidateQueries({ queryKey: ["library"] });
    setId(show);
  };
  const say = (error: unknown) => {
    setWrong(error instanceof ProblemError ? inLines(error.problem) : ["The server does not answer."]);
  };
  const takeIn = async (text: string, tag?: string) => {
    try {
      setTwice(undefined);
      // As it is: the server reads it, and knows better what is wrong with it.
      const kept = await answer(
        api.POST("/api/boards", {
          params: { header: tag ? { "If-Match": tag } : {} },
          body: {} as Profile,
          bodySerializer: () => text,
        }),
      );
      await refresh(kept.id);
    } catch (error) {
      say(error);
      if (error instanceof ProblemError && error.problem.status === 412) setTwice(text);
    }
  };
  /** Keeps what was taken in as what a board of that name is from now on. */
  const takeInAnew = async (text: string) => {
    const { id } = JSON.parse(text) as Profile;
    const now = await answer(api.GET("/api/library"));
    await takeIn(text, now.own.find((o) => o.id === id)?.tag);
  };
  const drop = async (board: string) => {
    try {
      await answer(api.DELETE("/api/boards/{board}", { params: { path: { board } } }));
      await refresh("");
    } catch (error) {
      say(error);
    }
  };
  const boards = library.data?.boards ?? [];
  const board = boards.find((b) => b.id === id) ?? boards[0];
  const functions = library.data?.functions ?? [];
  return (
    <main className="mx-auto max-w-6xl px-6 py-5">
      <Head here="Boards" />
      {board && (
        <>
          <div className="my-4 flex flex-wrap items-end gap-6">
            <div className="w-72">
              <Choice label="Board" value={board.id} onChange={setId}>
                {boards.map((b) => (
                  <option key={b.id} value={b.id}>
                    {b.name}
                  </option>
                ))}
              </Choice>
            </div>
            <p className="max-w-prose grow py-1">{board.summary}</p>
            <Button onClick={() => void download(`/api/boards/${board.id}/file`)}>Save as file</Button>
            <FileButton
              words="Import a file"
              spoken="A board as a file"
              accept=".json,application/json"
              onFile={(file) => void file.text().then((text) => takeIn(text))}
            />
            <Button look="main" onClick={() => setDescribing(true)}>
              Describe another board
            </Button>
            {library.data?.own.some((o) => o.id === board.id) && (
              <Button onClick={() => void drop(board.id)}>Forget this board</Button>
            )}
          </div>
          <NotTaken wrong={wrong} />
          {twice && (
            <p className="mb-4">
              <Button onClick={() => void takeInAnew(twice).catch(say)}>
                Keep the file as what this board is from now on
              </Button>
            </p>
          )}
          <Dialog
            title="Describe a board from its data sheet"
            open={describing}
            onOpenChange={setDescribing}
            wide
          >
            <Describe
              boards={boards}
              onKept={(kept) => {
                setDescribing(false);
                void refresh(kept);
              }}
            />
          </Dialog>
          <div className="grid gap-8 lg:grid-cols-2">
            <section aria-labelledby="numbers">
              <h2 id="numbers" className="mb-1 font-semibold text-large">
                Ratings
              </h2>
              <p className="mb-2 text-faint text-small">
                Where nothing else is said: {memory}. Low – typical – high.
              </p>
              <table className="w-full">
                <tbody>
                  {lines(board).map((l) => (
                    <tr key={l.name} className="border-rule border-t align-top">
                      <th scope="row" className="py-1 pr-3 text-left font-normal">
                        {l.name}
                      </th>
                      <td className="py-1">
                        <span className="font-mono text-small">{l.says}</span>
                        {l.source !== memory && (
                          <span className="block text-faint text-small">{l.source}</span>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
            <section aria-labelledby="pins">
              <h2 id="pins" className="mb-1 font-semibold text-large">
                Pins
              </h2>
              <table className="w-full text-small">
                <thead className="text-left text-faint">
                  <tr>
                    <th className="font-normal">pin</th>
                    {functions.map((f) => (
                      <th key={f.id} className="px-1 font-normal">
                        {f.name}
                      </th>
                    ))}
                    <th className="font-normal">other functions</th>
                  </tr>
                </thead>
                <tbody>
                  {board.pins.map((pin) => (
                    <tr key={pin.name} className="border-rule border-t">
                      <th scope="row" className="text-left font-mono">
                        {pin.name}
                      </th>
                      {functions.map((f) => (
                        <td key={f.id} className="px-1 text-center">
                          {pin.functions.includes(f.id) ? (
                            <>
                              <span aria-hidden>●</span>
                              <span className="sr-only">yes</span>
                            </>
                          ) : (
                            <span className="sr-only">no</span>
                          )}
                        </td>
                      ))}
                      <td>
                        {[pin.own?.for, ...(pin.also ?? []), pin.pwm?.channel && `PWM ${pin.pwm.channel}`]
                          .filter(Boolean)
                          .join(", ")}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {(board.places ?? []).length > 0 && (
                <>
                  <h2 className="mt-6 mb-1 font-semibold text-large">Other places</h2>
                  <dl className="text-small">
                    {board.places?.map((place) => (
                      <div key={place.name} className="flex gap-3 border-rule border-t py-0.5">
                        <dt className="w-20 shrink-0 font-mono font-semibold">{place.name}</dt>
                        <dd>{place.is}</dd>
                      </div>
                    ))}
                  </dl>
                </>
              )}
            </section>
          </div>
        </>
      )}
    </main>
  );
}
