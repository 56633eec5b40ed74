import { type FormEvent, useId } from "react";
import type { AssemblyView, Edit } from "../api/client";
import { useSheet, useSnapshot } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { TextField } from "../shared/text-field";

/** Names a leg and a hole; what is tapped on the map is filled in. */
export function Place({
  report,
  leg,
  hole,
  onLeg,
  onHole,
  words,
  onPlace,
  refusedOp,
}: {
  report: AssemblyView;
  leg: string;
  hole: string;
  onLeg: (leg: string) => void;
  onHole: (hole: string) => void;
  words: string;
  onPlace: (terminal: string, hole: string) => void;
  refusedOp: Edit["op"];
}) {
  const { view, kind } = useSheet();
  const { refused } = useSnapshot();
  const errorId = useId();
  const error = refused.find((r) => r.step?.edits.some((e) => e.op === refusedOp && e.terminal))?.problem
    .title;
  const legs = (report.placement?.seats ?? []).flatMap((seat) => {
    const part = view.document.parts.find((p) => p.id === seat.part);
    if (!part) return [];
    const terminals = kind(part).terminals;
    return seat.legs.map((l) => ({
      terminal: `${seat.part}.${l.leg}`,
      name: `${part.name}, ${terminals.find((t) => t.id === l.leg)?.name ?? l.leg}`,
    }));
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (leg && hole.trim()) onPlace(leg, hole.trim());
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
      <div className="min-w-40 grow basis-full">
        <Choice label="Leg" value={leg} onChange={onLeg}>
          <option value="">choose, or tap it</option>
          {legs.map((l) => (
            <option key={l.terminal} value={l.terminal}>
              {l.name}
            </option>
          ))}
        </Choice>
      </div>
      <TextField
        label="Hole"
        value={hole}
        onChange={onHole}
        example="e12"
        errorId={error ? errorId : undefined}
      />
      <Button type="submit" disabled={!leg || !hole.trim()}>
        {words}
      </Button>
      {error && (
        <p id={errorId} className="basis-full text-stop">
          {error}
        </p>
      )}
    </form>
  );
}
