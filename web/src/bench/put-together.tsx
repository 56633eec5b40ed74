import { useState } from "react";
import type { ShouldPieces } from "../api/client";
import { Button, Choice } from "../shared/controls";

/** A sentence by choosing, without typing: when, which thing, what it does, within which time. */
export function PutTogether({
  pieces,
  onTake,
}: {
  pieces: ShouldPieces;
  onTake: (sentence: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState({ when: 0, thing: 0, does: 0, soon: 0 });
  const when = pieces.whens[chosen.when];
  const thing = pieces.things[chosen.thing];
  if (!when || !thing) return null;
  const doing = when.press ? thing.done : thing.does;
  const does = doing[chosen.does] ?? doing[0];
  const sentence = `${when.text}${does?.text ?? ""}${pieces.soon[chosen.soon]?.text ?? ""}`;
  const choice = (label: string, at: keyof typeof chosen, names: string[]) => (
    <Choice
      label={label}
      value={String(at === "does" && !doing[chosen.does] ? 0 : chosen[at])}
      onChange={(value) => setChosen({ ...chosen, [at]: Number(value) })}
    >
      {names.map((name, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two things may be called alike
        <option key={i} value={i}>
          {name}
        </option>
      ))}
    </Choice>
  );
  return (
    <div className="border-rule border-t pt-2">
      <Button look="quiet" className="px-0! underline" aria-expanded={open} onClick={() => setOpen(!open)}>
        Choose its words instead
      </Button>
      {open && (
        <div className="mt-2 space-y-2">
          {choice(
            "When",
            "when",
            pieces.whens.map((w) => w.name),
          )}
          {choice(
            "What",
            "thing",
            pieces.things.map((t) => t.name),
          )}
          {choice(
            "Does what",
            "does",
            doing.map((d) => d.name),
          )}
          {choice(
            "Within",
            "soon",
            pieces.soon.map((s) => s.name),
          )}
          <p className="text-small">{sentence}</p>
          <Button onClick={() => onTake(sentence)}>Take this sentence</Button>
        </div>
      )}
    </div>
  );
}
