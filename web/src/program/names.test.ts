import { describe, expect, it } from "vitest";
import { nameOf } from "./names";

describe("the name of a part in a program", () => {
  it("is one word, in the manner of the language", () => {
    expect(nameOf("stop request lamp", "cpp")).toBe("stopRequestLamp");
    expect(nameOf("stop request lamp", "python-machine")).toBe("stop_request_lamp");
  });
  it("leaves out what says nothing, and never begins with a digit", () => {
    expect(nameOf("red of the sky", "cpp")).toBe("redSky");
    expect(nameOf("3rd lamp", "cpp")).toBe("part3rdLamp");
    expect(nameOf("ü", "python-board")).toBe("part");
  });
});
