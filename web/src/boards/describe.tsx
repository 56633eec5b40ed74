import { type FormEvent, useRef, useState } from "react";
import { answer, api, ProblemError, type Profile } from "../api/client";
import { inLines } from "../api/errors";
import { Button, Choice } from "../shared/controls";
import { headerLines, own, pinLines, withPins } from "./profile-of";

/** One number of the form: where it stands in the profile, and where a data sheet hides it. */
interface Field {
  label: string;
  unit: string;
  hint: string;
  read: (p: Profile) => number | undefined;
  write: (p: Profile, v: number) => void;
}

const exact = (v: number) => ({ low: v, typ: v, high: v, source: own });
const spread = (v: number, part: number) => ({
  low: v * (1 - part),
  typ: v,
  high: v * (1 + part),
  source: own,
});
const logicRail = (p: Profile) => p.rails.find((r) => r.name === p.logic.rail);

const fields: Field[] = [
  {
    label: "Supply of the logic",
    unit: "V",
    hint: "“Operating voltage” of the chip: 5 or 3.3. Outputs are this high, and inputs may be no higher.",
    read: (p) => logicRail(p)?.volts.typ,
    write: (p, v) => {
      const rail = logicRail(p);
      if (rail) rail.volts = spread(v, 0.03);
    },
  },
  {
    label: "One pin, recommended",
    unit: "A",
    hint: "In “DC characteristics”, the current at which VOL and VOH are stated.",
    read: (p) => p.logic.pin.recommended,
    write: (p, v) => {
      p.logic.pin = { ...p.logic.pin, recommended: v, source: own };
    },
  },
  {
    label: "One pin, at most",
    unit: "A",
    hint: "In “Absolute maximum ratings”: DC current per I/O pin.",
    read: (p) => p.logic.pin.absolute,
    write: (p, v) => {
      p.logic.pin = { ...p.logic.pin, absolute: v, source: own };
    },
  },
  {
    label: "All pins together, recommended",
    unit: "A",
    hint: "Often only in a footnote below the table of the pins. Three quarters of the absolute value when nothing is said.",
    read: (p) => p.logic.total.recommended,
    write: (p, v) => {
      p.logic.total = { ...p.logic.total, recommended: v, source: own };
    },
  },
  {
    label: "All pins together, at most",
    unit: "A",
    hint: "“DC current VCC and GND pins”, or “sum of all IOL”.",
    read: (p) => p.logic.total.absolute,
    write: (p, v) => {
      p.logic.total = { ...p.logic.total, absolute: v, source: own };
    },
  },
  {
    label: "Resistance of a high pin",
    unit: "Ω",
    hint: "(VCC − VOH) ÷ IOH of the DC characteristics.",
    read: (p) => p.logic.high.typ,
    write: (p, v) => {
      p.logic.high = spread(v, 0.4);
    },
  },
  {
    label: "Resistance of a low pin",
    unit: "Ω",
    hint: "VOL ÷ IOL of the DC characteristics.",
    read: (p) => p.logic.low.typ,
    write: (p, v) => {
      p.logic.low = spread(v, 0.4);
    },
  },
  {
    label: "Internal pull-up",
    unit: "Ω",
    hint: "“I/O pin pull-up resistor”; 0 when it has none.",
    read: (p) => p.logic.pullUp.typ,
    write: (p, v) => {
      p.logic.pullUp = v ? spread(v, 0.4) : { low: 0, typ: 0, high: 0 };
    },
  },
  {
    label: "Internal pull-down",
    unit: "Ω",
    hint: "Many chips have none: 0.",
    read: (p) => p.logic.pullDown.typ,
    write: (p, v) => {
      p.logic.pullDown = v ? spread(v, 0.4) : { low: 0, typ: 0, high: 0 };
    },
  },
  {
    label: "Surely low below (part of the supply)",
    unit: "%",
    hint: "The data sheet calls it VIL max; 0.3 VCC is 30.",
    read: (p) => (p.logic.vil.fraction ?? (p.logic.vil.volts ?? 0) / (logicRail(p)?.volts.typ ?? 5)) * 100,
    write: (p, v) => {
      p.logic.vil = { fraction: v / 100, source: own };
    },
  },
  {
    label: "Surely high above (part of the supply)",
    unit: "%",
    hint: "The data sheet calls it VIH min; 0.6 VCC is 60.",
    read: (p) => (p.logic.vih.fraction ?? (p.logic.vih.volts ?? 0) / (logicRail(p)?.volts.typ ?? 5)) * 100,
    write: (p, v) => {
      p.logic.vih = { fraction: v / 100, source: own };
    },
  },
  {
    label: "An input tolerates above its supply",
    unit: "V",
    hint: "In “Absolute maximum ratings”: VCC + 0.5 is 0.5.",
    read: (p) => p.logic.tolerates.volts,
    write: (p, v) => {
      p.logic.tolerates = { volts: v, source: own };
    },
  },
  {
    label: "Bits of the analog converter",
    unit: "",
    hint: "10 bits read 0 to 1023, 12 bits 0 to 4095.",
    read: (p) => p.logic.analog.bits,
    write: (p, v) => {
      p.logic.analog = { ...p.logic.analog, bits: v, source: own };
    },
  },
  {
    label: "The board itself takes",
    unit: "A",
    hint: "Measure it, with nothing on the pins: chip, regulator, serial chip and the power LED together.",
    read: (p) => p.appetite.typ,
    write: (p, v) => {
      p.appetite = { ...exact(v), low: v * 0.7, high: v * 1.5 };
    },
  },
];

/** Leads through describing a board from its data sheet, beginning from one that is like it. */
export function Describe({ boards, onKept }: { boards: Profile[]; onKept: (id: string) => void }) {
  const [likeId, setLike] = useState(boards[0]?.id ?? "");
  const like = boards.find((b) => b.id === likeId) ?? boards[0];
  const [wrong, setWrong] = useState<string[]>([]);
  const form = useRef<HTMLFormElement>(null);
  // What was typed stays when one begins from another board; what was not is that board's.
  const [typed, setTyped] = useState<Record<string, string>>({});
  if (!like) return null;
  const begin = (id: string) => {
    const changed: Record<string, string> = {};
    for (const e of form.current?.elements ?? []) {
      if (!(e instanceof HTMLInputElement || e instanceof HTMLTextAreaElement) || !e.name) continue;
      if (e.value !== e.defaultValue || typed[e.name] !== undefined) changed[e.name] = e.value;
    }
    setTyped(changed);
    setLike(id);
  };

  const keep = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (name: string) => String(form.get(name) ?? "").trim();
    const p = withPins(like, text("pins"), text("headers"));
    const bad: string[] = [];
    p.name = text("name");
    p.summary = text("summary");
    p.id = text("name")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^[^a-z]+|-+$/g, "")
      .slice(0, 40);
    for (const field of fields) {
      const v = Number(text(field.label).replace(",", "."));
      if (text(field.label) === "" || !Number.isFinite(v)) bad.push(`${field.label}: write a number`);
      else if (v !== field.read(like)) field.write(p, v);
    }
    if (bad.length > 0) {
      setWrong(bad);
      return;
    }
    try {
      const kept = await answer(api.POST("/api/boards", { body: p }));
      setWrong([]);
      onKept(kept.id);
    } catch (error) {
      setWrong(
        error instanceof ProblemError
          ? inLines(error.problem)
          : ["The server does not answer. Nothing is lost."],
      );
    }
  };
  const box = "w-full rounded-sheet border border-ink/40 bg-sheet px-2 font-mono";
  return (
    <form ref={form} onSubmit={keep} key={like.id} className="space-y-4" aria-label="Describe a board">
      <div className="grid gap-4 sm:grid-cols-3">
        <Choice label="Begin from one that is like it" value={like.id} onChange={begin}>
          {boards.map((b) => (
            <option key={b.id} value={b.id}>
              {b.name}
            </option>
          ))}
        </Choice>
        <label className="flex flex-col gap-0.5">
          <span className="text-faint text-small">What do you call it?</span>
          <input
            name="name"
            defaultValue={typed.name}
            required
            maxLength={60}
            placeholder="board from the market"
            className={box}
          />
        </label>
        <label className="flex flex-col gap-0.5">
          <span className="text-faint text-small">In a sentence</span>
          <input
            name="summary"
            maxLength={120}
            defaultValue={typed.summary ?? `Like the ${like.name}.`}
            className={box}
          />
        </label>
      </div>
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-2">
        {fields.map((f) => (
          <label key={f.label} className="grid grid-cols-[1fr_8rem] items-center gap-x-3">
            <span>{f.label}</span>
            <span className="flex items-center gap-2">
              <input
                name={f.label}
                maxLength={12}
                inputMode="decimal"
                defaultValue={typed[f.label] ?? Number((f.read(like) ?? 0).toPrecision(6))}
                className={box}
              />
              <span className="w-4 text-faint">{f.unit}</span>
            </span>
            <span className="col-span-2 text-faint text-small">{f.hint}</span>
          </label>
        ))}
      </div>
      <div className="grid gap-4 sm:grid-cols-2">
        <label className="flex flex-col gap-0.5">
          <span>Pins, one a line: its name, and what it can do</span>
          <span className="text-faint text-small">
            digital-out, pwm-out, digital-in, analog-in, interrupt; see the “pinout” of the board. Where its
            name does not end with the number that programs know it by, write that behind it: PA1 = 14.
          </span>
          <textarea
            name="pins"
            maxLength={20_000}
            rows={10}
            defaultValue={typed.pins ?? pinLines(like)}
            spellCheck={false}
            className={box}
          />
        </label>
        <label className="flex flex-col gap-0.5">
          <span>Headers, one a line: its places from the USB socket on</span>
          <span className="text-faint text-small">
            Every pin needs a place. Rails and ground go by their names; write – for a place without use.
          </span>
          <textarea
            name="headers"
            maxLength={20_000}
            rows={10}
            defaultValue={typed.headers ?? headerLines(like)}
            spellCheck={false}
            className={box}
          />
        </label>
      </div>
      {wrong.length > 0 && (
        <div role="alert" className="border-stop border-l-4 pl-3">
          Not kept yet; everything typed is still here.
          <ul className="list-disc pl-5">
            {wrong.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </div>
      )}
      <Button look="main" type="submit">
        Keep this board
      </Button>
    </form>
  );
}
