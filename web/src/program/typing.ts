import { useCallback, useEffect, useRef, useState } from "react";
import type { Edit, Program as Source } from "../api/client";
import { useSheet } from "../session/context";

/** How long nobody types before the program is looked at, and before it is kept, in ms. */
const lookAfter = 500;
const keepAfter = 2000;

/** The text as it is typed: looked at after a short pause, kept after a longer one. */
export function useTyping(kept: Source) {
  const { edit } = useSheet();
  const [source, setSource] = useState(kept);
  const [looked, setLooked] = useState(kept);
  const pending = useRef<Source>(undefined);
  const sent = useRef(kept);

  const keep = useCallback(() => {
    const mine = pending.current;
    if (!mine) return;
    pending.current = undefined;
    sent.current = mine;
    edit("change the program", { op: "program", program: mine } as Edit);
  }, [edit]);

  // What came from elsewhere: a fix, an undo, another window.
  useEffect(() => {
    if (pending.current || same(kept, sent.current)) return;
    sent.current = kept;
    setSource(kept);
    setLooked(kept);
  }, [kept]);

  useEffect(() => {
    if (same(source, looked)) return;
    const timer = setTimeout(() => setLooked(source), lookAfter);
    return () => clearTimeout(timer);
  }, [source, looked]);

  useEffect(() => {
    if (!pending.current || !source) return;
    const timer = setTimeout(keep, keepAfter);
    return () => clearTimeout(timer);
  }, [source, keep]);

  useEffect(() => {
    const leave = () => keep();
    window.addEventListener("pagehide", leave);
    document.addEventListener("visibilitychange", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      document.removeEventListener("visibilitychange", leave);
      keep();
    };
  }, [keep]);

  const change = useCallback((next: Source) => {
    pending.current = next;
    setSource(next);
  }, []);
  return { source, looked, change, keep };
}

export function same(a: Source, b: Source): boolean {
  return (
    a.text === b.text &&
    a.language === b.language &&
    JSON.stringify(a.files ?? []) === JSON.stringify(b.files ?? [])
  );
}
