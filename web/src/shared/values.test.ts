import { expect, test } from "vitest";
import { short } from "./values";

test("values are written as one types them", () => {
  const said: [number, string, string][] = [
    [330, "Ω", "330 Ω"],
    [4700, "Ω", "4.7 kΩ"],
    [1e6, "Ω", "1 MΩ"],
    [999999.9, "Ω", "1 MΩ"],
    [0.01, "A", "10 mA"],
    [4.7e-6, "F", "4.7 µF"],
    [100e-9, "F", "100 nF"],
    [22e-12, "F", "22 pF"],
    [0, "Ω", "0 Ω"],
    [-0.005, "A", "-5 mA"],
    [0.5, "", "0.5"],
    [2500, "%", "2500 %"],
    [0.02, "°C", "0.02 °C"],
    [1234.56, "Ω", "1.235 kΩ"],
  ];
  for (const [value, unit, text] of said) expect(short(value, unit)).toBe(text);
});
