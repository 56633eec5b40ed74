import { useEffect, useState } from "react";

/**
 * Says beside any field that takes no more letters how many it takes. A field is bounded by its own
 * `maxLength`; what is typed or pasted beyond it is cut by the browser, which says nothing.
 */
export function LetterLimit() {
  const [full, setFull] = useState<{ most: number; left: number; top: number }>();
  useEffect(() => {
    const look = (event: Event) => {
      const field = event.target;
      if (!(field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement)) return;
      const most = field.maxLength;
      if (event.type === "focusout" || most < 0 || field.value.length < most) return setFull(undefined);
      const { left, bottom, top } = field.getBoundingClientRect();
      setFull({
        most,
        left: Math.max(0, Math.min(left, innerWidth - 240)),
        top: bottom + 40 < innerHeight ? bottom + 4 : top - 36,
      });
    };
    document.addEventListener("input", look);
    document.addEventListener("focusout", look);
    return () => {
      document.removeEventListener("input", look);
      document.removeEventListener("focusout", look);
    };
  }, []);
  return (
    <p
      role="status"
      className={`fixed z-50 rounded-sheet border border-care bg-sheet px-2 py-1 text-small ${full ? "" : "hidden"}`}
      style={full && { left: full.left, top: full.top }}
    >
      {full && `${full.most.toLocaleString("en")} letters at most`}
    </p>
  );
}
