import { useSheet } from "../session/context";

const ordinal = (n: number) => {
  const last = n % 100;
  if (last >= 11 && last <= 13) return `${n}th`;
  return `${n}${["th", "st", "nd", "rd"][n % 10] ?? "th"}`;
};

const cell = 7;

/** Where a pin is on the real board: its place among the places of its header, in words and, where there is room, as a picture. */
export function HeaderMap({ pin, drawn }: { pin: string; drawn: boolean }) {
  const { board } = useSheet();
  const header = board.headers.find((h) => h.places.includes(pin));
  if (!header) return null;
  const at = header.places.indexOf(pin) + 1;
  const words = `${ordinal(at)} of ${header.places.length} from the USB end, ${header.name} header`;
  const longest = Math.max(...board.headers.map((h) => h.places.length));
  return (
    <p className="flex items-start gap-3 text-small">
      {drawn && (
        <svg
          width={board.headers.length * 22 + 6}
          height={longest * cell + 12}
          className="shrink-0"
          aria-hidden="true"
        >
          <rect
            x={(board.headers.length * 22) / 2 - 8}
            width="22"
            height="7"
            className="fill-none stroke-ink"
          />
          {board.headers.map((h, x) => (
            <g key={h.name} transform={`translate(${x * 22 + 3} 10)`}>
              {h.places.map((place, y) => (
                <rect
                  // biome-ignore lint/suspicious/noArrayIndexKey: a place is where it is
                  key={y}
                  y={y * cell}
                  width={place === pin && h === header ? 14 : 5}
                  height="5"
                  className={place === pin && h === header ? "fill-copper" : "fill-none stroke-faint"}
                />
              ))}
            </g>
          ))}
        </svg>
      )}
      {words}
    </p>
  );
}
