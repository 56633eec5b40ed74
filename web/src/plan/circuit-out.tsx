import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { Button, Choice } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { download } from "../shared/download";

/** The circuit as a netlist: which state, and which end of what has a tolerance. */
export function CircuitOut({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { view } = useSheet();
  const [set, put] = useState<Record<string, string>>({});
  const [corner, turn] = useState("typical");
  const asked = useQuery({
    queryKey: ["controls", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/controls", { params: { path: { id: view.id } } })),
    enabled: open,
  });
  const controls = asked.data?.controls ?? [];
  const query = new URLSearchParams({ corner });
  for (const c of controls) {
    const setting = set[c.of];
    if (setting && c.settings.includes(setting)) query.append("set", `${c.of}=${setting}`);
  }
  return (
    <Dialog title="The circuit for a simulator (SPICE)" open={open} onOpenChange={onOpenChange}>
      <div className="space-y-4">
        <p>A netlist holds one state. Say which.</p>
        {asked.isPending && <p>Looking what can be set…</p>}
        {asked.error && <p role="alert">{asked.error.message}</p>}
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <Choice label="What has a tolerance" value={corner} onChange={turn}>
            <option value="low">at its low end</option>
            <option value="typical">typical</option>
            <option value="high">at its high end</option>
          </Choice>
          {controls.map((c) => (
            <Choice
              key={c.of}
              label={c.name}
              value={set[c.of] ?? c.settings[0] ?? ""}
              onChange={(setting) => put({ ...set, [c.of]: setting })}
            >
              {c.settings.map((s) => (
                <option key={s}>{s}</option>
              ))}
            </Choice>
          ))}
        </div>
        <Button
          look="main"
          className="min-h-11"
          onClick={() => void download(`/api/builds/${view.id}/files/netlist?${query}`)}
        >
          Save the netlist
        </Button>
      </div>
    </Dialog>
  );
}
