import { ChevronDown, ChevronRight, Trash2 } from "lucide-react";
import type { Part } from "../api/client";
import { useSheet, useSnapshot } from "../session/context";
import { Bands } from "../shared/bands";
import { Button, Choice } from "../shared/controls";
import { LevelMark } from "../shared/level";
import { ValueField } from "../shared/value-field";
import { hostName, shortValue } from "../shared/values";
import { WorkingButton } from "../shared/working";
import { Schematic } from "../symbols/schematic";
import { inks, SymbolPicture } from "../symbols/symbols";
import { FromDrawer } from "./from-drawer";
import { PinChoice } from "./pin-choice";
import { ResistorChoice } from "./resistor-choice";
import { Wires } from "./wires";

/** One part: its circuit diagram, what was computed about it, and, opened, everything that can be chosen. */
export function PartCard({ part, open, onToggle }: { part: Part; open: boolean; onToggle: () => void }) {
  const { view, library, board, kind: kindOf, report: reportOf } = useSheet();
  const kind = kindOf(part);
  const report = reportOf(part);
  const helpers = view.document.parts.filter((p) => p.of === part.id);
  const hookup = kind.hookups.find((h) => h.id === part.hookup);
  const shown = Object.fromEntries(
    helpers.map((h) => [h.role ?? "", { symbol: kindOf(h).symbol, text: shortValue(h, library) }]),
  );
  const ink = inks[kind.types.find((t) => t.id === part.type)?.ink ?? ""];
  const level = [report, ...helpers.map(reportOf)].map((r) => r?.level).find((l) => l);
  return (
    <li className={`border-rule border-b ${open ? "bg-sheet" : ""}`}>
      <div className="flex items-center gap-2 px-3 pt-2">
        <button
          type="button"
          aria-expanded={open}
          onClick={onToggle}
          className="flex min-w-0 grow items-center gap-1.5 rounded-sheet text-left text-base font-semibold hover:bg-wash"
        >
          {open ? <ChevronDown size={18} aria-hidden /> : <ChevronRight size={18} aria-hidden />}
          <span className="truncate">{part.name}</span>
          <LevelMark level={level} />
        </button>
      </div>
      <div className="px-4 pb-2">
        {hookup ? (
          <>
            <Schematic
              part={part}
              kind={kind}
              hookup={hookup}
              helpers={shown}
              rails={{ supply: board.logic.rail, power: board.power }}
              host={hostName(part, hookup, view.document)}
            />
            {(part.signals?.length ?? 0) > 1 && (
              <p className="font-mono text-small">
                {part.signals?.map((s) => `${s.name.replace("segment-", "")} ${s.pin}`).join(" · ")}
              </p>
            )}
          </>
        ) : (
          <div className="flex items-center gap-3 text-faint">
            <SymbolPicture symbol={kind.symbol} ink={ink} />
            {kind.hookups.length > 0 ? "wired by hand" : shortValue(part, library)}
          </div>
        )}
        <div className="flex flex-wrap items-center gap-x-3">
          {report?.quantities.map((quantity) => (
            <span key={quantity.name} className="flex items-baseline gap-1">
              {report.quantities.length > 1 && (
                <span className="text-faint text-small">{shortName(quantity.name)}</span>
              )}
              <WorkingButton
                quantity={quantity}
                label={`${quantity.name} of ${part.name}`}
                shown={quantity.unit === "%" ? quantity.typText : undefined}
                className="min-h-7! whitespace-nowrap"
              />
            </span>
          ))}
          {report?.colour && (
            <span className="flex items-center gap-1.5 text-small">
              <span
                className="inline-block h-5 w-8 border border-ink"
                style={{ background: report.colour }}
                aria-hidden
              />
              all lit
            </span>
          )}
        </div>
        {report?.says?.map((sentence) => (
          <p key={sentence} className="text-small">
            {sentence}
          </p>
        ))}
      </div>
      {open && <Details part={part} />}
    </li>
  );
}

/** A current needs no name beside its unit; the rest is said in a word. */
const shortName = (name: string) => {
  const [first, ...rest] = name.split(", ");
  const which = rest.join(", ");
  if (first === "current" || first === "brightness") return which;
  return first?.replace("average at 50 % duty", "at half duty").replace(/^current (of the |of )?/, "") ?? "";
};

function Details({ part }: { part: Part }) {
  const { view, edit, kind: kindOf, report } = useSheet();
  const kind = kindOf(part);
  const helpers = view.document.parts.filter((p) => p.of === part.id);
  const bands = report(part)?.bands;
  return (
    <div className="space-y-3 px-4 pb-4">
      <p className="text-faint text-small">{kind.summary}</p>
      <ValueField
        label="Name"
        look="words"
        saved={part.name}
        onCommit={(name) => edit(`rename ${part.name} to ${name}`, { op: "name", part: part.id, name })}
      />
      {kind.types.length > 0 && (
        <Choice
          label="Type"
          value={part.type ?? ""}
          onChange={(type) => edit(`make ${part.name} ${type}`, { op: "type", part: part.id, type })}
        >
          {kind.types.map((type) => (
            <option key={type.id} value={type.id}>
              {type.name}
            </option>
          ))}
        </Choice>
      )}
      {kind.hookups.length > 0 && <HookupChoice part={part} />}
      {part.signals?.map((signal) => (
        <PinChoice key={signal.name} part={part} signal={signal} />
      ))}
      {helpers.map((helper) => (
        <ResistorChoice key={helper.id} part={helper} />
      ))}
      <Values part={part} />
      {bands && <Bands bands={bands} />}
      {kind.emitters?.length === 3 && (
        <Button onClick={() => edit(`mix white with ${part.name}`, { op: "white", part: part.id })}>
          Currents that give white
        </Button>
      )}
      <FromDrawer part={part} />
      <AsBrightAs part={part} />
      <TakesTurns part={part} />
      <Wires part={part} />
      <Button onClick={() => edit(`remove ${part.name}`, { op: "remove", part: part.id })}>
        <Trash2 size={18} aria-hidden /> Remove {part.name}
      </Button>
    </div>
  );
}

/** The wanted current of a lamp by another lamp: the eye compares light, not milliamperes. */
function AsBrightAs({ part }: { part: Part }) {
  const { view, edit } = useSheet();
  const others = view.document.parts.filter((p) => p.kind === "led" && p.id !== part.id);
  if (part.kind !== "led" || others.length === 0) return null;
  return (
    <Choice
      label="Make it as bright as"
      value=""
      onChange={(id) => {
        const name = others.find((p) => p.id === id)?.name;
        if (name) edit(`make ${part.name} as bright as ${name}`, { op: "match", part: part.id, with: id });
      }}
    >
      <option value="">as its own wanted current says</option>
      {others.map((p) => (
        <option key={p.id} value={p.id}>
          {p.name}
        </option>
      ))}
    </Choice>
  );
}

/** Parts of which the program switches on only one at a time are not added up. */
function TakesTurns({ part }: { part: Part }) {
  const { view, edit } = useSheet();
  const driven = (p: Part) => p.signals?.some((s) => s.needs === "digital-out" || s.needs === "pwm-out");
  const others = view.document.parts.filter((p) => p.id !== part.id && driven(p));
  if (!driven(part) || others.length === 0) return null;
  const group = view.document.exclusive?.find((g) => g.includes(part.id)) ?? [];
  const mates = group.filter((id) => id !== part.id);
  return (
    <Choice
      label="On only while another is off"
      value={mates[0] ?? ""}
      onChange={(id) =>
        edit(id ? `let ${part.name} take turns` : `let ${part.name} be on at any time`, {
          op: "turns",
          part: part.id,
          with: id || undefined,
        })
      }
    >
      <option value="">can be on at any time</option>
      {others.map((p) => (
        <option key={p.id} value={p.id}>
          takes turns with {p.name}
          {mates.includes(p.id) && mates.length > 1 ? ` and ${mates.length - 1} more` : ""}
        </option>
      ))}
    </Choice>
  );
}

function HookupChoice({ part }: { part: Part }) {
  const { edit, kind: kindOf } = useSheet();
  const kind = kindOf(part);
  const hookup = kind.hookups.find((h) => h.id === part.hookup);
  return (
    <div>
      <Choice
        label="Hookup"
        value={part.hookup ?? ""}
        onChange={(id) => edit(`wire ${part.name} another way`, { op: "hookup", part: part.id, hookup: id })}
      >
        {!part.hookup && <option value="">wired by hand</option>}
        {kind.hookups.map((h) => (
          <option key={h.id} value={h.id}>
            {h.name}
          </option>
        ))}
      </Choice>
      {hookup && <p className="mt-0.5 text-faint text-small">{hookup.why}</p>}
    </div>
  );
}

/** The values that a builder may set, those of general interest first. */
function Values({ part }: { part: Part }) {
  const { kind: kindOf } = useSheet();
  const values = kindOf(part).values;
  const rest = values.filter((v) => !v.shown);
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        {values
          .filter((v) => v.shown)
          .map((v) => (
            <PartValue key={v.id} part={part} id={v.id} />
          ))}
      </div>
      {rest.length > 0 && (
        <details>
          <summary className="text-small">More values</summary>
          <div className="mt-1 grid grid-cols-2 gap-2">
            {rest.map((v) => (
              <PartValue key={v.id} part={part} id={v.id} />
            ))}
          </div>
        </details>
      )}
    </>
  );
}

function PartValue({ part, id }: { part: Part; id: string }) {
  const { edit, library, kind: kindOf } = useSheet();
  const { refused } = useSnapshot();
  const value = kindOf(part).values.find((v) => v.id === id);
  if (!value) return null;
  const error = refused.find((r) =>
    r.step?.edits.some((e) => e.op === "value" && e.part === part.id && e.value === id),
  )?.problem.title;
  const set = (text: string) =>
    edit(text ? `set ${value.name} of ${part.name} to ${text}` : `set ${value.name} of ${part.name} back`, {
      op: "value",
      part: part.id,
      value: id,
      text,
    });
  const saved = shortValue(part, library, id);
  const points = id.startsWith("range") ? (kindOf(part).hands?.[0]?.quantity?.points ?? []) : [];
  return (
    <div className="min-w-0">
      <ValueField label={value.name} saved={saved} error={error} onCommit={set} />
      {points.length > 0 && (
        <Choice
          label={`${value.name}: as in`}
          hidden
          value={points.some((p) => String(p.level) === saved) ? saved : ""}
          onChange={(level) => level && set(level)}
        >
          <option value="">or point at a place</option>
          {points.map((p) => (
            <option key={p.name} value={String(p.level)}>
              {p.name}
            </option>
          ))}
        </Choice>
      )}
    </div>
  );
}
