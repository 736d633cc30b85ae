import { readGapText } from "../src/bench/rack/poses/gapText.ts";

test("one number is for all picked gaps, several are one for each", () => {
  expect(readGapText("4", [5, 6, 7], false)).toEqual({ kind: "gaps", frames: [4, 4, 4] });
  expect(readGapText(" 4 3, 2 ", [5, 6, 7], false)).toEqual({ kind: "gaps", frames: [4, 3, 2] });
  expect(readGapText("+1", [5, 6], false)).toEqual({ kind: "gaps", frames: [6, 7] });
  expect(readGapText("*2", [5, 6], false)).toEqual({ kind: "gaps", frames: [10, 12] });
  // On one gap they are for it and those that follow.
  expect(readGapText("4 3 2", [5], false)).toEqual({ kind: "gaps", frames: [4, 3, 2] });
});

test("a hold is made with its length and removed with 0", () => {
  expect(readGapText("hold 8", [5], false)).toEqual({ kind: "hold", frames: 8 });
  expect(readGapText("h8", [5], true)).toEqual({ kind: "hold", frames: 8 });
  expect(readGapText("0", [5], true)).toEqual({ kind: "no hold" });
});

test.each([
  ["0", "The gap stays 5"],
  ["-3", "The gap stays 5"],
  ["1e9", "The gap stays 5"],
  ["abc", '"abc" is not'],
  ["2.5", '"2.5" is not'],
  ["hold 0", '"0" is not'],
  ["4 0", '"0" is not'],
])("%p is refused with what was typed and what stays", (text, message) => {
  expect(() => readGapText(text, [5], false)).toThrow(message);
});

test("too few or too many numbers for the picked gaps are refused", () => {
  expect(() => readGapText("4 3 2", [5, 5], false)).toThrow(/3 gaps were typed and 2 are picked/);
});
