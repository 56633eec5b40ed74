import { expect, test } from "vitest";
import { parse, withTheRest } from "./observed";

test("what was kept is read, and whatever else lies there is nothing", () => {
  const seen = [{ ask: "see:led1", answer: "dark" }];
  expect(parse(JSON.stringify(seen))).toEqual(seen);
  for (const text of [
    null,
    "",
    "null",
    "3",
    '{"ask":"a"}',
    "[null, 1, {}]",
    '[{"ask":"a"}]',
    '[{"ask":1,"answer":"x"}]',
  ])
    expect(parse(text)).toEqual([]);
  expect(parse('[{"ask":"a","answer":"b","more":1}, 7]')).toEqual([{ ask: "a", answer: "b" }]);
});

test("all the rest does what it should, but for what nobody has felt, or what says nothing", () => {
  const things = [
    {
      states: [
        { ask: "see:led1", should: "dark" },
        { ask: "see:led1:D4=high", should: "lit" },
      ],
    },
    { states: [{ ask: "see:led2", should: "" }] },
    { states: [{ ask: "feel:led1", should: "cold" }] },
  ];
  expect(withTheRest(things, [{ ask: "see:led1:D4=high", answer: "dark" }])).toEqual([
    { ask: "see:led1:D4=high", answer: "dark" },
    { ask: "see:led1", answer: "dark" },
  ]);
  expect(withTheRest(things, [])).toHaveLength(2);
});
