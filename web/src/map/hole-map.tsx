import { useEffect, useRef } from "react";
import type { components } from "../generated/api";

interface Marked {
  parts: string[];
  wires: number[];
}

const reach = 7; // units; a step between holes is 10

/**
 * The hole map, drawn by the server. What is `now` is in the accent, what is `done` in ink, and the
 * rest faint; without `done` all is in ink. A leg, a hole or a wire that is tapped is told.
 */
export function HoleMap({
  map,
  whole,
  now,
  done,
  onLeg,
  onHole,
  onWire,
}: {
  map: components["schemas"]["HoleMap"];
  whole: boolean | undefined;
  now: Marked & { ends: string[] };
  done: Marked | undefined;
  onLeg: (terminal: string) => void;
  onHole: (hole: string) => void;
  /** A wire, by its place in the drawing, and which of its ends was tapped; without, wires are not told. */
  onWire?: (wire: number, end: "from" | "to") => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  useEffect(() => {
    if (svg.current) svg.current.innerHTML = map.marks;
  }, [map.marks]);
  useEffect(() => {
    const root = svg.current;
    if (!root) return;
    const near = whole ? undefined : around(root, map.viewBox, now.ends);
    root.setAttribute("viewBox", near ?? map.viewBox);
    root.classList.toggle("stepping", done !== undefined);
    root.classList.toggle("whole", near === undefined);
    for (const g of root.querySelectorAll<SVGGElement>("[data-part], [data-wire]")) {
      const { part, wire } = g.dataset;
      const within = (m: Marked) => (part ? m.parts.includes(part) : m.wires.includes(Number(wire)));
      g.classList.toggle("now", within(now));
      g.classList.toggle("done", done !== undefined && within(done));
    }
    for (const c of root.querySelectorAll<SVGElement>("[data-hole]"))
      c.classList.toggle("now", now.ends.includes(c.dataset.hole ?? ""));
  });
  const tap = (event: React.MouseEvent<SVGSVGElement>) => {
    const root = event.currentTarget;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(root.getScreenCTM()?.inverse());
    const nearest = (selector: string, least = reach) => {
      let found: SVGElement | undefined;
      for (const c of root.querySelectorAll<SVGElement>(selector)) {
        const d = Math.hypot(number(c, "cx") - at.x, number(c, "cy") - at.y);
        if (d < least) [found, least] = [c, d];
      }
      return found;
    };
    const leg = nearest("[data-leg]")?.dataset.leg;
    const hole = nearest("[data-hole]")?.dataset.hole;
    const end = onWire && nearest("[data-wire] circle");
    // A hole that a wire only passes over is the hole.
    const over = onWire && !nearest("[data-hole]", 4) ? (event.target as Element) : undefined;
    const wire = (end ?? over)?.closest<SVGElement>("[data-wire]");
    if (leg) onLeg(leg);
    else if (onWire && wire) {
      const [from = 0, to = 0] = [...wire.querySelectorAll("circle")].map((c) =>
        Math.hypot(number(c, "cx") - at.x, number(c, "cy") - at.y),
      );
      onWire(Number(wire.dataset.wire), from <= to ? "from" : "to");
    } else if (hole) onHole(hole);
  };
  return (
    <div className="relative min-h-0 grow">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the fields beside the map do the same from the keyboard */}
      <svg
        ref={svg}
        role="img"
        aria-label="Hole map; “What is in each row” says the same in words"
        preserveAspectRatio="xMidYMin meet"
        className="holemap absolute inset-0 h-full w-full"
        onClick={tap}
      />
    </div>
  );
}

const number = (e: SVGElement, attribute: string) => Number(e.getAttribute(attribute));

/** The part of the drawing around some ends: whole rows of the breadboard, and the board if a wire goes there. */
function around(root: SVGSVGElement, viewBox: string, ends: string[]): string | undefined {
  const [left = 0, top = 0, width = 0, height = 0] = viewBox.split(" ").map(Number);
  const at = [...root.querySelectorAll<SVGElement>("[data-hole]")].filter((c) =>
    ends.includes(c.dataset.hole ?? ""),
  );
  if (at.length === 0) return undefined;
  const ys = at.map((c) => number(c, "cy"));
  const xs = at.map((c) => number(c, "cx"));
  const tall = Math.min(height, Math.max(Math.max(...ys) - Math.min(...ys) + 60, 170));
  const middle = (Math.max(...ys) + Math.min(...ys)) / 2;
  const y = Math.min(Math.max(middle - tall / 2, top), top + height - tall);
  const x =
    Math.min(...xs) < -40 ? left : Math.max(left, -50 + 200 * Math.floor((Math.min(...xs) + 40) / 200));
  const right = Math.max(...xs) > 160 ? left + width : Math.min(left + width, 160);
  return `${x} ${y} ${right - x} ${tall}`;
}
