import { useAssembly } from "../session/assembly";
import { HoleMap } from "./hole-map";

const nothing = { parts: [], wires: [] };

/** Where to look or to put the tips, on the hole map. */
export function Where({ ends }: { ends: string[] }) {
  const report = useAssembly();
  if (!report.data?.placement || ends.length === 0) return null;
  return (
    <div className="flex min-h-72 grow flex-col p-2">
      <HoleMap
        map={report.data.usedMap}
        whole={false}
        now={{ ...nothing, ends }}
        done={nothing}
        onLeg={() => {}}
        onHole={() => {}}
      />
    </div>
  );
}
