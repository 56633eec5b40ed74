import { X } from "lucide-react";
import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./controls";

/** A sheet over the sheet. Escape and the cross close it. */
export function Dialog({
  title,
  open,
  onOpenChange,
  children,
  wide = false,
}: {
  title: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-30 bg-ink/35" />
        <Radix.Content
          aria-describedby={undefined}
          onOpenAutoFocus={(event) => {
            // A sheet with a line to type into begins there.
            const first = (event.currentTarget as HTMLElement).querySelector<HTMLElement>("[data-first]");
            if (!first) return;
            event.preventDefault();
            first.focus();
          }}
          className={`fixed top-[6vh] left-1/2 z-40 flex max-h-[88vh] w-[94vw] -translate-x-1/2 flex-col border-2 border-ink bg-sheet ${wide ? "max-w-5xl" : "max-w-2xl"}`}
        >
          <div className="flex items-center gap-4 border-rule border-b px-5 py-2">
            <Radix.Title className="grow font-semibold text-large">{title}</Radix.Title>
            <Radix.Close asChild>
              <Button look="quiet" aria-label="Close">
                <X size={20} aria-hidden />
              </Button>
            </Radix.Close>
          </div>
          <div className="min-h-0 overflow-auto px-5 py-4">{children}</div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
