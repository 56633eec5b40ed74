import { useState } from "react";
import { useSheet, useSnapshot } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { ValueField } from "../shared/value-field";
import { short } from "../shared/values";
import { WorkingButton } from "../shared/working";

/** What feeds the board, with what it means for the regulator and how long a battery lasts. */
export function Supply() {
  const { view, board, library, edit } = useSheet();
  const { refused } = useSnapshot();
  const [open, setOpen] = useState(false);
  const doc = view.document;
  const supply = board.supplies.find((s) => s.id === doc.supply) ?? board.supplies[0];
  const { supply: fed, loads } = view.analysis;
  const heat = loads.find((load) => load.id === "regulator");
  const error = refused.find((r) => r.step?.edits[0]?.op === "supply")?.problem.title;
  if (!supply) return null;
  const feed = (words: string, more: { text?: string; cells?: string; count?: number } = {}) =>
    edit(words, { op: "supply", supply: supply.id, with: doc.also, ...more });
  const volts = doc.cells ? "" : doc.volts ? short(doc.volts, "V") : "";
  const count = doc.cells?.count ?? 4;
  return (
    <>
      <Button look="quiet" className="max-w-48" onClick={() => setOpen(true)}>
        <span className="truncate">fed by {fed.name}</span>
      </Button>
      <Dialog title="What feeds the board" open={open} onOpenChange={setOpen}>
        <div className="space-y-4">
          <Choice
            label="Where it goes in"
            value={supply.id}
            onChange={(id) => edit(`feed it at ${id}`, { op: "supply", supply: id })}
          >
            {board.supplies.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}, {short(s.input.low, "V")} to {short(s.input.high, "V")}
              </option>
            ))}
          </Choice>
          {board.supplies.length > 1 && (
            <Choice
              label="and at the same time"
              value={doc.also ?? ""}
              onChange={(also) =>
                edit(also ? `feed it at ${also} as well` : "feed it at one place", {
                  op: "supply",
                  supply: supply.id,
                  with: also || undefined,
                  text: doc.cells ? undefined : volts || undefined,
                  cells: doc.cells?.type,
                  count: doc.cells?.count,
                })
              }
            >
              <option value="">nothing else</option>
              {board.supplies
                .filter((s) => s.id !== supply.id)
                .map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
            </Choice>
          )}
          {supply.id !== board.supplies[0]?.id && (
            <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
              <ValueField
                label="Volts of an adapter"
                saved={volts}
                error={error}
                onCommit={(text) => feed(`feed it with ${text}`, { text })}
              />
              <Choice
                label="or cells"
                value={doc.cells?.type ?? ""}
                onChange={(cells) =>
                  feed(
                    cells ? `feed it from ${cells}` : "feed it without cells",
                    cells ? { cells, count } : {},
                  )
                }
              >
                <option value="">no cells</option>
                {library.cells.map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.name}
                  </option>
                ))}
              </Choice>
              {doc.cells && (
                <Choice
                  label="how many in series"
                  value={String(count)}
                  onChange={(n) =>
                    feed(`feed it from ${n} cells`, { cells: doc.cells?.type, count: Number(n) })
                  }
                >
                  {Array.from({ length: 12 }, (_, i) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: the number is what it is
                    <option key={i} value={i + 1}>
                      {i + 1}
                    </option>
                  ))}
                </Choice>
              )}
            </div>
          )}
          <dl className="grid grid-cols-[auto_1fr] items-center gap-x-6 gap-y-1">
            <dt className="text-faint">Voltage</dt>
            <dd>
              <WorkingButton quantity={fed.volts} label="supply voltage" />
            </dd>
            {heat && (
              <>
                <dt className="text-faint">Heat in the regulator</dt>
                <dd>
                  <WorkingButton quantity={heat.carries} label="heat in the regulator" />
                </dd>
              </>
            )}
            {fed.runTime && (
              <>
                <dt className="text-faint">Run time, everything on</dt>
                <dd>
                  <WorkingButton quantity={fed.runTime} label="run time" />
                </dd>
              </>
            )}
          </dl>
          <p className="text-faint text-small">
            Low-voltage cells, adapters and USB only. Never mains; charge lithium cells with their own charger
            only.
          </p>
        </div>
      </Dialog>
    </>
  );
}
