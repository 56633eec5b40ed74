import type { Finding } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Holds } from "../shared/holds";
import { LevelMark } from "../shared/level";
import { WorkingButton } from "../shared/working";
import { Moved } from "./moved";

/** What the check has to say, the worst first, each with its fix. */
export function FindingsPanel({ onSelect }: { onSelect: (part: string) => void }) {
  const { view } = useSheet();
  const { findings, counts, states, exhaustive } = view.analysis;
  return (
    <section
      aria-labelledby="findings-heading"
      tabIndex={-1}
      data-next={view.document.parts.length > 0 ? "plan" : undefined}
      className="order-first flex min-h-0 flex-col border-rule sm:col-span-2 sm:border-b lg:order-none lg:col-span-1 lg:border-b-0"
    >
      <div className="flex min-h-13 items-center justify-between gap-2 border-rule border-b px-4 py-2">
        <h2 id="findings-heading" className="font-semibold">
          Findings
        </h2>
        <p
          className="flex gap-3 font-mono"
          role="status"
          aria-label={`${counts.stop} stop, ${counts.care} care, ${counts.note} note`}
        >
          {(["stop", "care", "note"] as const).map((level) => (
            <span
              key={level}
              className={`flex items-center gap-1 ${counts[level] === 0 ? "opacity-40" : ""}`}
            >
              <LevelMark level={level} />
              {counts[level]}
            </span>
          ))}
        </p>
      </div>
      <ul className="min-h-0 grow overflow-auto" aria-label="Findings">
        {grouped(findings).map((group) => (
          <FindingCard key={group[0].id} group={group} onSelect={onSelect} />
        ))}
      </ul>
      <Moved />
      <Holds />
      <div className="border-rule border-t px-4 py-2 text-faint text-small">
        {states > 0 && (
          <p>
            {findings.length === 0 && "Nothing speaks against it. "}
            {states} states solved
            {exhaustive ? ", all there are" : "; of so many combinations, the extremes"}.
          </p>
        )}
        <p>Unplug the board before you wire or move a wire. Never mains on a breadboard.</p>
      </div>
    </section>
  );
}

type Group = [Finding, ...Finding[]];

/** Findings that the same fixes remove are one thing to decide: each group stands where its worst one does. */
function grouped(findings: Finding[]): Group[] {
  const groups = new Map<string, Group>();
  for (const finding of findings) {
    const edits = finding.fixes.map((fix) => fix.edits);
    const key = edits.length > 0 ? JSON.stringify(edits) : finding.id;
    const group = groups.get(key);
    if (group) group.push(finding);
    else groups.set(key, [finding]);
  }
  return [...groups.values()];
}

function FindingCard({ group, onSelect }: { group: Group; onSelect: (part: string) => void }) {
  const { edit } = useSheet();
  const [first, ...others] = group;
  return (
    <li className="space-y-1.5 border-rule border-b px-4 py-3">
      <Told finding={first} onSelect={onSelect} />
      {first.fixes.map((fix) => (
        <Button
          key={fix.label}
          look={first.level === "note" ? "plain" : "main"}
          className="w-full py-1 text-left"
          onClick={() => edit(fix.label, ...fix.edits)}
        >
          {fix.label}
        </Button>
      ))}
      {first.stuck && <p className="text-faint text-small">{first.stuck}</p>}
      {others.length > 0 && (
        <details>
          <summary className="cursor-pointer py-2 text-small">
            {others.length === 1 ? "One more goes with it" : `${others.length} more go with it`}
          </summary>
          <ul className="mt-2 space-y-3">
            {others.map((finding) => (
              <li key={finding.id} className="space-y-1.5">
                <Told finding={finding} onSelect={onSelect} />
              </li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}

function Told({ finding, onSelect }: { finding: Finding; onSelect: (part: string) => void }) {
  const part = finding.parts[0];
  return (
    <>
      <div className="flex gap-2">
        <span className="pt-0.5">
          <LevelMark level={finding.level} size={20} />
        </span>
        {part ? (
          <button
            type="button"
            onClick={() => onSelect(part)}
            className="min-h-0! text-left font-semibold hover:underline"
          >
            {finding.title}
          </button>
        ) : (
          <p className="font-semibold">{finding.title}</p>
        )}
      </div>
      <p className="text-small">{finding.why}</p>
      {finding.found && (
        <p className="text-small">
          <WorkingButton quantity={finding.found} label={finding.title} />
        </p>
      )}
    </>
  );
}
