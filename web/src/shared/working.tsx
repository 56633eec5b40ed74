import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import type { Quantity } from "../api/client";
import { levelColor } from "./level";

/** A number that opens its working: formula, numbers, result, limit and source. */
export function WorkingButton({
  quantity,
  label,
  shown = quantity.text,
  children,
  className = "",
}: {
  quantity: Quantity;
  label: string;
  /** What is shown of the number; the screen reader says it too. */
  shown?: string;
  /** A picture behind the number. */
  children?: ReactNode;
  className?: string;
}) {
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${label}: ${shown}. Show the working`}
        className={`min-h-6 min-w-6 rounded-sheet px-1 text-left font-mono tabular-nums underline decoration-dotted decoration-1 underline-offset-4 hover:bg-wash ${levelColor(quantity.level)} ${className}`}
      >
        {shown}
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          collisionPadding={12}
          aria-label={`Working of ${label}`}
          className="z-20 max-h-[80vh] w-[26rem] max-w-[92vw] overflow-auto rounded-sheet border border-ink/50 bg-sheet p-4 shadow-lg"
        >
          <WorkingText quantity={quantity} label={label} />
          <Popover.Close className="mt-3 rounded-sheet border border-ink/50 px-3 hover:bg-wash">
            Close
          </Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

export function WorkingText({ quantity, label }: { quantity: Quantity; label: string }) {
  const working = quantity.working;
  return (
    <div className="space-y-2">
      <p className="font-semibold">{label}</p>
      <p className="font-mono text-large tabular-nums">{quantity.text}</p>
      {quantity.low !== quantity.high && <p className="text-small text-faint">low – typical – high</p>}
      {quantity.state && <p className="text-small">when {quantity.state}</p>}
      {working?.formula && (
        <div className="border-l-2 border-copper pl-3">
          <p>{working.formula}</p>
          {working.numbers && <p className="font-mono text-small">{working.numbers}</p>}
          {working.result && <p className="font-mono text-small">= {working.result}</p>}
        </div>
      )}
      {working?.drops && (
        <table className="w-full text-small">
          <caption className="pb-1 text-left text-faint">What each part of the way takes</caption>
          <tbody>
            {working.drops.map((drop) => (
              <tr key={drop.name} className="border-t border-rule">
                <td className="py-0.5">{drop.name}</td>
                <td className="pl-2 text-right font-mono whitespace-nowrap">{drop.volts}</td>
                <td className="pl-2 text-right font-mono whitespace-nowrap">{drop.amps}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {quantity.limit && (
        <p className="text-small">
          Limit: {quantity.limit.recommendedText} recommended, {quantity.limit.absoluteText} absolute.
        </p>
      )}
      {working && working.sources.length > 0 && (
        <details className="text-small text-faint">
          <summary>Where the numbers come from</summary>
          <ul className="list-disc pl-5">
            {working.sources.map((source) => (
              <li key={source}>{source}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
