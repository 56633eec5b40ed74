import type { Completion } from "@codemirror/autocomplete";
import type { Document, Profile } from "../api/client";

type Language = "cpp" | "python-board" | "python-machine";

/** A name for a program, made of a part's: as the starter makes it. */
export function nameOf(words: string, language: Language): string {
  const parts = words
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter((w) => w && w !== "of" && w !== "the");
  if (parts.length === 0 || /^\d/.test(parts[0] ?? "")) parts.unshift("part");
  if (language !== "cpp") return parts.join("_");
  return parts.map((w, i) => (i === 0 ? w : w.charAt(0).toUpperCase() + w.slice(1))).join("");
}

const calls: Record<Language, string[]> = {
  cpp: [
    "pinMode",
    "digitalWrite",
    "digitalRead",
    "analogRead",
    "analogWrite",
    "delay",
    "millis",
    "micros",
    "tone",
    "noTone",
    "map",
    "constrain",
    "attachInterrupt",
    "digitalPinToInterrupt",
    "shiftOut",
    "pulseIn",
    "Serial.begin",
    "Serial.println",
    "Serial.print",
    "INPUT_PULLUP",
    "OUTPUT",
    "INPUT",
    "HIGH",
    "LOW",
  ],
  "python-board": [
    "digitalio.DigitalInOut",
    "analogio.AnalogIn",
    "pwmio.PWMOut",
    "time.sleep",
    "time.monotonic",
  ],
  "python-machine": ["Pin", "ADC", "PWM", "time.sleep_ms", "time.ticks_ms", "time.ticks_diff"],
};

/** What can be completed: the names of the parts, each with its pin, and the calls of the language. */
export function namesFor(document: Document, board: Profile, language: Language): Completion[] {
  const parts = document.parts.flatMap((part) =>
    (part.signals ?? []).map((signal): Completion => {
      const words =
        (part.signals ?? []).length > 1 ? `${signal.name.replaceAll("-", " ")} of ${part.name}` : part.name;
      return {
        label: nameOf(words, language),
        detail: `${signal.pin}, ${words}`,
        type: "constant",
        boost: 10,
      };
    }),
  );
  const pins =
    language === "python-board"
      ? board.pins.map((p): Completion => ({ label: `board.${p.name}`, type: "constant" }))
      : [];
  return [...parts, ...pins, ...calls[language].map((label): Completion => ({ label, type: "function" }))];
}
