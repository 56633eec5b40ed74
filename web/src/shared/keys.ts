import { useEffect, useRef } from "react";

/** Where text is written: the keys of the sheet are letters there. */
const written = "input, select, textarea, [role=textbox], [contenteditable]:not([contenteditable=false])";

/** Whether a key goes into a field, so that nothing else is to come of it. */
export const isTyped = (event: KeyboardEvent) =>
  event.target instanceof Element && event.target.closest(written) !== null;

/** Keys that work wherever nothing is typed and no dialog is open. */
export function useKeys(keys: Record<string, () => void>) {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyped(event)) return;
      if (event.target instanceof Element && event.target.closest("[role=dialog]")) return;
      const act = latest.current[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
