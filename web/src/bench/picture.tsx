import { Popover } from "radix-ui";
import { memo, type PointerEvent, type RefObject, useEffect, useMemo, useRef, useState } from "react";
import type { BenchHand, Recording } from "../api/client";
import type { components } from "../generated/api";
import { HoleMap } from "../map/hole-map";
import { useAssembly } from "../session/assembly";
import { glowAt } from "./glow";
import { keyOf, One, useContact, useLevel } from "./hands";
import { at } from "./rows";
import type { Acting, Bench as Run } from "./run";

type Map = components["schemas"]["HoleMap"];
type Spot = components["schemas"]["Spot"];
type Row = Recording["rows"][number];

const nothing = { parts: [], wires: [], ends: [] };

/** The drawing below what moves: it is made once for a layout. */
const Drawing = memo(HoleMap);

/** Pixels that a step between two holes has at least. */
const leastStep = 15;

/**
 * The breadboard while the build runs: lamps shine where they sit, and hands act on what is drawn. All
 * of it is in the lists beside it, too, for the keyboard and for those who do not see it.
 */
export function Picture({
  run,
  acting,
  hands,
  levels,
  watched,
  onWatch,
}: {
  run: Run;
  acting: Acting;
  hands: BenchHand[];
  /** Whether wires show the level that they carry. */
  levels: boolean;
  /** What the strip shows: parts, and pins of the board. */
  watched: string[];
  onWatch: (of: string) => void;
}) {
  const report = useAssembly();
  const drawn = (run.built && report.data?.builtMap) || report.data?.usedMap;
  // Of what nobody uses nothing is shown, so that lamps are large.
  const map = useMemo(() => drawn && { ...drawn, viewBox: drawn.nearBox }, [drawn]);
  const box = useRef<HTMLDivElement>(null);
  const onTap = useRef(onWatch);
  onTap.current = onWatch;
  const taps = useMemo(
    () => ({
      leg: (terminal: string) => onTap.current(terminal.split(".")[0] ?? ""),
      hole: (hole: string) => onTap.current(hole),
    }),
    [],
  );
  useLevels(box, map, levels ? run : undefined);
  if (report.isError || (report.data && !report.data.placement)) {
    return (
      <p className="max-w-prose p-4">
        {report.data?.problem ? `${report.data.problem}. ` : "The drawing cannot be had now. "}
        What happens is on the strip and in the lists.
      </p>
    );
  }
  if (!map) return <p className="p-4">Looking for the best places…</p>;
  const height = Number(map.viewBox.split(" ")[3]);
  const rows = run.recording?.rows ?? [];
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by the keyboard
    <section aria-label="Drawing" tabIndex={0} className="min-h-0 grow overflow-auto">
      <div
        ref={box}
        className="moving relative flex h-full flex-col"
        style={{ minHeight: (height / 10) * leastStep }}
        data-picture
      >
        <Drawing map={map} whole now={nothing} done={undefined} onLeg={taps.leg} onHole={taps.hole} />
        <svg
          aria-hidden
          viewBox={map.viewBox}
          preserveAspectRatio="xMidYMin meet"
          className="onmap pointer-events-none absolute inset-0 h-full w-full select-none"
        >
          {map.spots.map((spot) => (
            <Shining
              key={`${spot.of} ${spot.lamp ?? ""}`}
              spot={spot}
              rows={rows.filter((r) => r.of === spot.of && (!spot.lamp || r.lamp === spot.lamp))}
              apart={map.spots.some((s) => s.of === spot.of && s.lamp)}
              face={!spot.lamp && map.spots.some((s) => s.of === spot.of && s.bar)}
              now={run.now}
            />
          ))}
        </svg>
        <svg
          aria-hidden
          viewBox={map.viewBox}
          preserveAspectRatio="xMidYMin meet"
          className="onmap pointer-events-none absolute inset-0 h-full w-full select-none"
        >
          <Touched spots={map.spots} hands={hands} run={acting} watched={watched} onWatch={taps.hole} />
        </svg>
      </div>
    </section>
  );
}

/** What hands do on the drawing, and what is watched. It is drawn again when they do something. */
const Touched = memo(function Touched({
  spots,
  hands,
  run,
  watched,
  onWatch,
}: {
  spots: Spot[];
  hands: BenchHand[];
  run: Acting;
  watched: string[];
  onWatch: (of: string) => void;
}) {
  return spots
    .filter((s) => !s.lamp)
    .flatMap((spot) => ofHands(spot, hands))
    .map(({ spot, hand }) => {
      return (
        <g key={hand?.of ?? spot.of} data-touch={hand?.of ?? spot.of}>
          {watched.includes(spot.of) && <rect {...around(spot, 3)} className="watched" />}
          {!hand ? (
            // biome-ignore lint/a11y/noStaticElementInteractions: a pointer's way to what the strip's lists do
            <rect {...around(spot, 1)} className="touch" onClick={() => onWatch(spot.of)} />
          ) : hand.kind === "press" || hand.kind === "switch" ? (
            <Pressed spot={spot} hand={hand} run={run} number={keyOf(hands, hand)} />
          ) : (
            <Turned spot={spot} hand={hand} run={run} />
          )}
        </g>
      );
    });
});

/** A part with its hand, or a share of its drawing for each of several. */
function ofHands(spot: Spot, hands: BenchHand[]): { spot: Spot; hand: BenchHand | undefined }[] {
  const own = hands.filter((h) => h.of === spot.of || h.of.startsWith(`${spot.of}.`));
  if (own.length < 2) return [{ spot, hand: own[0] }];
  const height = spot.height / own.length;
  return own.map((hand, i) => ({ spot: { ...spot, y: spot.y + i * height, height }, hand }));
}

/** A spot with room around it, in units of the drawing. */
const around = (spot: Spot, more: number) => ({
  x: spot.x - more,
  y: spot.y - more,
  width: spot.width + 2 * more,
  height: spot.height + 2 * more,
});

const rays = [0, 45, 90, 135, 180, 225, 270, 315];

/** What a part shows of itself: how its lamps shine, how it sounds, what it draws. */
function Shining({
  spot,
  rows,
  apart,
  face,
  now,
}: {
  spot: Spot;
  rows: Row[];
  apart: boolean;
  face: boolean;
  now: number;
}) {
  const lamps = rows.filter((r) => r.kind === "lamp");
  const other = rows.find((r) => r.kind === "sound" || r.kind === "load" || r.kind === "angle");
  const cy = spot.y + spot.height / 2;
  // A case whose lamps are seen apart shines where each of them is.
  if (lamps.length > 0 && (spot.lamp || !apart)) {
    const { colour, lightness } = glowAt(lamps, now);
    if (spot.bar) return <Bar spot={spot} colour={colour} lightness={Math.round(lightness)} />;
    return <Lens spot={spot} colour={colour} lightness={Math.round(lightness)} />;
  }
  // Where a digit shows its figure, its name would stand across it.
  if (face) {
    const inset = spot.width / 6;
    return (
      <rect
        x={spot.x + inset}
        y={spot.y + 7}
        width={spot.width - 2 * inset}
        height={spot.height - 10}
        className="face"
      />
    );
  }
  const does = other && at(other, now);
  if (!does || (does.value === 0 && other.kind !== "angle")) return null;
  return (
    <text x={spot.x + spot.width + 2} y={cy} className="does" data-does={spot.of}>
      {other.kind === "sound" ? `♪ ${does.text}` : does.text}
    </text>
  );
}

/** A lens as it shines: drawn again when it is lighter, darker or of another colour. */
const Lens = memo(function Lens({
  spot,
  colour,
  lightness,
}: {
  spot: Spot;
  colour: string;
  lightness: number;
}) {
  const cx = spot.x + spot.width / 2;
  const cy = spot.y + spot.height / 2;
  const part = lightness / 100;
  // A segment keeps to its row; a lens is no smaller than one can see.
  const r = Math.min(Math.max(Math.min(spot.width, spot.height) / 2, spot.lamp ? 3.4 : 5.5), 9);
  return (
    <g data-lamp={spot.lamp ? `${spot.of} ${spot.lamp}` : spot.of} data-lightness={lightness}>
      <circle cx={cx} cy={cy} r={r * (1.1 + 0.9 * part)} fill={colour} opacity={0.4 * part} />
      <circle cx={cx} cy={cy} r={r - 0.8} fill={colour} opacity={part} />
      {lightness > 4 &&
        rays.map((angle) => (
          <line
            key={angle}
            x1={cx + (r + 1.4) * Math.cos((angle * Math.PI) / 180)}
            y1={cy + (r + 1.4) * Math.sin((angle * Math.PI) / 180)}
            x2={cx + (r + 1.6 + 3.4 * part) * Math.cos((angle * Math.PI) / 180)}
            y2={cy + (r + 1.6 + 3.4 * part) * Math.sin((angle * Math.PI) / 180)}
            className="ray"
          />
        ))}
    </g>
  );
});

/** A bar of a digit: its outline is always there, so that a dark figure is one, too. */
const Bar = memo(function Bar({
  spot,
  colour,
  lightness,
}: {
  spot: Spot;
  colour: string;
  lightness: number;
}) {
  const { x, y, width, height } = spot;
  return (
    <g data-lamp={`${spot.of} ${spot.lamp}`} data-lightness={lightness}>
      <rect {...{ x, y, width, height }} rx="1" className="bar" data-lit={lightness > 4 || undefined} />
      <rect {...{ x, y, width, height }} rx="1" fill={colour} opacity={lightness / 100} />
    </g>
  );
});

/** A contact on the drawing: it is pressed where it is. */
function Pressed({ spot, hand, run, number }: { spot: Spot; hand: BenchHand; run: Acting; number: number }) {
  const { closed, pressed, finger } = useContact(hand, run);
  return (
    <>
      <rect {...around(spot, 3)} className="touch hand" data-pressed={pressed} {...finger}>
        <title>{`${hand.name}: ${closed ? hand.on : hand.off}`}</title>
      </rect>
      {number > 0 && (
        <g className="key">
          <rect x={spot.x + spot.width + 1} y={spot.y - 3} width="8" height="9" rx="1" />
          <text x={spot.x + spot.width + 5} y={spot.y + 1.6}>
            {number}
          </text>
        </g>
      )}
    </>
  );
}

/** Pixels that a finger goes from one end of a range to the other. */
const range = 180;

/** A knob, a sensor, a wheel or a keypad on the drawing: it is turned by drawing it aside, and opens when it is tapped. */
function Turned({ spot, hand, run }: { spot: Spot; hand: BenchHand; run: Acting }) {
  const { place, text, slide } = useLevel(hand, run);
  const [open, setOpen] = useState(false);
  const [turning, setTurning] = useState(false);
  const from = useRef<{ x: number; place: number; moved: boolean }>(undefined);
  const rect = useRef<SVGRectElement>(null);
  const turns = hand.kind !== "keys";
  const finger = {
    onPointerDown: (event: PointerEvent<SVGRectElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      from.current = { x: event.clientX, place, moved: false };
    },
    onPointerMove: (event: PointerEvent<SVGRectElement>) => {
      const began = from.current;
      const by = event.clientX - (began?.x ?? 0);
      if (!began || !turns || (!began.moved && Math.abs(by) < 4)) return;
      began.moved = true;
      setTurning(true);
      slide(began.place + (by * 1000) / range);
    },
    onPointerUp: () => {
      if (from.current && !from.current.moved) setOpen(!open);
      from.current = undefined;
      setTurning(false);
    },
    onPointerCancel: () => {
      from.current = undefined;
      setTurning(false);
    },
  };
  const wide = Math.max(spot.width, 14);
  return (
    <>
      <rect ref={rect} {...around(spot, 3)} className="touch hand turn" {...finger}>
        <title>{turns ? `${hand.name}: ${text}` : hand.name}</title>
      </rect>
      {turns && (
        <g className="gauge">
          <rect x={spot.x} y={spot.y - 7} width={wide} height="3" />
          <rect x={spot.x} y={spot.y - 7} width={(wide * place) / 1000} height="3" className="full" />
          {turning && (
            <text x={spot.x + wide + 1.5} y={spot.y - 5.5}>
              {text}
            </text>
          )}
        </g>
      )}
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Anchor virtualRef={rect as RefObject<SVGRectElement>} />
        <Popover.Portal>
          <Popover.Content
            side="right"
            sideOffset={8}
            collisionPadding={8}
            className="z-20 w-72 rounded-sheet border border-ink/50 bg-sheet p-3 shadow-lg"
          >
            <One hand={hand} run={run} number={0} />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}

/** What a wire carries, by the row of its pin: a letter for it, and a weight by the style sheet. */
function levelOf(rows: Row[], place: string, now: number): string {
  const row = rows.find((r) => r.kind === "pin" && r.of === place);
  const is = row && at(row, now);
  if (!is) return "";
  if (is.open) return "open";
  return is.value > 0 && is.value < 1 ? "duty" : is.value > 0 ? "high" : "low";
}

const letters: Record<string, string> = { high: "H", low: "L", duty: "%", open: "~" };

/** Shows the level of each pin on the wires that are joined to it; without a run all is as it was. */
function useLevels(box: RefObject<HTMLDivElement | null>, map: Map | undefined, run: Run | undefined) {
  useEffect(() => {
    const wires = box.current?.querySelectorAll<SVGGElement>("[data-wire]") ?? [];
    for (const wire of wires) {
      const place = map?.carries[Number(wire.dataset.wire)] ?? "";
      const level = run && place ? levelOf(run.recording?.rows ?? [], place, run.now) : "";
      if ((wire.dataset.level ?? "") === level) continue;
      const text = wire.querySelector("text");
      if (text) {
        text.dataset.colour ??= text.textContent ?? "";
        text.textContent = letters[level] ?? text.dataset.colour;
      }
      if (level) wire.dataset.level = level;
      else delete wire.dataset.level;
    }
  });
}
