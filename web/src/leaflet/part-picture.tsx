import type { Answers } from "./answers";

const colours: Record<string, string> = {
  supply: "fill-stop",
  ground: "fill-ink",
  output: "fill-copper",
  end: "fill-copper",
  free: "fill-faint",
};
const signs: Record<string, string> = { supply: "+", ground: "−", output: "→", end: "~", free: "" };

/** The part with its legs in a row, as it lies on the bench, with what is said of each so far. */
export function PartPicture({ answers }: { answers: Answers }) {
  const step = 56;
  const width = step * answers.legs.length + 24;
  const says = answers.legs.map((l, i) => `leg ${i + 1} ${l.name || "without a name"}: ${l.is}`).join("; ");
  return (
    <svg
      viewBox={`0 0 ${width} 170`}
      role="img"
      aria-label={`${answers.name || "The part"}: ${says}`}
      className="h-auto max-w-full"
      style={{ width: `${width}px` }}
    >
      <rect
        x="6"
        y="6"
        width={width - 12}
        height="84"
        rx="6"
        className="fill-wash stroke-ink"
        strokeWidth="2"
      />
      <text x={width / 2} y="34" textAnchor="middle" className="fill-ink font-semibold" fontSize="16">
        {answers.name.slice(0, Math.floor(width / 9)) || "?"}
      </text>
      {answers.legs.map((l, i) => {
        const x = 12 + step / 2 + i * step;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a leg is its place in the row
          <g key={i}>
            <text x={x} y="82" textAnchor="middle" className="fill-ink font-mono" fontSize="13">
              {l.name.slice(0, 6) || i + 1}
            </text>
            <path d={`M${x} 90V136`} className="stroke-ink" strokeWidth="4" />
            <circle cx={x} cy="146" r="13" className={colours[l.is] ?? "fill-faint"} />
            <text x={x} y="152" textAnchor="middle" className="fill-sheet font-semibold" fontSize="17">
              {signs[l.is]}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
