import { memo, type PointerEvent, useEffect, useRef, useState } from "react";
import type { BenchAction, BenchHand } from "../api/client";
import { Button } from "../shared/controls";
import { isTyped } from "../shared/keys";
import { Generator } from "./generator";
import type { Acting } from "./run";

/** Which of the keys 1 to 9 presses a contact; 0 for what none does. */
export function keyOf(hands: BenchHand[], hand: BenchHand): number {
  const place = hands.filter((h) => h.kind === "press" || h.kind === "switch").indexOf(hand) + 1;
  return place > 9 ? 0 : place;
}

/** What hands can do, in the order of the parts, big enough for a thumb. Keys 1 to 9 press the first nine contacts. */
export const Hands = memo(function Hands({ hands, run }: { hands: BenchHand[]; run: Acting }) {
  if (hands.length === 0) return <p className="p-4">Nothing here is moved by hand.</p>;
  return (
    <ul className="divide-y divide-rule">
      {hands.map((hand) => (
        <li key={hand.of} className="px-4 py-3">
          <One hand={hand} run={run} number={keyOf(hands, hand)} />
        </li>
      ))}
    </ul>
  );
});

/** What is done with one thing, as a button, a slider or keys. */
export function One({ hand, run, number }: { hand: BenchHand; run: Acting; number: number }) {
  switch (hand.kind) {
    case "press":
    case "switch":
      return <Contact hand={hand} run={run} number={number} />;
    case "board":
      return <Supply hand={hand} run={run} />;
    case "keys":
      return <Pad hand={hand} run={run} />;
    default:
      return <Slider hand={hand} run={run} />;
  }
}

/** What hands did last with a part. */
function last(run: Acting, of: string, ...verbs: BenchAction["do"][]): BenchAction | undefined {
  return run.actions.findLast((a) => a.of === of && verbs.includes(a.do));
}

/** What a hand does to a contact: it is held for as long as it is pressed, or turned over where it stays. */
export function useContact(hand: BenchHand, run: Acting) {
  const rest = hand.rest === 1;
  const pressed = last(run, hand.of, "press", "release")?.do === "press";
  const holding = useRef(false);
  const stays = hand.kind === "switch";
  const hold = () => {
    holding.current = true;
    run.act({ do: "press", of: hand.of });
  };
  const letGo = () => {
    if (holding.current) run.act({ do: "release", of: hand.of });
    holding.current = false;
  };
  const turnOver = () => run.act({ do: pressed ? "release" : "press", of: hand.of });
  return {
    stays,
    pressed,
    closed: pressed !== rest,
    hold,
    letGo,
    turnOver,
    finger: {
      onPointerDown: (event: PointerEvent) => {
        if (stays) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        hold();
      },
      onPointerUp: letGo,
      onPointerCancel: letGo,
      onClick: () => stays && turnOver(),
    },
  };
}

/** A contact: a button of the page, and one of the keys 1 to 9. */
function Contact({ hand, run, number }: { hand: BenchHand; run: Acting; number: number }) {
  const { stays, pressed, closed, hold, letGo, turnOver, finger } = useContact(hand, run);
  const latest = useRef({ hold, letGo, turnOver });
  latest.current = { hold, letGo, turnOver };
  useEffect(() => {
    if (number === 0) return;
    const down = (event: KeyboardEvent) => {
      if (event.key !== String(number) || event.repeat || isTyped(event) || event.ctrlKey || event.altKey)
        return;
      if (stays) latest.current.turnOver();
      else latest.current.hold();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key === String(number)) latest.current.letGo();
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [number, stays]);
  return (
    <button
      type="button"
      aria-pressed={pressed}
      {...finger}
      onKeyDown={(e) => !stays && (e.key === " " || e.key === "Enter") && !e.repeat && hold()}
      onKeyUp={(e) => (e.key === " " || e.key === "Enter") && letGo()}
      className={`flex min-h-14 w-full touch-none select-none items-center gap-3 rounded-sheet border px-3 text-left ${pressed ? "border-copper bg-copper text-sheet" : "border-ink/60 bg-sheet"}`}
    >
      {number > 0 && (
        <kbd className="rounded-sheet border border-current px-1.5 font-mono text-small">{number}</kbd>
      )}
      <span>
        <span className="block font-semibold">{hand.name}</span>
        <span className="block text-small">{closed ? hand.on : hand.off}</span>
      </span>
    </button>
  );
}

/** The board's plug, and the button of its reset. */
function Supply({ hand, run }: { hand: BenchHand; run: Acting }) {
  const out = last(run, hand.of, "unplug", "plug")?.do === "unplug";
  return (
    <fieldset>
      <legend className="mb-1.5 font-semibold">{hand.name}</legend>
      <div className="grid grid-cols-2 gap-1.5">
        <Button className="min-h-11" disabled={out} onClick={() => run.act({ do: "reset", of: hand.of })}>
          Reset
        </Button>
        <Button
          className="min-h-11"
          aria-pressed={out}
          onClick={() => run.act({ do: out ? "plug" : "unplug", of: hand.of })}
        >
          {out ? "Plug in" : "Unplug"}
        </Button>
      </div>
    </fieldset>
  );
}

function Pad({ hand, run }: { hand: BenchHand; run: Acting }) {
  const keys = hand.keys ?? [];
  const columns = keys.length === 16 ? 4 : 3;
  return (
    <fieldset>
      <legend className="mb-1.5 font-semibold">{hand.name}</legend>
      <div className="grid gap-1.5" style={{ gridTemplateColumns: `repeat(${columns}, 1fr)` }}>
        {keys.map((key, i) => (
          <Button
            key={key}
            title={key}
            className="min-h-11 touch-none font-mono"
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              run.act({ do: "press", of: hand.of, key });
            }}
            onPointerUp={() => run.act({ do: "release", of: hand.of, key })}
            onPointerCancel={() => run.act({ do: "release", of: hand.of, key })}
          >
            {hand.legends?.[i] ?? key}
          </Button>
        ))}
      </div>
    </fieldset>
  );
}

/** Where a level stands on its slider, 0 to 1000. */
function placeOf(hand: BenchHand, level: number): number {
  const part = hand.log
    ? Math.log(level / hand.least) / Math.log(hand.most / hand.least)
    : (level - hand.least) / (hand.most - hand.least);
  return part * 1000;
}

/** The level at a place of the slider. */
function levelAt(hand: BenchHand, place: number): number {
  const level = hand.log
    ? hand.least * (hand.most / hand.least) ** (place / 1000)
    : hand.least + ((hand.most - hand.least) * place) / 1000;
  return hand.step ? Math.round(level / hand.step) * hand.step : level;
}

/** A level in words. What goes in steps is counted. */
function levelText(hand: BenchHand, level: number): string {
  if (!hand.step) return `${level.toPrecision(3)} ${hand.unit ?? ""}`;
  return `${level} ${hand.unit ?? ""}${Math.abs(level) === 1 ? "" : "s"}`;
}

/** What a hand does to a level: where it stands, 0 to 1000; what is slid is done when the thumb rests for a moment. */
export function useLevel(hand: BenchHand, run: Acting) {
  const [place, setPlace] = useState(() => placeOf(hand, hand.rest));
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef(0);
  // What a run that is watched does, or another window, moves it too, and what is drawn from cells.
  const moved = last(run, hand.of, "set", "turn", "spin");
  const cells = hand.of === "cells" ? run.cells : undefined;
  const charge = cells?.value;
  useEffect(() => {
    if (timer.current) return;
    if (charge !== undefined) setPlace(placeOf(hand, charge));
    else if (!moved) setPlace(placeOf(hand, hand.rest));
    else setPlace(moved.do === "turn" ? (moved.to ?? 0) * 1000 : placeOf(hand, moved.to ?? 0));
  }, [moved, hand, charge]);
  const send = (v: number) => run.act({ do: hand.kind === "spin" ? "spin" : "set", of: hand.of, to: v });
  const slide = (p: number) => {
    const within = Math.min(1000, Math.max(0, p));
    setPlace(within);
    latest.current = levelAt(hand, within);
    if (timer.current) return;
    timer.current = setTimeout(() => {
      timer.current = undefined;
      send(latest.current);
    }, 120);
  };
  const set = (v: number) => {
    setPlace(placeOf(hand, v));
    send(v);
  };
  return {
    place,
    text: cells?.text ?? levelText(hand, levelAt(hand, place)),
    level: levelAt(hand, place),
    slide,
    set,
  };
}

/** A knob, a sensor or a wheel. */
function Slider({ hand, run }: { hand: BenchHand; run: Acting }) {
  const { place, level, text, slide, set } = useLevel(hand, run);
  const done = last(run, hand.of, "set", "turn", "spin", "feed");
  const fed = done?.do === "feed" && (done.to ?? 0) > 0 ? done : undefined;
  return (
    <div>
      <label className="block">
        <span className="flex justify-between gap-2">
          <span className="font-semibold">{hand.name}</span>
          <span className="shrink-0 font-mono">{text}</span>
        </span>
        <input
          type="range"
          min="0"
          max="1000"
          value={place}
          onChange={(event) => slide(Number(event.target.value))}
          className="w-full accent-copper"
        />
      </label>
      {hand.step && <Steps hand={hand} level={level} set={set} />}
      {(hand.names ?? []).length > 0 && hand.kind === "level" && hand.unit && (
        <div className="flex flex-wrap gap-1">
          {(hand.names ?? []).map((name, i) => (
            <Button
              key={name}
              look="quiet"
              className="min-h-0! px-1.5 py-1 text-small underline"
              onClick={() => set(hand.at?.[i] ?? hand.rest)}
            >
              {name}
            </Button>
          ))}
        </div>
      )}
      {hand.of === "cells" ? <Ages hand={hand} run={run} /> : <Generator hand={hand} fed={fed} run={run} />}
    </div>
  );
}

/** One step back, and one on: what a slider is too coarse for. */
function Steps({ hand, level, set }: { hand: BenchHand; level: number; set: (level: number) => void }) {
  const step = hand.step ?? 0;
  return (
    <div className="grid grid-cols-2 gap-1.5">
      <Button
        className="min-h-11"
        aria-label={`${hand.name}: one ${hand.unit} back`}
        disabled={level <= hand.least}
        onClick={() => set(level - step)}
      >
        One {hand.unit} back
      </Button>
      <Button
        className="min-h-11"
        aria-label={`${hand.name}: one ${hand.unit} on`}
        disabled={level >= hand.most}
        onClick={() => set(level + step)}
      >
        One {hand.unit} on
      </Button>
    </div>
  );
}

/** Hours that pass for cells in each second. */
const ages = [0, 1, 10];

/** How fast cells run down by what is drawn from them. */
function Ages({ hand, run }: { hand: BenchHand; run: Acting }) {
  const age = last(run, hand.of, "drain")?.to ?? 0;
  return (
    <fieldset>
      <legend className="text-small">In each second they run down by</legend>
      <div className="grid grid-cols-3 gap-1.5">
        {ages.map((hours) => (
          <Button
            key={hours}
            className="min-h-11 aria-pressed:border-copper aria-pressed:bg-copper aria-pressed:text-sheet"
            aria-pressed={age === hours}
            onClick={() => run.act({ do: "drain", of: hand.of, to: hours })}
          >
            {hours === 0 ? "1 s" : `${hours} h`}
          </Button>
        ))}
      </div>
    </fieldset>
  );
}
