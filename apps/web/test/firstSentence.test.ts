import { firstSentence } from "../src/bench/firstSentence.ts";

test("of several sentences the first one is shown, and numbers do not end one", () => {
  expect(firstSentence("Laid it. Largest step: 1.50 mm at frame 5. More.")).toEqual({
    first: "Laid it.",
    others: "Largest step: 1.50 mm at frame 5. More.",
  });
  expect(firstSentence("Moved by 1.5 mm at frame 3")).toEqual({ first: "Moved by 1.5 mm at frame 3", others: "" });
  expect(firstSentence("One sentence.")).toEqual({ first: "One sentence.", others: "" });
});
