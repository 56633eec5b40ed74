import { useId } from "react";
import type { AssemblyView } from "../api/client";
import { useSheet, useSnapshot } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { TextField } from "../shared/text-field";

/** A wire that was tapped: its two ends, and which of them was nearer. */
export interface TappedWire {
  from: string;
  to: string;
  end: "from" | "to";
}

/** What a wire that was tapped may be: missing, or with one end in another hole. */
export function ThisWire({
  report,
  wire,
  hole,
  onWire,
  onHole,
}: {
  report: AssemblyView;
  wire: TappedWire;
  hole: string;
  onWire: (wire: TappedWire | undefined) => void;
  onHole: (hole: string) => void;
}) {
  const { edit } = useSheet();
  const { refused } = useSnapshot();
  const errorId = useId();
  const there = report.built?.wires.find((w) => w.from === wire.from && w.to === wire.to);
  if (!there) return null;
  const error = refused.find(
    (r) =>
      r.step?.edits[0]?.op === "wire-out" && r.step.edits[0].with === wire.from && r.step.edits.length > 1,
  )?.problem.title;
  const out = { op: "wire-out" as const, with: wire.from, text: wire.to };
  const moved = { ...wire, [wire.end]: hole.trim() };
  const done = () => {
    onWire(undefined);
    onHole("");
  };
  return (
    <form
      aria-label="This wire"
      className="rounded-sheet border-2 border-copper px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!hole.trim()) return;
        edit(`note that the wire from ${there.name} goes to ${hole.trim()}`, out, {
          op: "wire-in",
          with: moved.from,
          text: moved.to,
        });
        done();
      }}
    >
      <p className="font-semibold">
        The wire from {there.name}, {there.colour || "not in the plan"}
      </p>
      <p className="text-small">Tap the hole that an end of it is really in, or name it.</p>
      <div className="mt-2 flex flex-wrap items-end gap-2">
        <div className="min-w-32 grow">
          <Choice
            label="The end that is planned in"
            value={wire.end}
            onChange={(end) => onWire({ ...wire, end: end as TappedWire["end"] })}
          >
            <option value="from">{wire.from}</option>
            <option value="to">{wire.to}</option>
          </Choice>
        </div>
        <TextField
          label="is in"
          value={hole}
          onChange={onHole}
          example="e12"
          errorId={error ? errorId : undefined}
        />
        <Button type="submit" disabled={!hole.trim()}>
          It goes there
        </Button>
      </div>
      {error && (
        <p id={errorId} className="text-stop">
          {error}
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          onClick={() => {
            edit(`note that there is no wire from ${there.name}`, out);
            done();
          }}
        >
          It is missing
        </Button>
        <Button look="quiet" onClick={done}>
          It is as planned
        </Button>
      </div>
    </form>
  );
}
