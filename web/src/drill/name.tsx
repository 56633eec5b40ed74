import { useState } from "react";
import type { components } from "../generated/api";
import { Button, Choice } from "../shared/controls";

type View = components["schemas"]["DrillView"];

/** The guess: the part that it is about, and what is wrong with it. */
export function Name({
  view,
  busy,
  missed,
  onName,
}: {
  view: View;
  busy: boolean;
  missed: boolean;
  onName: (cure: string) => void;
}) {
  const [part, setPart] = useState(view.parts[0]?.id ?? "");
  const [cure, setCure] = useState("");
  const of = view.causes.filter((c) =>
    part === "" ? c.parts.length === 0 : c.parts.some((p) => p === part || p.startsWith(`${part}-`)),
  );
  return (
    <section aria-label="Name it" className="space-y-2">
      <h2 className="bg-wash px-3 py-1.5 font-semibold">Name it</h2>
      <div className="space-y-2 px-3">
        <Choice
          label="It is about"
          value={part}
          onChange={(p) => {
            setPart(p);
            setCure("");
          }}
        >
          {view.parts.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </Choice>
        <Choice label="What is wrong" value={cure} onChange={setCure}>
          <option value="">choose…</option>
          {of.map((c) => (
            <option key={c.cure} value={c.cure}>
              {c.words}
            </option>
          ))}
        </Choice>
        <Button look="main" className="px-6 py-2" disabled={busy || cure === ""} onClick={() => onName(cure)}>
          It is this
        </Button>
        {missed && (
          <p role="alert" className="border-care border-l-4 pl-2">
            It is not that. Ask the bench more.
          </p>
        )}
      </div>
    </section>
  );
}
