import type { components } from "../generated/api";

export type Leaflet = components["schemas"]["PartLeaflet"];

/** A leg as it is typed; numbers are texts until they are sent. */
export interface LegAnswers {
  name: string;
  is: string;
  gives: string;
  about: string;
  unit: string;
  least: string;
  most: string;
  leastGives: string;
  mostGives: string;
  quiet: string;
  told: string;
  low: boolean;
  high: string;
}

/** What is typed of a leaflet. An empty answer is one: it is not known. */
export interface Answers {
  name: string;
  sort: string;
  legs: LegAnswers[];
  from: string;
  to: string;
  milliamps: string;
  open: string;
  closed: string;
  volt: string;
  acts: string;
}

const leg = (is: string): LegAnswers => ({
  name: "",
  is,
  gives: "level",
  about: "",
  unit: "",
  least: "",
  most: "",
  leastGives: "",
  mostGives: "",
  quiet: "",
  told: "",
  low: false,
  high: "",
});

/** The legs that parts of a sort usually have. */
const usual: Record<string, string[]> = {
  module: ["supply", "output", "ground"],
  contact: ["end", "end"],
  load: ["end", "end"],
};

export const begin = (): Answers => ({
  name: "",
  sort: "module",
  legs: (usual.module ?? []).map(leg),
  from: "",
  to: "",
  milliamps: "",
  open: "",
  closed: "",
  volt: "",
  acts: "turn",
});

/** The answers for another sort of part: its name stays, and its legs are that sort's. */
export const ofSort = (a: Answers, sort: string): Answers => ({
  ...a,
  sort,
  legs: (usual[sort] ?? []).map(leg),
});

/** So many legs: those that are there stay. */
export function withLegs(a: Answers, count: number): Answers {
  const more = Array.from({ length: Math.max(0, count - a.legs.length) }, () => leg("free"));
  return { ...a, legs: [...a.legs.slice(0, count), ...more] };
}

export const withLeg = (a: Answers, i: number, change: Partial<LegAnswers>): Answers => ({
  ...a,
  legs: a.legs.map((l, k) => (k === i ? { ...l, ...change } : l)),
});

/** A number as people type it, with a comma or a point; 0 where nothing is typed. */
export const number = (text: string): number =>
  text.trim() === "" ? 0 : Number(text.trim().replace(",", ".").replace("−", "-"));

/** The fields that are to hold a number and do not, by the names that the server has for them. */
export function notNumbers(a: Answers): string[] {
  const wrong = (where: string, text: string) => (Number.isFinite(number(text)) ? [] : [where]);
  return [
    ...wrong("from", a.from),
    ...wrong("to", a.to),
    ...wrong("amps", a.milliamps),
    ...wrong("volt", a.volt),
    ...a.legs.flatMap((l, i) =>
      (["least", "most", "leastGives", "mostGives", "high"] as const).flatMap((f) =>
        wrong(`legs[${i}].${f}`, l[f]),
      ),
    ),
  ];
}

/** The leaflet as it is sent. */
export function leafletOf(a: Answers): Leaflet {
  return {
    name: a.name.trim(),
    sort: a.sort,
    from: number(a.from),
    to: number(a.to),
    amps: number(a.milliamps) / 1000,
    ways: [a.open.trim(), a.closed.trim()],
    volt: number(a.volt),
    acts: a.acts,
    legs: a.legs.map((l) => ({
      name: l.name.trim(),
      is: l.is,
      ...(l.is === "output"
        ? {
            gives: l.gives,
            about: l.about.trim(),
            unit: l.unit.trim(),
            least: number(l.least),
            most: number(l.most),
            leastGives: number(l.leastGives),
            mostGives: number(l.mostGives),
            quiet: l.quiet.trim(),
            told: l.told.trim(),
            low: l.low,
            high: number(l.high),
          }
        : {}),
    })),
  };
}
