import type { Level } from "../api/client";

/** Stop, care and note differ in shape as well as in colour. */
const shapes: Record<Exclude<Level, "">, { path: string; color: string; name: string }> = {
  stop: { path: "M7 2h10l5 5v10l-5 5H7l-5-5V7z", color: "text-stop", name: "stop" },
  care: { path: "M12 1l11 11-11 11L1 12z", color: "text-care", name: "care" },
  note: { path: "M12 3a9 9 0 1 1 0 18a9 9 0 0 1 0-18z", color: "text-faint", name: "note" },
};

export function LevelMark({ level, size = 18 }: { level: Level | undefined; size?: number }) {
  if (!level) return null;
  const shape = shapes[level];
  return (
    <svg
      viewBox="0 0 24 24"
      width={size}
      height={size}
      className={`shrink-0 ${shape.color}`}
      role="img"
      aria-label={shape.name}
    >
      <path d={shape.path} fill="currentColor" />
      {level === "stop" && <path d="M7 12h10" stroke="var(--sheet)" strokeWidth="3" />}
      {level === "care" && <path d="M12 6.5v7M12 16v2" stroke="var(--sheet)" strokeWidth="2.6" />}
      {level === "note" && <path d="M12 11v6M12 7v2" stroke="var(--sheet)" strokeWidth="2.4" />}
    </svg>
  );
}

export function levelColor(level: Level | undefined): string {
  if (level === "stop") return "text-stop";
  if (level === "care") return "text-care";
  return "text-ink";
}
