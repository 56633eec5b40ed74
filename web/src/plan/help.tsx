import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { Dialog } from "../shared/dialog";

const keys: [string, string][] = [
  ["/", "type parts"],
  ["Enter", "take what was typed"],
  ["Escape", "leave a field as it was; close what is open"],
  ["Ctrl Z", "undo"],
  ["Ctrl Y", "redo"],
  ["n", "the next thing to do"],
  ["h", "history of the build"],
  ["d", "Assemble: this step is done"],
  ["b", "Assemble: take the last step back"],
  ["↑ ↓", "Assemble: look at the step before or after"],
  ["Tab", "the next thing on the sheet"],
  ["?", "this page"],
];

/** The keys of the sheet, and the cautions that go with a bench. */
export function Help({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const health = useQuery({
    queryKey: ["health"],
    queryFn: () => answer(api.GET("/api/health")),
    enabled: open,
  });
  return (
    <Dialog title="Keys and cautions" open={open} onOpenChange={onOpenChange}>
      <table className="w-full">
        <tbody>
          {keys.map(([key, does]) => (
            <tr key={key} className="border-rule border-b">
              <th scope="row" className="w-32 py-1 text-left font-mono font-semibold">
                {key}
              </th>
              <td>{does}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-4">Every number with a dotted line under it opens its working.</p>
      <ul className="mt-4 list-disc space-y-1 pl-5">
        <li>Unplug the board before you wire or move a wire.</li>
        <li>Smoke or heat: unplug first, look later.</li>
        <li>
          Never mains on a breadboard. Beyond low-voltage cells and USB, local codes and licensed practice
          decide.
        </li>
        <li>Charge lithium cells with their own charger only. Do not look into bright LEDs close up.</li>
        <li>Soldering: protect your eyes, and let fresh air in.</li>
      </ul>
      <p className="mt-4 text-faint">
        Cablaggio {health.data?.version} ·{" "}
        <a href="/third-party.txt" target="_blank" rel="noreferrer" className="underline">
          licences of what is in it
        </a>
      </p>
    </Dialog>
  );
}
