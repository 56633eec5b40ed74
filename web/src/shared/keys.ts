import { useEffect, useRef } from "react";

/** Keys that work wherever nothing is typed and no dialog is open. */
export function useKeys(keys: Record<string, () => void>) {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const on = event.target as HTMLElement;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (on.closest("input, select, textarea, [role=dialog]")) return;
      const act = latest.current[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
