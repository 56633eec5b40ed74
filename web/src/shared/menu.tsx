import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./controls";

/** A button that opens a short list of things to do. */
export function Menu({
  label,
  spoken,
  look,
  children,
}: {
  label: string;
  /** What a screen reader says, where the label alone does not say it all. */
  spoken?: string;
  look?: "plain" | "main";
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button look={look} aria-label={spoken}>
          {label}
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          collisionPadding={8}
          className="z-20 max-h-[80vh] min-w-40 overflow-auto rounded-sheet border border-ink/50 bg-sheet p-1 shadow-lg"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({ onSelect, children }: { onSelect: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      className="flex cursor-pointer items-center gap-3 rounded-sheet px-3 py-1.5 outline-none data-highlighted:bg-wash"
    >
      {children}
    </DropdownMenu.Item>
  );
}

/** Entries that belong together, with a line above them. */
export function MenuGroup({ children }: { children: ReactNode }) {
  return <DropdownMenu.Group className="border-rule not-first:border-t">{children}</DropdownMenu.Group>;
}
