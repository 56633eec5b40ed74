import type { ReactNode } from "react";

/**
 * Circuit symbols after IEC 60617, drawn in the current colour on a grid of 10 units. Each lies on
 * the line y = 0 with its terminals at x = 0 and x = 60, so that symbols join end to end.
 */

const line = { fill: "none", stroke: "currentColor", strokeWidth: 2, strokeLinecap: "round" } as const;

export const cell = 60;

export function Resistor() {
  return (
    <g {...line}>
      <path d="M0 0H15M45 0H60" />
      <rect x="15" y="-6" width="30" height="12" />
    </g>
  );
}

/** The anode is on the left. The arrows are the light that goes out. */
export function Led({ ink }: { ink?: string }) {
  return (
    <g {...line}>
      <path d="M0 0H20M40 0H60" />
      <path d="M20 -10L40 0L20 10Z" style={ink ? { fill: ink } : undefined} />
      <path d="M40 -10V10" />
      <path
        d="M32 -12l7 -7m-4.5 0.5l4.5 -0.5l-0.5 4.5M41 -10l7 -7m-4.5 0.5l4.5 -0.5l-0.5 4.5"
        strokeWidth={1.5}
      />
    </g>
  );
}

/** A make contact that is worked by pressing and returns by itself. */
export function PushButton() {
  return (
    <g {...line}>
      <path d="M0 0H16M44 0H60M16 0L42 -11" />
      <path d="M30 -22V-7" strokeDasharray="3 3" />
      <path d="M23 -22H37M23 -22V-19M37 -22V-19" />
    </g>
  );
}

/** A make contact that stays as it is put, or that something else than a finger closes. */
export function Contact() {
  return (
    <g {...line}>
      <path d="M0 0H16M44 0H60M16 0L42 -11" />
    </g>
  );
}

/** The arrow of the wiper comes from below, where the row is tapped. */
export function Potentiometer() {
  return (
    <g {...line}>
      <path d="M0 0H15M45 0H60M30 20V7M26.5 12L30 7L33.5 12" />
      <rect x="15" y="-6" width="30" height="12" />
    </g>
  );
}

/** A resistor that light falls on. */
export function LightResistor() {
  return (
    <g {...line}>
      <path d="M0 0H15M45 0H60" />
      <rect x="15" y="-6" width="30" height="12" />
      <path d="M19 -22l7 9m-5 -2.5l5 2.5l-0.5 -5M28 -22l7 9m-5 -2.5l5 2.5l-0.5 -5" strokeWidth={1.5} />
    </g>
  );
}

/** A resistor that temperature changes: the foot of the stroke says not in proportion. */
export function Thermistor() {
  return (
    <g {...line}>
      <path d="M0 0H15M45 0H60M14 13H19L43 -14" />
      <rect x="15" y="-6" width="30" height="12" />
      <text x="6" y="-8" className="fill-current" stroke="none" fontSize="12">
        ϑ
      </text>
    </g>
  );
}

/** A sensor with electronics of its own: a box, its output below. */
export function Sensor() {
  return (
    <g {...line}>
      <path d="M0 0H12M48 0H60M30 20V12" />
      <rect x="12" y="-12" width="36" height="24" />
      <path d="M19 -3c4 -5 8 5 11 0s7 5 11 0" strokeWidth={1.5} />
    </g>
  );
}

/** Three LEDs in one case. */
export function RgbLed() {
  return (
    <g {...line}>
      <path d="M0 0H14M46 0H60" />
      <rect x="8" y="-17" width="44" height="30" rx="6" strokeWidth={1.5} />
      {[
        ["#d6453c", -11],
        ["#3d9a5b", -1],
        ["#3a6fd0", 9],
      ].map(([ink, y]) => (
        <path
          key={ink}
          d={`M23 ${Number(y) - 4}L36 ${y}L23 ${Number(y) + 4}ZM36 ${Number(y) - 4}V${Number(y) + 4}`}
          strokeWidth={1.5}
          style={{ fill: String(ink) }}
        />
      ))}
    </g>
  );
}

export function LedBar() {
  return (
    <g {...line}>
      <path d="M0 0H8M52 0H60" />
      <rect x="8" y="-12" width="44" height="24" />
      <path d="M13 -7V7M18 -7V7M23 -7V7M28 -7V7M33 -7V7M38 -7V7M43 -7V7M48 -7V7" strokeWidth={2.5} />
    </g>
  );
}

/** Contacts at the crossings of rows and columns. */
export function Keypad() {
  return (
    <g {...line}>
      <path d="M0 0H12M48 0H60" />
      <rect x="12" y="-16" width="36" height="28" />
      {[-10, -2, 6].flatMap((y) =>
        [20, 30, 40].map((x) => <circle key={`${x}${y}`} cx={x} cy={y} r="2" className="fill-current" />),
      )}
    </g>
  );
}

/** A transistor lies with its collector on the left and its emitter on the right; its base comes from above. */
export function Npn() {
  return (
    <g {...line}>
      <path d="M0 0H17L24 -11M36 -11L43 0H60M16 -12H44M30 -24V-12" />
      <path d="M36.5 -6.5L42 -1.5L36.5 -0.5" strokeWidth={1.5} />
    </g>
  );
}

export function Mosfet() {
  return (
    <g {...line}>
      <path d="M0 0H18V-9M42 -9V0H60M30 -24V-15M18 -15H42M14 -9H22M26 -9H34M38 -9H46M30 -9V0H42" />
      <path d="M27.5 -4.5L30 -8.5L32.5 -4.5" strokeWidth={1.5} />
    </g>
  );
}

/** A transistor that light falls on. */
export function Phototransistor() {
  return (
    <g {...line}>
      <path d="M0 0H17L24 -11M36 -11L43 0H60M16 -12H44" />
      <path d="M36.5 -6.5L42 -1.5L36.5 -0.5" strokeWidth={1.5} />
      <path d="M18 -26l7 9m-5 -2.5l5 2.5l-0.5 -5M27 -26l7 9m-5 -2.5l5 2.5l-0.5 -5" strokeWidth={1.5} />
    </g>
  );
}

export function Diode() {
  return (
    <g {...line}>
      <path d="M0 0H20M40 0H60M20 -9L40 0L20 9ZM40 -9V9" />
    </g>
  );
}

export function Capacitor() {
  return (
    <g {...line}>
      <path d="M0 0H27M33 0H60M27 -11V11M33 -11V11" />
    </g>
  );
}

export function CapacitorPolarised() {
  return (
    <g {...line}>
      <path d="M0 0H27M33 0H60M27 -11V11M33 -11V11M16 -9H24M20 -13V-5" />
    </g>
  );
}

export function Motor() {
  return (
    <g {...line}>
      <path d="M0 0H16M44 0H60" />
      <circle cx="30" cy="0" r="14" />
      <text x="30" y="5" textAnchor="middle" className="fill-current" stroke="none" fontSize="14">
        M
      </text>
    </g>
  );
}

/** The coil of a relay. */
export function Coil() {
  return (
    <g {...line}>
      <path d="M0 0H18M42 0H60M34 -9L26 9" />
      <rect x="18" y="-9" width="24" height="18" />
    </g>
  );
}

export function Bulb() {
  return (
    <g {...line}>
      <path d="M0 0H18M42 0H60M21.5 -8.5L38.5 8.5M21.5 8.5L38.5 -8.5" />
      <circle cx="30" cy="0" r="12" />
    </g>
  );
}

export function Buzzer() {
  return (
    <g {...line}>
      <path d="M0 0H24M36 0H60M22 -14V6A14 14 0 0 0 22 -14M24 0V4M36 0V-1" />
      <path d="M22 -14A14 10 0 0 1 22 6" />
    </g>
  );
}

/** A chip with several outputs. */
export function Register() {
  return (
    <g {...line}>
      <path d="M0 0H12M48 0H60" />
      <rect x="12" y="-15" width="36" height="28" />
      <path d="M12 -6l6 6l-6 6M30 -15V13" strokeWidth={1.5} />
      <path d="M35 -9H43M35 -1H43M35 7H43" strokeWidth={1.5} />
    </g>
  );
}

export function Ground() {
  return (
    <g {...line}>
      <path d="M0 0H20M20 -10V10M26 -6V6M32 -2.5V2.5" />
    </g>
  );
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
  if (symbol === "led") return <Led ink={ink} />;
  const Shape = shapes[symbol] ?? Resistor;
  return <Shape />;
}

const shapes: Record<string, () => ReactNode> = {
  button: PushButton,
  switch: Contact,
  potentiometer: Potentiometer,
  "light-resistor": LightResistor,
  sensor: Sensor,
  thermistor: Thermistor,
  phototransistor: Phototransistor,
  "led-rgb": RgbLed,
  "led-bar": LedBar,
  keypad: Keypad,
  register: Register,
  motor: Motor,
  relay: Coil,
  bulb: Bulb,
  buzzer: Buzzer,
  capacitor: Capacitor,
  "capacitor-polarised": CapacitorPolarised,
  diode: Diode,
  npn: Npn,
  mosfet: Mosfet,
};

/** A symbol alone, as a picture beside its name. */
export function SymbolPicture({ symbol, ink }: { symbol: string; ink?: string }) {
  return (
    <svg viewBox="-2 -26 64 40" className="h-8 w-14 shrink-0" aria-hidden="true">
      {symbolFor(symbol, ink)}
    </svg>
  );
}

/** The colours of lamps as fills. A name always stands beside them. */
export const inks: Record<string, string> = {
  red: "#d6453c",
  amber: "#e08a1e",
  yellow: "#e8c420",
  green: "#3d9a5b",
  blue: "#3a6fd0",
  white: "#ffffff",
  infrared: "#7a6a6a",
};
