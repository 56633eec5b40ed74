import { useEffect, useState } from "react";

export type Theme = "light" | "dark";
const key = "cablaggio.sheet";

function preferred(): Theme {
  const kept = window.localStorage.getItem(key);
  if (kept === "light" || kept === "dark") return kept;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

/** Puts the sheet that the builder chose, or the system prefers, on the page. */
export function applyTheme(theme: Theme = preferred()): void {
  window.document.documentElement.dataset.sheet = theme;
}

export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState(preferred);
  useEffect(() => applyTheme(theme), [theme]);
  return [
    theme,
    (next) => {
      window.localStorage.setItem(key, next);
      setTheme(next);
    },
  ];
}
