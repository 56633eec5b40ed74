import type { Cause } from "../api/client";

const most = 6;

/** The causes that are left, as bars that shrink, each with what speaks for and against it. */
export function Causes({
  causes,
  considered,
  unknown,
}: {
  causes: Cause[];
  considered: number;
  unknown: number;
}) {
  return (
    <section aria-label="Causes">
      <h2 className="sticky top-0 bg-wash px-3 py-1.5 font-semibold">What it may be</h2>
      <ol>
        {together(causes).map((c) => (
          <li key={c.faults.join("+")} className="border-rule border-b px-3 py-2">
            <div className="flex items-center gap-2">
              <span className="h-3 grow bg-wash" aria-hidden>
                <span
                  className="block h-3 bg-copper transition-[width] motion-reduce:transition-none"
                  style={{ width: `${Math.max(100 * c.weight, 1)}%` }}
                />
              </span>
              <span className="w-14 shrink-0 text-right font-mono">{percent(c.weight)}</span>
            </div>
            <p>{c.words}</p>
            <details className="text-small">
              <summary className="cursor-pointer py-1 text-faint">Why</summary>
              <List name="For it" lines={c.for} />
              <List name="Against it" lines={c.against} />
              <List name="Working" lines={c.working.slice(0, 1)} />
            </details>
          </li>
        ))}
      </ol>
      <p className="flex justify-between gap-2 px-3 py-2">
        Something that is on no list here
        <span className="font-mono">{percent(unknown)}</span>
      </p>
      <p className="px-3 py-2 text-faint text-small">
        Of {considered} single faults and likely pairs, weighed by how common they are and how well they
        explain what was seen.
      </p>
    </section>
  );
}

/** Causes that the same puts right are one, by the words of the likeliest. */
function together(causes: Cause[]): Cause[] {
  const by = new Map<string, Cause>();
  for (const [i, c] of causes.entries()) {
    if (c.faults.length === 0 && i > 0) continue; // it is told below, of all parts together
    const cure = c.try.map((t) => t.ask).join("+");
    const first = by.get(cure);
    by.set(cure, first ? { ...first, weight: first.weight + c.weight } : c);
  }
  return [...by.values()].sort((a, b) => b.weight - a.weight).slice(0, most);
}

function percent(weight: number): string {
  const p = 100 * weight;
  return p < 1 ? "< 1 %" : `${Math.round(p)} %`;
}

function List({ name, lines }: { name: string; lines: string[] }) {
  if (lines.length === 0) return null;
  return (
    <>
      <h3 className="font-semibold">{name}</h3>
      <ul className="list-disc pl-5">
        {lines.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
    </>
  );
}
