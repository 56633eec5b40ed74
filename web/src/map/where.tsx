import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { HoleMap } from "./hole-map";

const nothing = { parts: [], wires: [] };

/** Where to look or to put the tips, on the hole map. */
export function Where({ ends }: { ends: string[] }) {
  const { view } = useSheet();
  const report = useQuery({
    queryKey: ["assembly", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/assembly", { params: { path: { id: view.id } } })),
    placeholderData: keepPreviousData,
  });
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
