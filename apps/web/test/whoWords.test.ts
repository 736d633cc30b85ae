import { sayWho } from "@kneader/core";
import { layersFor, sayWord, whoOf, wordsFor, wordsOf } from "../src/bench/recipes/whoWords.ts";
import { demoShots } from "@kneader/demo";

describe("whom a step is for, in words", () => {
  test("every query comes back as it went", () => {
    for (const who of [
      {},
      { part: "legs" },
      { part: "tail end", side: "left" as const },
      { names: ["tail*", "Ear left"] },
      { moves: true as const, picked: true as const },
      { part: "legs", names: ["a*"], side: "middle" as const, moves: true as const, picked: true as const },
    ])
      expect(whoOf(wordsOf(who))).toEqual(who);
  });

  test("what is typed is a name; of two parts or sides the later counts; blanks are nobody", () => {
    expect(whoOf(["tail*", "Ear left", "tail*"])).toEqual({ names: ["tail*", "Ear left"] });
    expect(whoOf(["part legs", "part arms", "side left", "side right"])).toEqual({ part: "arms", side: "right" });
    expect(whoOf(["side up"])).toEqual({ names: ["side up"] });
    expect(whoOf(["  "])).toEqual({});
  });

  test("each word says what it stands for", () => {
    expect(wordsFor(["legs"]).map(sayWord)).toEqual([
      "picked when it is run",
      "all that move",
      'the part "legs"',
      "on the left",
      "on the right",
      "in the middle",
    ]);
    expect(sayWord("name tail*")).toBe(sayWho({ names: ["tail*"] }));
  });

  test("layers are the base, the topmost pass, those of the shot, and the one that is said", async () => {
    const shot = await demoShots[0].make();
    expect(layersFor(shot, "base").map(({ value }) => value)).toEqual(["base", "top", ...shot.passes.map(({ name }) => name)]);
    expect(layersFor(shot, "Sways").map(({ label }) => label)).toContain('the pass "Sways"');
  });
});
