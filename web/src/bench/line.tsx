import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Recording } from "../api/client";
import { at, bars, extent, steps, within } from "./rows";

type Row = Recording["rows"][number];

const height = 34;
const margin = 6;

interface Shown {
  row: Row;
  from: number;
  span: number;
  now: number;
  /** Times that are marked. */
  cursors: (number | undefined)[];
}

/** What a row does over time, drawn as a line or as tone; what it is at a time is read by a tap. */
export function Line({ onPick, ...shown }: Shown & { onPick: (time: number) => void }) {
  const { row, from, span, now } = shown;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [wide, setWide] = useState(0);
  const [inView, setInView] = useState(true);
  useEffect(() => {
    const on = canvas.current;
    if (!on) return;
    const size = new ResizeObserver(() => setWide(on.clientWidth));
    const view = new IntersectionObserver((seen) => setInView(seen.at(-1)?.isIntersecting ?? true));
    size.observe(on);
    view.observe(on);
    return () => {
      size.disconnect();
      view.disconnect();
    };
  }, []);
  useLayoutEffect(() => {
    const on = canvas.current;
    if (on && wide > 0 && inView) draw(on, wide, shown);
  });
  return (
    <canvas
      ref={canvas}
      className="block h-[34px] w-full"
      role="img"
      aria-label={`${row.name}: ${at(row, now)?.text ?? ""}`}
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        onPick(from + ((event.clientX - box.left) / box.width) * span);
      }}
    />
  );
}

/** The colours of the sheet, read again when it is another. */
const inks = { sheet: "", ink: "", rule: "", copper: "" };

function colours() {
  const sheet = document.documentElement.dataset.sheet ?? "light";
  if (inks.sheet !== sheet) {
    const style = getComputedStyle(document.documentElement);
    for (const name of ["ink", "rule", "copper"] as const) inks[name] = style.getPropertyValue(`--${name}`);
    inks.sheet = sheet;
  }
  return inks;
}

function draw(on: HTMLCanvasElement, wide: number, { row, from, span, now, cursors }: Shown) {
  const dots = window.devicePixelRatio;
  if (on.width !== Math.round(wide * dots) || on.height !== Math.round(height * dots)) {
    on.width = Math.round(wide * dots);
    on.height = Math.round(height * dots);
  }
  const pen = on.getContext("2d");
  if (!pen) return;
  const { ink, rule, copper } = colours();
  pen.setTransform(dots, 0, 0, dots, 0, 0);
  pen.clearRect(0, 0, wide, height);

  const seen = extent(row);
  const lamp = row.kind === "lamp";
  const most = Math.max(seen.most, row.kind === "pin" ? 1 : 1e-12);
  const least = Math.min(seen.least, 0);
  // What a hand has not moved stands in the middle.
  const still = row.kind === "hand" && seen.least === seen.most;
  const x = (time: number) => ((time - from) / span) * wide;
  const y = (value: number) =>
    still ? height / 2 : height - margin - ((value - least) / (most - least)) * (height - 2 * margin);
  const end = Math.min(now, from + span);
  const drawn = within(row, from, end);
  if (drawn[0] && drawn[0].at < from) drawn[0] = { ...drawn[0], at: from };

  const tone = (level: (change: Row["changes"][number]) => number, colour: string, high: number) => {
    pen.fillStyle = colour;
    for (const bar of bars(drawn, end, x, level)) {
      pen.globalAlpha = Math.min(1, bar.level);
      if (bar.level > 0) pen.fillRect(x(bar.from), (height - high) / 2, x(bar.to) - x(bar.from), high);
    }
    pen.globalAlpha = 1;
  };
  if (lamp) {
    tone((c) => c.value / 100, copper, height - 10);
  } else {
    tone((c) => Number(c.open ?? false), rule, 6);
    pen.strokeStyle = row.kind === "hand" ? copper : ink;
    pen.lineWidth = 2;
    pen.beginPath();
    steps(drawn, end, x, y, pen);
    pen.stroke();
  }
  pen.strokeStyle = copper;
  pen.lineWidth = 1;
  pen.setLineDash([3, 3]);
  pen.beginPath();
  for (const time of cursors) {
    if (time === undefined) continue;
    pen.moveTo(x(time), 0);
    pen.lineTo(x(time), height);
  }
  pen.stroke();
  pen.setLineDash([]);
}
