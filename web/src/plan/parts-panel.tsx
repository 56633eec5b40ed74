import { useSheet } from "../session/context";
import { PartCard } from "./part-card";
import { Picker } from "./picker";
import { TypeParts } from "./type-parts";

export interface Selection {
  selected: string | undefined;
  onSelect: (part: string | undefined) => void;
}

/** The parts as cards. What a hookup brought along stands on its part's card. */
export function PartsPanel({ selected, onSelect }: Selection) {
  const { view } = useSheet();
  const parts = view.document.parts.filter((p) => !p.of);
  return (
    <section aria-labelledby="parts-heading" className="flex min-h-0 flex-col border-rule lg:border-r">
      <div className="flex items-center justify-between gap-2 border-rule border-b px-4 py-2">
        <h2 id="parts-heading" className="font-semibold">
          Parts
        </h2>
        <Picker />
      </div>
      <TypeParts />
      {parts.length === 0 && (
        <p className="px-4 py-6 text-faint">
          Nothing hangs on the board yet. Say above what should, or take it from the list: each part gets a
          pin, a resistor where it needs one, and the reasons for both.
        </p>
      )}
      <ul className="min-h-0 grow overflow-auto" aria-label="Parts">
        {parts.map((part) => (
          <PartCard
            key={part.id}
            part={part}
            open={selected === part.id}
            onToggle={() => onSelect(selected === part.id ? undefined : part.id)}
          />
        ))}
      </ul>
    </section>
  );
}
