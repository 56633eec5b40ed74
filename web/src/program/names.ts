import type { Completion } from "@codemirror/autocomplete";
import type { Profile, ProgramAnalysis } from "../api/client";

type Name = ProgramAnalysis["names"][number];
type Language = "cpp" | "python-board" | "python-machine";

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
export function namesFor(parts: Name[], board: Profile, language: Language): Completion[] {
  const named = parts.map(
    (n): Completion => ({ label: n.name, detail: `${n.pin}, ${n.words}`, type: "constant", boost: 10 }),
  );
  const pins =
    language === "python-board"
      ? board.pins.map((p): Completion => ({ label: `board.${p.name}`, type: "constant" }))
      : [];
  return [...named, ...pins, ...calls[language].map((label): Completion => ({ label, type: "function" }))];
}
