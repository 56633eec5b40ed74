/** The colours of bands on a resistor. The name always stands beside the colour. */
const colours: Record<string, string> = {
  black: "#1c1c1c",
  brown: "#6b3a17",
  red: "#c8281e",
  orange: "#e8781e",
  yellow: "#efd02b",
  green: "#2f8f4e",
  blue: "#2f62c4",
  violet: "#7d3fa8",
  grey: "#8a8a8a",
  white: "#f7f7f7",
  gold: "#b8963a",
  silver: "#b9bec4",
};

/** Bands as large chips with their names written out: many cannot tell brown from red. */
export function Bands({ bands }: { bands: string[] }) {
  return (
    <ol className="flex flex-wrap gap-2" aria-label="Bands">
      {bands.map((band, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a band is its place
        <li key={i} className="flex flex-col items-center text-small">
          <span
            className="h-7 w-12 border border-ink"
            style={{ background: colours[band] ?? "transparent" }}
            aria-hidden="true"
          />
          {band}
        </li>
      ))}
    </ol>
  );
}
