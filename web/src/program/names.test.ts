import { describe, expect, it } from "vitest";
import type { Profile } from "../api/client";
import { namesFor } from "./names";

const board = { pins: [{ name: "GP4" }] } as Profile;
const lamp = { pin: "D4", name: "platformLamp", words: "platform lamp" };

describe("what can be completed", () => {
  it("begins with the names of the parts, each with its pin", () => {
    const [first] = namesFor([lamp], board, "cpp");
    expect(first).toMatchObject({ label: "platformLamp", detail: "D4, platform lamp" });
  });
  it("has the pins by their names only where a program names them so", () => {
    const labels = (language: "cpp" | "python-board") => namesFor([], board, language).map((c) => c.label);
    expect(labels("python-board")).toContain("board.GP4");
    expect(labels("cpp")).not.toContain("board.GP4");
    expect(labels("cpp")).toContain("digitalWrite");
  });
});
