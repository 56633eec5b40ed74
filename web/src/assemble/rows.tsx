import type { Row } from "../api/client";

/** The hole map in words: what is in each row, for a look along them, or for who cannot see the map. */
export function Rows({ rows }: { rows: Row[] }) {
  return (
    <details className="border-rule border-t px-4 py-2">
      <summary className="py-1">What is in each row</summary>
      <dl className="mt-1">
        {rows.map((row) => (
          <div key={row.name} className="flex gap-3 border-rule border-t py-1">
            <dt className="w-32 shrink-0">{row.name}</dt>
            <dd>
              {row.holds.map((what) => (
                <p key={what}>{what}</p>
              ))}
            </dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
