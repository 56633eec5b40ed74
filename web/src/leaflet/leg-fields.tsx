import { Choice } from "../shared/controls";
import type { LegAnswers } from "./answers";
import { Field } from "./field";

const roles: Record<string, [id: string, words: string][]> = {
  module: [
    ["supply", "supply (+)"],
    ["ground", "ground (−)"],
    ["output", "an output"],
    ["free", "left free"],
  ],
  contact: [
    ["end", "one of the two ends"],
    ["free", "left free"],
  ],
};

/** What a leaflet says of one leg, in the order in which it says it. */
export function LegFields({
  nth,
  sort,
  leg,
  wrong,
  onChange,
}: {
  nth: number;
  sort: string;
  leg: LegAnswers;
  /** What is wrong with a field of the leg, by its name. */
  wrong: (field: string) => string | undefined;
  onChange: (change: Partial<LegAnswers>) => void;
}) {
  const here = `leg ${nth}`;
  const text = (label: string, field: keyof LegAnswers & string, hint?: string, unit?: string) => (
    <Field
      label={`${label}, ${here}`}
      value={String(leg[field])}
      onChange={(value) => onChange({ [field]: value })}
      hint={hint}
      unit={unit}
      error={wrong(field)}
    />
  );
  return (
    <li className="border-rule border-t py-2">
      <div className="grid gap-3 sm:grid-cols-3">
        {text("Printed beside it", "name", "nothing")}
        <Choice label={`It is, ${here}`} value={leg.is} onChange={(is) => onChange({ is })}>
          {(roles[sort] ?? roles.contact ?? []).map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Choice>
        {leg.is === "output" && (
          <Choice label={`It gives, ${here}`} value={leg.gives} onChange={(gives) => onChange({ gives })}>
            <option value="level">high or low</option>
            <option value="voltage">a voltage that follows</option>
            <option value="pull">ground, or nothing (open collector)</option>
          </Choice>
        )}
      </div>
      {wrong("is") && <p className="text-small text-stop">{wrong("is")}</p>}
      {leg.is === "output" && leg.gives === "voltage" && (
        <div className="mt-2 grid gap-3 sm:grid-cols-3">
          {text("It follows", "about", "humidity, pressure…")}
          {text("Unit", "unit", "%, bar, ppm…")}
          <span />
          {text("Its least", "least", "0")}
          {text("Gives at its least", "leastGives", undefined, "V")}
          <span />
          {text("Its most", "most", "100")}
          {text("Gives at its most", "mostGives", undefined, "V")}
        </div>
      )}
      {leg.is === "output" && leg.gives !== "voltage" && (
        <div className="mt-2 grid gap-3 sm:grid-cols-3">
          {text("At rest it is", "quiet", "quiet")}
          {text("Otherwise it is", "told", "triggered")}
          <Choice
            label={`Then it is, ${here}`}
            value={leg.low ? "low" : "high"}
            onChange={(v) => onChange({ low: v === "low" })}
          >
            <option value="high">{leg.gives === "pull" ? "let go" : "high"}</option>
            <option value="low">{leg.gives === "pull" ? "tied to ground" : "low"}</option>
          </Choice>
          {leg.gives === "level" && text("Its high level", "high", "as its supply", "V")}
        </div>
      )}
    </li>
  );
}
