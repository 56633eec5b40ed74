import type { Counts } from "../api/client";
import { LevelMark } from "../shared/level";

/** How many findings a build has, by their levels. */
export function Found({ counts }: { counts: Counts }) {
  const { stop, care, note } = counts;
  if (stop + care + note === 0) return <span className="w-36 text-good">nothing found</span>;
  return (
    <span className="flex w-36 items-center gap-3 font-mono">
      {(["stop", "care", "note"] as const).map(
        (level) =>
          counts[level] > 0 && (
            <span key={level} className="flex items-center gap-1">
              <LevelMark level={level} />
              {counts[level]}
            </span>
          ),
      )}
    </span>
  );
}
