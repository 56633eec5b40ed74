import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { download } from "../shared/download";

/** A file of a build: its address below the build's, what is in it, and what it is as. */
type OutFile = readonly [path: string, what: string, as: string];

/** What goes on paper. */
export const papers: readonly OutFile[] = [
  ["files/plan.pdf", "The plan", "PDF"],
  ["files/steps.pdf", "The steps on the breadboard, as a booklet", "PDF"],
  ["shopping/file/shopping.pdf", "The shopping list", "PDF"],
  ["log/file/log.pdf", "The log", "PDF"],
];

/** What other programs, or this one elsewhere, take in. */
export const formats: readonly OutFile[] = [
  ["files/document", "The build, to import elsewhere", "JSON"],
  ["archive", "All of it, with its history, log and pictures", "ZIP"],
  ["files/parts.csv", "Parts list", "CSV"],
  ["files/pins.csv", "Pin table", "CSV"],
  ["files/wires.csv", "Wires on the breadboard", "CSV"],
  ["files/links.csv", "Connections without a breadboard", "CSV"],
  ["files/holemap.svg", "Hole map", "SVG"],
  ["files/analysis", "Everything computed", "JSON"],
];

/** Files of a build, each with what is in it and as what it comes. */
export function Out({
  title,
  files,
  open,
  onOpenChange,
  onCircuit,
}: {
  title: string;
  files: readonly OutFile[];
  open: boolean;
  onOpenChange: () => void;
  /** Goes on to the circuit, which is asked for more. */
  onCircuit?: () => void;
}) {
  const { view } = useSheet();
  return (
    <Dialog title={title} open={open} onOpenChange={onOpenChange}>
      <ul className="divide-y divide-rule">
        {files.map(([path, what, as]) => (
          <li key={path}>
            <Button
              look="quiet"
              className="w-full justify-start! py-2 text-left"
              onClick={() => {
                void download(`/api/builds/${view.id}/${path}`);
                onOpenChange();
              }}
            >
              <span className="grow">{what}</span>
              <span className="font-mono text-faint">{as}</span>
            </Button>
          </li>
        ))}
        {onCircuit && (
          <li>
            <Button look="quiet" className="w-full justify-start! py-2 text-left" onClick={onCircuit}>
              <span className="grow">The circuit in one state…</span>
              <span className="font-mono text-faint">SPICE</span>
            </Button>
          </li>
        )}
      </ul>
    </Dialog>
  );
}
