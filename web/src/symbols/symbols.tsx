import type { ReactNode } from "react";
import inkTable from "../../../core/catalogue/part/inks.json";
import file from "../../../core/catalogue/part/symbols.json";

/**
 * Circuit symbols after IEC 60617, drawn in the current colour: those of core/catalogue/part, which the paper has
 * too. Each lies on the line y = 0 with its terminals at x = 0 and x = 60, so that symbols join end to end.
 */

const line = { fill: "none", stroke: "currentColor", strokeWidth: 2, strokeLinecap: "round" } as const;

export const cell = 60;

/** One thing that a symbol is drawn of. */
interface Mark {
  path?: string;
  circle?: number[];
  text?: string;
  /** The middle of the text's foot. */
  at?: number[];
  size?: number;
  /** Of the line. */
  width?: number;
  /** "solid", "ink": the lamp's own, or the name of one. */
  fill?: string;
}

const symbols: Record<string, Mark[]> = file;

function Drawn({ mark, ink }: { mark: Mark; ink?: string }) {
  const fill =
    mark.fill === "solid" ? "currentColor" : mark.fill === "ink" ? ink : mark.fill && inks[mark.fill];
  const style = fill ? { fill } : undefined;
  const [x = 0, y = 0, r = 0] = mark.circle ?? mark.at ?? [];
  if (mark.circle) return <circle cx={x} cy={y} r={r} style={style} />;
  if (mark.text)
    return (
      <text x={x} y={y} textAnchor="middle" className="fill-current" stroke="none" fontSize={mark.size}>
        {mark.text}
      </text>
    );
  return <path d={mark.path} strokeWidth={mark.width} style={style} />;
}

export function Ground() {
  return symbolFor("ground");
}

/** A pin of the board with its name. It stands at the left end of a row, or mirrored at the right. */
export function PinTerminal({ name, mirrored = false }: { name: string; mirrored?: boolean }) {
  return (
    <g>
      <g {...line} transform={mirrored ? "translate(60 0) scale(-1 1)" : undefined}>
        <rect x="0" y="-11" width="44" height="22" rx="3" />
        <path d="M44 0H60" />
      </g>
      <text
        x={mirrored ? 38 : 22}
        y="5"
        textAnchor="middle"
        className="fill-current font-mono"
        fontSize="14"
        fontWeight="600"
      >
        {name}
      </text>
    </g>
  );
}

/** A supply rail with its name. It stands at the right end of a row, or mirrored at the left. */
export function Supply({ name, mirrored = false }: { name: string; mirrored?: boolean }) {
  return (
    <g>
      <path d={mirrored ? "M60 0H46M46 -9V9" : "M0 0H14M14 -9V9"} {...line} />
      <text
        x={mirrored ? 40 : 20}
        y="5"
        textAnchor={mirrored ? "end" : "start"}
        className="fill-current font-mono"
        fontSize="14"
      >
        {name}
      </text>
    </g>
  );
}

/** The symbol that stands for a kind of part, by the name that the catalogue gives it. */
export function symbolFor(symbol: string, ink?: string): ReactNode {
  return (
    <g {...line}>
      {(symbols[symbol] ?? symbols.resistor ?? []).map((mark, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the marks of a symbol never move
        <Drawn key={i} mark={mark} ink={ink} />
      ))}
    </g>
  );
}

/** A symbol alone, as a picture beside its name. */
export function SymbolPicture({ symbol, ink }: { symbol: string; ink?: string }) {
  return (
    <svg viewBox="-2 -26 64 40" className="h-8 w-14 shrink-0" aria-hidden="true">
      {symbolFor(symbol, ink)}
    </svg>
  );
}

/** The colours of lamps as fills. A name always stands beside them. */
export const inks: Record<string, string> = Object.fromEntries(inkTable.map((ink) => [ink.id, ink.fill]));

/** What is seen of lamps that are lit; "" of one that the eye does not see. */
export const shines: Record<string, string> = Object.fromEntries(inkTable.map((ink) => [ink.id, ink.shines]));
