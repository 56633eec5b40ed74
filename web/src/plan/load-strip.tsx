import type { Load } from "../api/client";
import { useSheet } from "../session/context";
import { Bar } from "../shared/bar";
import { Button } from "../shared/controls";
import { useKept } from "../shared/kept";
import { WorkingButton } from "../shared/working";

/** From which share of a limit on a load is near it. */
const near = 0.6;

/** What the board and the supply carry at most, against their limits: what is near one, or all when it is asked for. */
export function LoadStrip() {
  const { view } = useSheet();
  const [all, showAll] = useKept("load-all", false);
  // What carries nothing is of no interest, but for the two that every build has.
  const loads = view.analysis.loads.filter(
    (load) => load.share > 0 || load.id === "pins" || load.id === "supply",
  );
  const shown = all ? loads : loads.filter((load) => load.share >= near);
  return (
    <section
      aria-label="Load"
      className="sticky bottom-0 flex flex-wrap items-center gap-x-4 gap-y-1 border-ink border-t-2 bg-paper px-4 py-1"
    >
      <h2 className="font-semibold">
        Load <span className="font-normal text-faint text-small">at worst</span>
      </h2>
      {shown.length === 0 && <span className="text-small">{largest(loads)}</span>}
      {shown.map((load) => (
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
      {(all || shown.length < loads.length) && (
        <Button
          look="quiet"
          className="min-h-8! ml-auto px-2! text-small underline"
          onClick={() => showAll(!all)}
        >
          {all ? "Only what is near a limit" : "Show all loads"}
        </Button>
      )}
    </section>
  );
}

/** The load that is nearest to its limit, in words. */
function largest(loads: Load[]): string {
  const most = loads.reduce<Load | undefined>((a, b) => (a && a.share >= b.share ? a : b), undefined);
  return most ? `${Math.round(100 * most.share)} % of the limit of ${most.name}, and less of all others` : "";
}
