import { useSheet } from "../session/context";

/** Names legs as people do: "sign lamp, long leg" for "led3.anode". */
export function useLegName(): (terminal: string) => string {
  const { view, kind } = useSheet();
  return (terminal) => {
    const [id, leg] = terminal.split(".");
    const part = view.document.parts.find((p) => p.id === id);
    if (!part) return terminal;
    return `${part.name}, ${kind(part).terminals.find((t) => t.id === leg)?.name ?? leg}`;
  };
}
