import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import type { AssemblyView } from "../api/client";
import { HoleMap } from "../map/hole-map";
import { useAssembly } from "../session/assembly";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { download } from "../shared/download";
import { Breadboards } from "./breadboards";
import { Built } from "./built";
import { Connections } from "./connections";
import { Steps } from "./steps";
import { Stock } from "./stock";
import type { TappedWire } from "./this-wire";

/** The Assemble section: the hole map, the steps, and what was really built. */
export function Assemble() {
  const { view } = useSheet();
  const report = useAssembly();
  if (report.isError) {
    return (
      <main className="p-6" role="alert">
        {report.error.message} <Button onClick={() => void report.refetch()}>Try again</Button>
      </main>
    );
  }
  if (!report.data) {
    return (
      <main className="p-6" aria-live="polite">
        Looking for the best places…
      </main>
    );
  }
  if (!report.data.placement) {
    return (
      <main className="max-w-prose space-y-4 p-6">
        <Breadboards report={report.data} />
        <p role="alert" className="border-stop border-l-4 pl-3 text-large">
          {report.data.problem}.
        </p>
        <p>
          Without a breadboard the same connections are a list from place to place:{" "}
          <Button onClick={() => void download(`/api/builds/${view.id}/files/links.csv`)}>
            Connections (CSV)
          </Button>
        </p>
      </main>
    );
  }
  return <Bench report={report.data} busy={report.isFetching} />;
}

const looks = [
  ["steps", "Steps"],
  ["built", "As built"],
  ["soldered", "Soldered"],
] as const;

type Look = (typeof looks)[number][0];

const panel = "flex min-h-0 grow flex-col";

function Bench({ report, busy }: { report: AssemblyView; busy: boolean }) {
  const { view } = useSheet();
  const [looking, look] = useState<Look>("steps");
  const [chosen, choose] = useState<string>();
  const [whole, setWhole] = useState(false);
  const [leg, setLeg] = useState("");
  const [hole, setHole] = useState("");
  const [wire, setWire] = useState<TappedWire>();
  const steps = report.steps;
  const next = steps.find((s) => !s.done);
  const step = steps.find((s) => s.id === chosen) ?? next;
  const built = looking === "built" && report.built !== undefined;
  const done = steps.filter((s) => s.done);
  if (view.document.parts.length === 0) {
    return (
      <main className="max-w-prose p-6">
        <p>
          There is nothing to assemble yet. Parts are chosen in the Plan section; here they find their holes.
        </p>
        <p className="mt-3">
          <Link className="underline" to="..">
            Choose parts
          </Link>
        </p>
      </main>
    );
  }
  return (
    <main className="grid min-h-0 grow grid-cols-1 lg:grid-cols-[minmax(24rem,1fr)_minmax(24rem,29rem)] lg:grid-rows-1">
      <section
        aria-label="Hole map"
        className="flex h-[52vh] min-h-0 flex-col border-rule border-b lg:h-auto lg:border-r lg:border-b-0"
      >
        <div className="flex flex-wrap items-end gap-3 border-rule border-b px-4 py-2">
          <Breadboards report={report} />
          <Stock />
          <span aria-live="polite" className="max-w-44 text-faint text-small">
            {busy ? "working it out…" : report.order}
          </span>
          <Button aria-pressed={whole} onClick={() => setWhole(!whole)} className="ml-auto">
            {whole ? "Show the step" : "Show it all"}
          </Button>
        </div>
        <HoleMap
          // Whoever looks for a hole for a leg may want any.
          map={(built && report.builtMap) || (leg ? report.map : report.usedMap)}
          whole={whole || (built ? report.built?.differences.length === 0 : !step)}
          now={
            built
              ? {
                  parts: report.built?.differences.flatMap((d) => d.parts) ?? [],
                  wires: wire
                    ? [report.built?.wires.findIndex((w) => w.from === wire.from && w.to === wire.to) ?? -1]
                    : [],
                  ends: report.built?.differences.flatMap((d) => d.ends) ?? [],
                }
              : { parts: step?.parts ?? [], wires: step?.wires ?? [], ends: step?.ends ?? [] }
          }
          done={
            built
              ? undefined
              : { parts: done.flatMap((s) => (s.look ? [] : s.parts)), wires: done.flatMap((s) => s.wires) }
          }
          onLeg={(tapped) => {
            setWire(undefined);
            setLeg(tapped);
          }}
          onHole={setHole}
          onWire={
            built
              ? (index, end) => {
                  const tapped = report.built?.wires[index];
                  if (tapped) setWire({ from: tapped.from, to: tapped.to, end });
                }
              : undefined
          }
        />
      </section>
      <Tabs.Root value={looking} onValueChange={(id) => look(id as Look)} className="flex min-h-0 flex-col">
        <Tabs.List aria-label="What to look at" className="flex border-rule border-b">
          {looks.map(([id, words]) => (
            <Tabs.Trigger
              key={id}
              value={id}
              className="grow px-3 py-2 hover:bg-wash data-[state=active]:border-copper data-[state=active]:border-b-4 data-[state=active]:bg-sheet data-[state=active]:font-semibold"
            >
              {words}
              {id === "built" && (report.built?.differences.length ?? 0) > 0 && (
                <span className="ml-2 font-mono text-stop">{report.built?.differences.length}</span>
              )}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="steps" className={panel}>
          <Steps
            report={report}
            step={step}
            onChoose={choose}
            leg={leg}
            hole={hole}
            onLeg={setLeg}
            onHole={setHole}
          />
        </Tabs.Content>
        <Tabs.Content value="built" className={panel}>
          <Built
            report={report}
            leg={leg}
            hole={hole}
            onLeg={setLeg}
            onHole={setHole}
            wire={wire}
            onWire={setWire}
          />
        </Tabs.Content>
        <Tabs.Content value="soldered" className={panel}>
          <Connections report={report} />
        </Tabs.Content>
      </Tabs.Root>
    </main>
  );
}
