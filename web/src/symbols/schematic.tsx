import type { Hookup, Kind, Part } from "../api/client";
import { branches, tapAt } from "./layout";
import { cell, Ground, inks, PinTerminal, Supply, symbolFor } from "./symbols";

interface Props {
  part: Part;
  kind: Kind;
  hookup: Hookup;
  /** The symbols and shown values of the helpers, by role. */
  helpers: Record<string, { symbol: string; text: string }>;
  /** The names of the rails that stand for "supply" and "power". */
  rails: { supply: string; power: string };
  /** The name of the leg of another part that it hangs on. */
  host?: string;
}

const label = {
  className: "fill-current font-mono",
  fontSize: 12.5,
  fontWeight: 600,
  textAnchor: "middle",
} as const;

/** The small circuit diagram of a part's hookup: one row, with what branches off below it. */
export function Schematic({ part, kind, hookup, helpers, rails, host = "" }: Props) {
  const beside = branches(hookup);
  const tap = tapAt(hookup);
  const ink = inks[kind.types.find((t) => t.id === part.type)?.ink ?? ""];
  const pull = part.signals?.find((s) => s.pull)?.pull;

  const end = (terminal: string, mirrored = false) => {
    if (terminal === "board.ground") return <Ground />;
    if (terminal === "board.supply") return <Supply name={rails.supply} mirrored={mirrored} />;
    if (terminal === "board.power") return <Supply name={rails.power} mirrored={mirrored} />;
    if (terminal === "host") return <PinTerminal name={host} mirrored={mirrored} />;
    return <PinTerminal name={pinOf(part, terminal)} mirrored={mirrored} />;
  };
  const element = (role: string) => (
    <>
      {/* One with a leg in the middle has it below, where what belongs to it branches off. */}
      <g
        transform={
          beside.some((b) => hookup.row[Math.floor(b.at)] === role && b.at % 1 > 0)
            ? "scale(1 -1)"
            : undefined
        }
      >
        {role === "self" ? symbolFor(kind.symbol, ink) : symbolFor(helpers[role]?.symbol ?? "resistor")}
      </g>
      {role !== "self" && (
        <text x={cell / 2} y="-11" {...label}>
          {helpers[role]?.text}
        </text>
      )}
    </>
  );
  const said = (name: string) => {
    if (name === "board.ground") return "ground";
    if (name === "board.supply") return rails.supply;
    if (name === "board.power") return rails.power;
    if (name === "host") return host;
    if (name.startsWith("pin.")) return `pin ${pinOf(part, name)}`;
    if (name === "self") return part.name;
    return `${name} ${helpers[name]?.text ?? ""}`;
  };
  const description = [
    hookup.row.map(said).join(", "),
    ...beside.map((b) => `${said(b.role)} to ${said(b.to)}`),
    ...(tap !== undefined && hookup.tap ? [`${said(hookup.tap)} in the middle`] : []),
    ...(pull ? [`internal pull-${pull}`] : []),
  ].join("; ");

  const width = cell * Math.max(hookup.row.length, ...beside.map((b) => b.at + 2));
  const lines = Math.max(tap !== undefined ? 1 : 0, ...beside.map((b) => b.below + 1));
  const below = 40 * lines;
  const height = 46 + below + (pull && beside.length === 0 ? 16 : 0);
  const last = hookup.row.length - 1;
  return (
    <svg
      viewBox={`-3 -28 ${width + 6} ${height}`}
      width={width * 1.15}
      className="block h-auto max-w-full"
      role="img"
      aria-label={description}
    >
      {hookup.row.map((name, i) => (
        <g key={name} transform={`translate(${cell * i} 0)`}>
          {i === 0 || i === last
            ? end(
                name,
                i === 0
                  ? name === "board.supply" || name === "board.power"
                  : name.startsWith("pin.") || name === "host",
              )
            : element(name)}
        </g>
      ))}
      {beside.map((b) => {
        const leg = b.at % 1 > 0; // of an element, which ends there
        const y = (leg ? 40 : 34) + 40 * b.below;
        return (
          <g key={b.role} transform={`translate(${cell * b.at} 0)`}>
            {!leg && <circle r="3" className="fill-current" />}
            <path d={`M0 ${leg ? 24 : 0}V${y}`} stroke="currentColor" strokeWidth="2" />
            <g transform={`translate(0 ${y})`}>
              {element(b.role)}
              <g transform={`translate(${cell} 0)`}>
                {end(b.to, b.to.startsWith("pin.") || b.to === "host")}
              </g>
            </g>
          </g>
        );
      })}
      {tap !== undefined && hookup.tap && (
        <g transform={`translate(${cell * tap} 0)`}>
          {Number.isInteger(tap) && <circle r="3" className="fill-current" />}
          <path d={`M0 ${Number.isInteger(tap) ? 0 : 20}V34`} stroke="currentColor" strokeWidth="2" />
          <g transform="translate(0 34)">{end(hookup.tap, true)}</g>
        </g>
      )}
      {pull && beside.length === 0 && (
        <text x="2" y={30 + below} className="fill-current" fontSize="12.5">
          pull-{pull} inside the chip
        </text>
      )}
    </svg>
  );
}

function pinOf(part: Part, terminal: string): string {
  return part.signals?.find((s) => `pin.${s.name}` === terminal)?.pin ?? "?";
}
