import type { Profile } from "../api/client";

export const own = "your own, from its data sheet";

type Pin = Profile["pins"][number];

/** Pins as they are typed, one a line: its name, its number for programs where the name does not say it, what it can do. */
export const pinLines = (p: Profile) =>
  p.pins
    .map(
      (pin) =>
        `${pin.name}${pin.number === undefined ? "" : ` = ${pin.number}`}: ${pin.functions.join(", ")}`,
    )
    .join("\n");

export const headerLines = (p: Profile) =>
  p.headers.map((h) => `${h.name}: ${h.places.join(" ")}`).join("\n");

const lines = (text: string) => text.split("\n").filter((line) => line.trim());

/** One line of pins; what is known of a pin of that name stays. */
function pinOf(line: string, like: Profile): Pin {
  const [before = "", functions = ""] = line.split(":");
  const [name = "", number] = before.split("=").map((part) => part.trim());
  const { number: _, ...known } = like.pins.find((pin) => pin.name === name) ?? ({} as Partial<Pin>);
  const can = functions
    .split(",")
    .map((f) => f.trim())
    .filter(Boolean) as Pin["functions"];
  const pwm = can.includes("pwm-out") ? (known.pwm ?? { hertz: 500, bits: 8, source: own }) : undefined;
  return { ...known, name, functions: can, pwm, ...(number ? { number: Number(number) } : {}) };
}

/**
 * A board with the pins and headers as they were typed. What the board that it began from has and this one
 * has not, is left out: pins of its groups, places that stand on no header, and what sits on the pins.
 */
export function withPins(like: Profile, pins: string, headers: string): Profile {
  const p: Profile = structuredClone(like);
  p.pins = lines(pins).map((line) => pinOf(line, like));
  p.headers = lines(headers).map((line) => {
    const [name = "", places = ""] = line.split(":");
    return { name: name.trim(), places: places.trim().split(/\s+/) };
  });
  const names = new Set(p.pins.map((pin) => pin.name));
  const placed = new Set(p.headers.flatMap((h) => h.places));
  p.logic.groups = p.logic.groups
    .map((g) => ({ ...g, pins: g.pins.filter((pin) => names.has(pin)) }))
    .filter((g) => g.pins.length > 0);
  const gone = new Set(like.pins.map((pin) => pin.name).filter((name) => !names.has(name)));
  p.places = (p.places ?? []).filter((place) => placed.has(place.name) && !gone.has(place.of ?? ""));
  if (p.plugs && p.headers[0]?.places.length !== p.headers[1]?.places.length) p.plugs = undefined;
  if (p.program) {
    if (p.program.interrupts?.some((pin) => !names.has(pin))) p.program.interrupts = undefined;
    if (
      p.program.ports &&
      Object.values(p.program.ports).some((bits) => bits.some((pin) => pin && !names.has(pin)))
    )
      p.program.ports = undefined;
  }
  return p;
}
