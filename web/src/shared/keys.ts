import { useEffect, useRef } from "react";

/** Where text is written: the keys of the sheet are letters there. */
const written = "input, select, textarea, [role=textbox], [contenteditable]:not([contenteditable=false])";

/** Whether a key goes into a field, so that nothing else is to come of it. */
export const isTyped = (event: KeyboardEvent) =>
  event.target instanceof Element && event.target.closest(written) !== null;

/** Escape leaves the field that one is in, so that the keys of the sheet work again. */
export function useLeaving() {
  useEffect(() => {
    const leave = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || event.defaultPrevented || !isTyped(event)) return;
      const field = event.target as HTMLElement;
      if (!field.closest("[role=dialog]")) field.blur();
    };
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, []);
}

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
