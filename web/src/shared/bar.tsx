import type { Level } from "../api/client";

/** How much of a limit is used, as ten cells. It is a picture of a number that stands beside it. */
export function Bar({
  share,
  level,
  cells = 10,
}: {
  share: number;
  level: Level | undefined;
  cells?: number;
}) {
  const full = Math.min(cells, share > 0.002 ? Math.max(1, Math.round(share * cells)) : 0);
  const color = level === "stop" ? "fill-stop" : level === "care" ? "fill-care" : "fill-good";
  return (
    <svg viewBox={`0 0 ${cells * 8} 14`} className="h-3.5 w-auto shrink-0" aria-hidden="true">
      {Array.from({ length: cells }, (_, i) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: cells have no identity but their place
          key={i}
          x={i * 8 + 0.5}
          y="0.5"
          width="6"
          height="13"
          className={i < full ? color : "fill-none"}
          stroke="var(--faint)"
          strokeWidth="1"
        />
      ))}
    </svg>
  );
}
