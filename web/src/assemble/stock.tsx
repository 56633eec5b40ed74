import { Popover } from "radix-ui";
import { useSheet, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";
import { ValueField } from "../shared/value-field";

/** The wires that the builder has: only their colours and lengths are chosen then. */
export function Stock() {
  const { view, edit } = useSheet();
  const { refused } = useSnapshot();
  const stock = view.document.assembly?.stock;
  const colours = stock?.colours?.join(" ") ?? "";
  const lengths = stock?.lengths?.join(" ") ?? "";
  const error = refused.find((r) => r.step?.edits.some((e) => e.op === "stock"));
  const tried = error?.step?.edits.find((e) => e.op === "stock");
  const wrong = error?.problem.title;
  const about = (field: "text" | "with") =>
    tried?.[field] !== (field === "text" ? colours : lengths) ? wrong : undefined;
  const set = (text: string, other: string) =>
    edit("note the wires at hand", { op: "stock", text, with: other });
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>{stock ? "Wires: mine" : "Wires: any"}</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          collisionPadding={12}
          sideOffset={6}
          aria-label="Wires at hand"
          className="z-20 flex w-96 max-w-[94vw] flex-col gap-3 rounded-sheet border border-ink/50 bg-sheet p-3 shadow-lg"
        >
          <p>Say what you have, and only that is chosen. Left empty, any will do.</p>
          <ValueField
            label="Colours"
            saved={colours}
            error={about("text")}
            onCommit={(text) => set(text, lengths)}
          />
          <ValueField
            label="Lengths in millimetres"
            saved={lengths}
            error={about("with")}
            onCommit={(text) => set(colours, text)}
          />
          <p className="text-faint text-small">As in: black red yellow green, and 50 100 150 200.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
