import type { Document, Hookup, Library, Part } from "../api/client";

const prefixes: [number, string][] = [
  [1e6, "M"],
  [1e3, "k"],
  [1, ""],
  [1e-3, "m"],
  [1e-6, "µ"],
  [1e-9, "n"],
];

/** Prints a nominal value as it would be typed: "330 Ω", "4.7 kΩ", "10 mA". */
export function short(value: number, unit: string): string {
  const plain = unit === "" || unit === "%" || unit === "°C";
  const [factor, prefix] =
    value === 0 || plain
      ? [1, ""]
      : (prefixes.find(([f]) => Math.abs(value) >= f * 0.9999995) ?? [1e-12, "p"]);
  const digits = String(Number((value / factor).toPrecision(4)));
  return `${digits} ${prefix}${unit}`.trim();
}

/** A value of a part as it is: the builder's own, or the catalogue's. The first value when no id is given. */
export function shortValue(part: Part, library: Library, id?: string): string {
  const kind = library.catalogue.kinds.find((k) => k.id === part.kind);
  const value = kind?.values.find((v) => v.id === id) ?? kind?.values[0];
  if (!kind || !value) return "";
  const stated = kind.types.find((t) => t.id === part.type)?.values[value.id] ?? value.default;
  return short(part.values?.[value.id] ?? stated.typ, value.unit);
}

/** The name of the leg of another part that a part hangs on: "QC", or "R" for a resistor that it shares. */
export function hostName(part: Part, hookup: Hookup, document: Document): string {
  const mine = new Set([part.id, ...document.parts.filter((p) => p.of === part.id).map((p) => p.id)]);
  const at = hookup.joins.find((join) => join.includes("host"))?.find((t) => t !== "host");
  if (!at) return "";
  const [who = "", leg = ""] = at.split(".");
  const owner = who === "self" ? part.id : document.parts.find((p) => p.of === part.id && p.role === who)?.id;
  const net = document.nets.find((n) => n.includes(`${owner}.${leg}`));
  const other = net?.find((t) => {
    const [id = "", at = ""] = t.split(".");
    const kind = document.parts.find((p) => p.id === id)?.kind ?? "";
    return !mine.has(id) && hookup.host?.kinds.includes(kind) && hookup.host.legs.includes(at);
  });
  if (!other) return "?";
  const [host, hostLeg = ""] = other.split(".");
  if (document.parts.find((p) => p.id === host)?.kind === "resistor") return "R";
  return hostLeg.length > 3 ? "out" : hostLeg.toUpperCase();
}
