import { useSheet } from "../session/context";
import { Bar } from "../shared/bar";
import { WorkingButton } from "../shared/working";

/** What the board and the supply carry at most, against their limits. It stays in view. */
export function LoadStrip() {
  const { view } = useSheet();
  // What carries nothing is of no interest, but for the two that every build has.
  const loads = view.analysis.loads.filter(
    (load) => load.share > 0 || load.id === "pins" || load.id === "supply",
  );
  return (
    <section
      aria-label="Load"
      className="sticky bottom-0 flex flex-wrap items-center gap-x-4 gap-y-1 border-ink border-t-2 bg-paper px-4 py-2"
    >
      <h2 className="font-semibold">
        Load <span className="font-normal text-faint text-small">at worst</span>
      </h2>
      {loads.map((load) => (
        <div key={load.id} className="flex items-center gap-1">
          <span className="text-small">{load.name}</span>
          <WorkingButton
            quantity={load.carries}
            label={load.name}
            shown={`${load.carries.maxText} of ${load.carries.limit?.absoluteText}`}
            className="text-small"
          />
          <Bar share={load.share} level={load.carries.level} cells={4} />
        </div>
      ))}
    </section>
  );
}
