import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { type FormEvent, useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { AwayError, answer, api, type Kind, type Library, ProblemError } from "../api/client";
import { inLines } from "../api/errors";
import type { components } from "../generated/api";
import { Button, Choice } from "../shared/controls";
import { download } from "../shared/download";
import { FileButton, NotTaken } from "../shared/file-button";
import { Head } from "../shared/head";
import { useKept } from "../shared/kept";
import { useLibrary } from "../shared/library";
import { short } from "../shared/values";
import { waitLonger } from "../shared/wait";
import { inks, SymbolPicture } from "../symbols/symbols";
import { OwnMeter } from "./own-meter";

type Item = components["schemas"]["Item"];
const key = ["drawer"];

/** What the builder owns. Resistors in it stand first when a value is chosen. */
export function DrawerPage() {
  const queries = useQueryClient();
  const [query] = useSearchParams();
  const from = query.get("from");
  const library = useLibrary();
  const drawer = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/drawer")),
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  const [wrong, setWrong] = useState<string[]>([]);
  const [before, setBefore] = useState<Item[]>();
  useEffect(() => {
    document.title = "Drawer – Cablaggio";
  }, []);
  const items = drawer.data?.items ?? [];
  const say = (error: unknown) => {
    setWrong(
      error instanceof ProblemError
        ? inLines(error.problem)
        : ["The server does not answer; try again in a moment."],
    );
  };
  const fill = async (next: Item[], keep = true) => {
    try {
      setWrong([]);
      const header = { "If-Match": drawer.data?.tag ?? "" };
      const now = await answer(api.PUT("/api/drawer", { params: { header }, body: { items: next } }));
      if (keep) setBefore(items);
      queries.setQueryData(key, now);
    } catch (error) {
      say(error);
      // Somebody else was first: what is there now is shown.
      if (error instanceof ProblemError && error.problem.status === 412)
        await queries.invalidateQueries({ queryKey: key });
    }
  };
  const takeIn = async (file: File) => {
    try {
      const read = await answer(api.POST("/api/drawer/read", { body: { text: await file.text() } }));
      await fill([...items, ...read.items]);
    } catch (error) {
      say(error);
    }
  };
  return (
    <main className="mx-auto max-w-5xl px-6 py-5">
      <Head here="Drawer">
        {from && (
          <Link to={`/builds/${from}`} className="underline">
            Back to the build
          </Link>
        )}
      </Head>
      {library.data && (
        <>
          <AddItem library={library.data} onAdd={(more) => fill([...items, ...more])} />
          <div className="mb-4 flex flex-wrap gap-2">
            <Button onClick={() => fill([...items, ...library.data.kit])}>
              Add a kit of 30 resistor values
            </Button>
            <FileButton
              words="Import a table (CSV)"
              spoken="A table of parts as a file"
              accept=".csv,text/csv"
              onFile={(file) => void takeIn(file)}
            />
            <Button onClick={() => void download("/api/drawer/file")}>Save as table (CSV)</Button>
            {before && (
              <Button
                onClick={() => {
                  void fill(before, false);
                  setBefore(undefined);
                }}
              >
                Take the last change back
              </Button>
            )}
          </div>
          <NotTaken wrong={wrong} />
          {drawer.data && items.length === 0 && (
            <p className="max-w-prose pb-3 text-faint">
              The drawer is empty. Put in what you own, a value at a time or a whole kit: then a resistor is
              chosen from what you have, alone or two together, before anything is bought.
            </p>
          )}
          <ul className="divide-y divide-rule border-rule border-b" aria-label="In the drawer">
            {items.map((item, i) => (
              <Row
                key={item.id}
                item={item}
                kind={library.data.catalogue.kinds.find((k) => k.id === item.kind)}
                onPieces={(pieces) => fill(items.map((x, k) => (k === i ? { ...x, pieces } : x)))}
                onRemove={() => fill(items.filter((_, k) => k !== i))}
              />
            ))}
          </ul>
          <OwnMeter />
        </>
      )}
    </main>
  );
}

/** Several values in one line, as in "220, 330, 1k"; a comma without a space after it belongs to a number. */
function values(text: string): string[] {
  const parts = text.split(/,\s+|;/).map((v) => v.trim());
  return parts.some(Boolean) ? parts.filter(Boolean) : [""];
}

function AddItem({ library, onAdd }: { library: Library; onAdd: (items: Item[]) => void }) {
  const [kindId, setKind] = useState("resistor");
  const [type, setType] = useState("");
  const kind = library.catalogue.kinds.find((k) => k.id === kindId);
  const value = kind?.values.find((v) => v.shown);
  const [text, setText] = useKept("drawer", "");
  const [pieces, setPieces] = useState("10");
  const [measured, setMeasured] = useState(false);
  const [bad, setBad] = useState<string>();
  const add = async (event: FormEvent) => {
    event.preventDefault();
    // The server reads the value, so that 4k7 means the same everywhere.
    const rows = values(text).map((v) => [
      kindId,
      type,
      v && value ? `${value.id}=${v}` : "",
      pieces,
      measured ? "yes" : "",
    ]);
    const lines = rows.map((row) => row.map((cell) => `"${cell.replaceAll('"', '""')}"`).join(","));
    try {
      const read = await answer(
        api.POST("/api/drawer/read", {
          body: { text: `kind,type,values,pieces,measured\n${lines.join("\n")}\n` },
        }),
      );
      setBad(undefined);
      setText("");
      onAdd(read.items);
    } catch (error) {
      setBad(
        error instanceof ProblemError
          ? (error.problem.problems?.[0]?.what ?? error.problem.title)
          : "The server does not answer.",
      );
    }
  };
  return (
    <form onSubmit={add} className="my-5 flex flex-wrap items-end gap-3" aria-label="Put something in">
      <div className="w-56">
        <Choice
          label="Part"
          value={kindId}
          onChange={(id) => {
            setKind(id);
            setType(library.catalogue.kinds.find((k) => k.id === id)?.types[0]?.id ?? "");
          }}
        >
          {library.catalogue.kinds.map((k) => (
            <option key={k.id} value={k.id}>
              {k.name}
            </option>
          ))}
        </Choice>
      </div>
      {kind && kind.types.length > 0 && (
        <div className="w-32">
          <Choice label="Type" value={type} onChange={setType}>
            {kind.types.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </Choice>
        </div>
      )}
      {value && (
        <label className="flex w-36 flex-col gap-0.5">
          <span className="text-faint text-small">{value.name}</span>
          <input
            value={text}
            maxLength={40}
            onChange={(event) => setText(event.target.value)}
            placeholder={value.unit === "Ω" ? "220, 330, 4k7" : ""}
            className="rounded-sheet border border-ink/40 bg-sheet px-2 font-mono placeholder:text-faint"
          />
        </label>
      )}
      <label className="flex w-20 flex-col gap-0.5">
        <span className="text-faint text-small">pieces</span>
        <input
          value={pieces}
          maxLength={6}
          inputMode="numeric"
          onChange={(event) => setPieces(event.target.value)}
          className="rounded-sheet border border-ink/40 bg-sheet px-2 font-mono"
        />
      </label>
      <label className="flex min-h-9 items-center gap-2">
        <input type="checkbox" checked={measured} onChange={(event) => setMeasured(event.target.checked)} />
        measured
      </label>
      <Button look="main" type="submit">
        Put it in
      </Button>
      {bad && (
        <p role="alert" className="w-full text-stop">
          {bad}
        </p>
      )}
    </form>
  );
}

function Row({
  item,
  kind,
  onPieces,
  onRemove,
}: {
  item: Item;
  kind: Kind | undefined;
  onPieces: (pieces: number) => void;
  onRemove: () => void;
}) {
  const type = kind?.types.find((t) => t.id === item.type);
  const values = Object.entries(item.values ?? {}).map(([id, v]) => {
    const def = kind?.values.find((x) => x.id === id);
    return `${id === kind?.values[0]?.id ? "" : `${def?.name} `}${short(v, def?.unit ?? "")}`;
  });
  const name = [type?.name, item.name || kind?.name, values.join(", ")].filter(Boolean).join(" ");
  return (
    <li className="flex items-center gap-4 py-1">
      <SymbolPicture symbol={kind?.symbol ?? ""} ink={inks[type?.ink ?? ""]} />
      <span className="grow">
        {type?.name} {item.name || kind?.name}{" "}
        <span className="font-mono font-semibold">{values.join(", ")}</span>
        {item.measured && <span className="text-faint"> measured</span>}
      </span>
      <label className="flex items-center gap-2">
        <span className="sr-only">Pieces of {name}</span>
        <input
          defaultValue={item.pieces}
          maxLength={6}
          inputMode="numeric"
          onBlur={(event) => {
            const n = Number(event.target.value);
            if (Number.isInteger(n) && n >= 0 && n !== item.pieces) onPieces(n);
            else event.target.value = String(item.pieces);
          }}
          className="w-16 rounded-sheet border border-ink/40 bg-sheet px-2 text-right font-mono"
        />
        <span className="text-faint">pieces</span>
      </label>
      <Button look="quiet" aria-label={`Take ${name} out`} onClick={onRemove}>
        <Trash2 size={18} aria-hidden />
      </Button>
    </li>
  );
}
