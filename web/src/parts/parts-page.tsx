import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api, type Kind, ProblemError } from "../api/client";
import { inLines } from "../api/errors";
import { isOwn } from "../api/kinds";
import { LeafletForm } from "../leaflet/leaflet-form";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { download } from "../shared/download";
import { FileButton, NotTaken } from "../shared/file-button";
import { Head } from "../shared/head";
import { useLibrary } from "../shared/library";
import { SymbolPicture } from "../symbols/symbols";

/** The kinds of parts that the builder described. */
export function PartsPage() {
  const library = useLibrary();
  const queries = useQueryClient();
  const [describing, setDescribing] = useState(false);
  const [wrong, setWrong] = useState<string[]>([]);
  const [twice, setTwice] = useState<string>();
  useEffect(() => {
    document.title = "Parts – Cablaggio";
  }, []);
  const refresh = async () => {
    setWrong([]);
    await queries.invalidateQueries({ queryKey: ["library"] });
  };
  const say = (error: unknown) => {
    setWrong(error instanceof ProblemError ? inLines(error.problem) : ["The server does not answer."]);
  };
  const takeIn = async (text: string, tag?: string) => {
    try {
      setTwice(undefined);
      await answer(
        api.POST("/api/kinds", {
          params: { header: tag ? { "If-Match": tag } : {} },
          body: {} as never,
          bodySerializer: () => text,
        }),
      );
      await refresh();
    } catch (error) {
      say(error);
      if (error instanceof ProblemError && error.problem.status === 412) setTwice(text);
    }
  };
  const takeInAnew = async (text: string) => {
    const { id } = JSON.parse(text) as Kind;
    const now = await answer(api.GET("/api/library"));
    await takeIn(text, now.ownKinds.find((o) => o.id === id)?.tag);
  };
  const drop = async (kind: string) => {
    try {
      await answer(api.DELETE("/api/kinds/{kind}", { params: { path: { kind } } }));
      await refresh();
    } catch (error) {
      say(error);
    }
  };
  const own = (library.data?.catalogue.kinds ?? []).filter(isOwn);
  return (
    <main className="mx-auto max-w-6xl px-6 py-5">
      <Head here="Parts" />
      <div className="my-4 flex flex-wrap items-end gap-4">
        <p className="max-w-prose grow py-1">
          Parts that you described yourself. They are in the list when you add a part, and everything follows
          from them as from the others: ways to wire, checks, steps, readings, programs. Whoever gets a build
          of yours gets its parts with it.
        </p>
        <div className="ml-auto flex gap-4">
          <FileButton
            words="Import a file"
            spoken="A part as a file"
            accept=".json,application/json"
            onFile={(file) => void file.text().then((text) => takeIn(text))}
          />
          <Button look="main" onClick={() => setDescribing(true)}>
            Describe a part
          </Button>
        </div>
      </div>
      <NotTaken wrong={wrong} />
      {twice && (
        <p className="mb-4">
          <Button onClick={() => void takeInAnew(twice).catch(say)}>
            Keep the file as what this part is from now on
          </Button>
        </p>
      )}
      <Dialog title="A part from its leaflet" open={describing} onOpenChange={setDescribing} wide>
        <LeafletForm
          onKept={() => {
            setDescribing(false);
            void refresh();
          }}
        />
      </Dialog>
      {library.data && own.length === 0 && (
        <p className="border-rule border-t py-6 text-faint">
          None yet. Lay a module with its leaflet before you and press Describe a part: it takes two minutes.
        </p>
      )}
      <ul aria-label="Parts of your own">
        {own.map((k) => (
          <li key={k.id} className="flex flex-wrap items-center gap-4 border-rule border-t py-2">
            <SymbolPicture symbol={k.symbol} />
            <div className="flex-[1_1_15rem]">
              <h2 className="font-semibold">{k.name}</h2>
              <p className="text-faint text-small">{k.summary}</p>
            </div>
            <Button
              onClick={() => void download(`/api/kinds/${k.id}/file`)}
              aria-label={`Save ${k.name} as file`}
            >
              Save as file
            </Button>
            <Button onClick={() => void drop(k.id)} aria-label={`Forget ${k.name}`}>
              Forget
            </Button>
          </li>
        ))}
      </ul>
    </main>
  );
}
