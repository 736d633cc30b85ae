import { relabelled } from "../../src/actions/labels.ts";

const card = { id: "a", name: "Bow", notes: "", tags: ["calm"], folder: "Small", savedAt: 1 };

describe("a card changed by two", () => {
  test("what was not changed stays as it stands", () => {
    const stands = { ...card, notes: "from the ferry", savedAt: 2 };
    expect(relabelled(stands, { ...card, name: "Deep bow", tags: ["calm", "long"] }, card)).toEqual({
      card: { ...stands, name: "Deep bow", tags: ["calm", "long"] },
      clashes: false,
    });
  });

  test("the same label written by both clashes, unless both wrote the same", () => {
    const wanted = { ...card, notes: "from the jetty" };
    expect(relabelled({ ...card, notes: "from the ferry" }, wanted, card)).toEqual({ card: wanted, clashes: true });
    expect(relabelled(wanted, wanted, card).clashes).toBe(false);
    expect(relabelled({ ...card, tags: [] }, { ...card, tags: ["quick"] }, card).clashes).toBe(true);
  });
});
