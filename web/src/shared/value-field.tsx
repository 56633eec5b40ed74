import { useEffect, useId, useRef, useState } from "react";

const looks = {
  value: "font-mono text-base",
  words: "text-base",
  title: "text-large font-semibold",
};

/**
 * A value as it is typed: it goes in with Enter or on leaving the field, and stays as typed, marked,
 * when it was not taken. Escape brings back what is saved.
 */
export function ValueField({
  label,
  saved,
  error,
  onCommit,
  hiddenLabel = false,
  look = "value",
}: {
  label: string;
  saved: string;
  error?: string;
  onCommit: (text: string) => void;
  hiddenLabel?: boolean;
  look?: keyof typeof looks;
}) {
  const [draft, setDraft] = useState(saved);
  const [sent, setSent] = useState(saved);
  const errorId = useId();
  useEffect(() => {
    setDraft(saved);
    setSent(saved);
  }, [saved]);
  // A refusal that was closed is given up: a field that looks saved must be saved. One that went
  // because the next try was sent is not: that has its own answer to come.
  const lastError = useRef<string>(undefined);
  const waiting = useRef(false);
  useEffect(() => {
    if (error !== undefined && error !== lastError.current) waiting.current = false;
    if (lastError.current !== undefined && error === undefined && draft === sent && !waiting.current) {
      setDraft(saved);
      setSent(saved);
    }
    lastError.current = error;
  }, [error, draft, sent, saved]);
  const commit = () => {
    if (draft.trim() === sent.trim()) return;
    waiting.current = true;
    setSent(draft);
    onCommit(draft.trim());
  };
  // What is typed when the page goes away goes in, too.
  const latest = useRef(commit);
  latest.current = commit;
  useEffect(() => {
    const leave = () => latest.current();
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, []);
  const bad = error !== undefined && draft === sent && draft !== saved;
  return (
    <label className="flex min-w-0 flex-col gap-0.5">
      <span className={hiddenLabel ? "sr-only" : "text-small text-faint"}>{label}</span>
      <input
        value={draft}
        maxLength={120}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === "Enter") commit();
          if (event.key === "Escape") setDraft(saved);
        }}
        aria-invalid={bad}
        aria-describedby={bad ? errorId : undefined}
        spellCheck={false}
        autoComplete="off"
        className={`w-full min-w-0 rounded-sheet border bg-sheet px-2 ${looks[look]} ${bad ? "border-stop" : "border-ink/40"}`}
      />
      {bad && (
        <span id={errorId} className="text-small text-stop">
          {error}
        </span>
      )}
    </label>
  );
}
