import { useCallback, useState } from "react";

const prefix = "cablaggio.kept.";

/** What is kept in this browser under a name; undefined where there is nothing, or it cannot be read. */
export function readKept<T>(name: string): T | undefined {
  try {
    const text = window.localStorage.getItem(prefix + name);
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

/** Keeps a value under a name; undefined is nothing to keep. A storage that is full or shut keeps nothing. */
export function writeKept<T>(name: string, value: T | undefined): void {
  try {
    if (value === undefined) window.localStorage.removeItem(prefix + name);
    else window.localStorage.setItem(prefix + name, JSON.stringify(value));
  } catch {
    // It is there as long as the page is.
  }
}

type Wide<T> = T extends string ? string : boolean;

/**
 * State that a reload, another section or a closed window does not lose: what somebody writes, and how
 * he likes a view. What is as it begins takes no place.
 */
export function useKept<T extends string | boolean>(
  name: string,
  begins: T,
): [value: Wide<T>, set: (value: Wide<T>) => void] {
  const [kept, setKept] = useState<{ name: string; value: Wide<T> | T }>(() => ({
    name,
    value: readKept<Wide<T>>(name) ?? begins,
  }));
  // The same field of another build is another one.
  const now = kept.name === name ? kept : { name, value: readKept<Wide<T>>(name) ?? begins };
  const set = useCallback(
    (value: Wide<T>) => {
      writeKept(name, value === begins ? undefined : value);
      setKept({ name, value });
    },
    [name, begins],
  );
  return [now.value as Wide<T>, set];
}
