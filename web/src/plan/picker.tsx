import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Kind } from "../api/client";
import { isOwn } from "../api/kinds";
import { LeafletForm } from "../leaflet/leaflet-form";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { inks, SymbolPicture } from "../symbols/symbols";

const families = ["lamps", "contacts", "sensors", "chips", "loads", "passives"];

/** What was taken before, the last first, kept in the browser. */
const recentKey = "cablaggio.recent";
const recent = (): string[] => {
  try {
    return JSON.parse(localStorage.getItem(recentKey) ?? "[]");
  } catch {
    return [];
  }
};

interface Choice {
  kind: Kind;
  type: string | undefined;
  name: string;
  ink: string | undefined;
}

/** Every part there is, by family, with its symbol; or by a word. */
export function Picker() {
  const { library, edit } = useSheet();
  const [open, setOpen] = useState(false);
  const [word, setWord] = useState("");
  const [describing, setDescribing] = useState(false);
  const queries = useQueryClient();
  const all: Choice[] = library.catalogue.kinds.flatMap((kind) =>
    (kind.types.length > 0 ? kind.types : [undefined]).map((type) => ({
      kind,
      type: type?.id,
      name: type ? `${type.name} ${kind.name}` : kind.name,
      ink: inks[type?.ink ?? ""],
    })),
  );
  const wanted = word.trim().toLowerCase();
  const fits = (c: Choice) =>
    `${c.name} ${c.kind.words.join(" ")} ${c.kind.summary}`.toLowerCase().includes(wanted);
  const keyOf = (c: Choice) => `${c.kind.id}/${c.type ?? ""}`;
  const take = (c: Choice) => {
    localStorage.setItem(
      recentKey,
      JSON.stringify([keyOf(c), ...recent().filter((k) => k !== keyOf(c))].slice(0, 6)),
    );
    setOpen(false);
    setWord("");
    edit(`add a ${c.name}`, { op: "add", kind: c.kind.id, type: c.type });
  };
  const groups = [
    {
      name: "used before",
      choices: recent().flatMap((key) => all.filter((c) => keyOf(c) === key)),
    },
    { name: "your own", choices: all.filter((c) => isOwn(c.kind)) },
    ...families.map((name) => ({
      name,
      choices: all.filter((c) => c.kind.family === name && !isOwn(c.kind)),
    })),
  ];
  return (
    <>
      <Button look="main" onClick={() => setOpen(true)}>
        Add a part
      </Button>
      <Dialog title="Add a part" open={open} onOpenChange={setOpen} wide>
        <div className="flex flex-wrap items-end gap-3">
          <label className="flex min-w-60 grow flex-col gap-0.5">
            <span className="text-faint text-small">Find by a word</span>
            <input
              data-first
              value={word}
              maxLength={120}
              onKeyDown={(event) => {
                const first = groups.flatMap((g) => g.choices).find(fits);
                if (event.key === "Enter" && wanted && first) take(first);
              }}
              onChange={(event) => setWord(event.target.value)}
              placeholder="light, water, knob…"
              autoComplete="off"
              spellCheck={false}
              className="rounded-sheet border border-ink/40 bg-sheet px-2 placeholder:text-faint"
            />
          </label>
          <Button
            onClick={() => {
              setOpen(false);
              setDescribing(true);
            }}
          >
            A part that is not here
          </Button>
        </div>
        {groups.map((group) => {
          const choices = group.choices.filter(fits);
          if (choices.length === 0) return null;
          return (
            <section key={group.name} aria-label={group.name} className="mt-4">
              <h3 className="border-rule border-b text-faint">{group.name}</h3>
              <ul className="mt-1 grid grid-cols-1 gap-1 sm:grid-cols-2 lg:grid-cols-3">
                {choices.map((c) => (
                  <li key={keyOf(c)}>
                    <button
                      type="button"
                      onClick={() => take(c)}
                      className="flex w-full items-center gap-2 rounded-sheet px-2 py-1 text-left hover:bg-wash"
                    >
                      <SymbolPicture symbol={c.kind.symbol} ink={c.ink} />
                      {c.name}
                    </button>
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
        {!all.some(fits) && (
          <p className="mt-4 text-faint">Nothing is called that. Try another word for it, or what it does.</p>
        )}
      </Dialog>
      <Dialog title="A part from its leaflet" open={describing} onOpenChange={setDescribing} wide>
        <LeafletForm
          onKept={(kind) => {
            setDescribing(false);
            void queries
              .invalidateQueries({ queryKey: ["library"] })
              .then(() => edit(`add a ${kind.name}`, { op: "add", kind: kind.id }));
          }}
        />
      </Dialog>
    </>
  );
}
