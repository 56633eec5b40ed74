import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, api, type Step } from "../api/client";
import { useSheet } from "../session/context";

const most = 2;

/** What the meter can tell where the builder looks over what was just put in. */
export function QuickCheck({ step }: { step: Step }) {
  const { view, board } = useSheet();
  const power = step.id === "power";
  const checks = useQuery({
    queryKey: ["checks", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/checks", { params: { path: { id: view.id } } })),
    enabled: step.look === true,
  });
  const fits = checks.data?.checks.filter((c) => {
    if (c.group !== "Before the supply goes on") return false;
    // Before it gets power: the rails are not joined.
    if (power) return board.rails.some((r) => c.id.startsWith(`ohms:board.${r.name}:`));
    return c.part !== undefined && step.parts.includes(c.part);
  });
  if (!step.look || !fits || fits.length === 0) return null;
  return (
    <div className="my-2 border-copper border-l-4 pl-2">
      {fits.slice(0, most).map((c) => (
        <p key={c.id}>
          <Link to="../meter" className="underline">
            With the meter
          </Link>
          , {c.question.way === "continuity" ? "on continuity" : "on ohms"}, unplugged: {c.do}{" "}
          <span className="font-mono font-semibold">{c.expect.text}</span>
        </p>
      ))}
    </div>
  );
}
