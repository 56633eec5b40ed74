import { type FormEvent, useId } from "react";
import type { AssemblyView, Edit } from "../api/client";
import { useSnapshot } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { TextField } from "../shared/text-field";
import { useLegName } from "./leg-name";

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
  const legName = useLegName();
  const { refused } = useSnapshot();
  const errorId = useId();
  const error = refused.find((r) => r.step?.edits.some((e) => e.op === refusedOp && "terminal" in e))?.problem
    .title;
  const legs = (report.placement?.seats ?? []).flatMap((s) => s.legs.map((l) => `${s.part}.${l.leg}`));
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
            <option key={l} value={l}>
              {legName(l)}
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
