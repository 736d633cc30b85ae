import { type Action, type ActionCard, constantCurve, makeControl, withAbout } from "@kneader/core";
import { findCards, folderLines, sayAbout } from "../src/pantry/findCards.ts";
import { mapFromText, mapToText } from "../src/pantry/maps.ts";
import { browserShelf } from "../src/storage/browserShelf.ts";
import { memoryStore } from "../src/storage/stores.ts";

const card = (name: string, more: Partial<ActionCard> = {}): ActionCard => ({
  id: name,
  name,
  notes: "",
  tags: [],
  folder: "Mine",
  savedAt: 0,
  about: { frames: 24, curves: 3, moves: ["Head"] },
  ...more,
});
const all = { words: "", folder: null, tag: null, order: "name" } as const;
const named = (cards: readonly ActionCard[]) => cards.map(({ name }) => name);

describe("finding actions", () => {
  const cards = [
    card("Nod", { tags: ["small"], savedAt: 2 }),
    card("Wave", {
      notes: "to the other bank",
      folder: "Hands/Right",
      about: { frames: 50, curves: 6, moves: ["Forearm right"] },
      savedAt: 3,
    }),
    card("Rest", { folder: "Hands", about: { frames: 0, curves: 1, moves: ["Hand left"] }, savedAt: 1 }),
  ];

  test("every word counts, in names, tags, notes, controls and folders", () => {
    expect(named(findCards(cards, { ...all, words: "forearm BANK" }))).toEqual(["Wave"]);
    expect(named(findCards(cards, { ...all, words: "small" }))).toEqual(["Nod"]);
    expect(named(findCards(cards, { ...all, words: "hand left wave" }))).toEqual([]);
  });

  test("a folder holds what is in the folders in it, and no namesakes", () => {
    expect(named(findCards([...cards, card("Other", { folder: "Handsome" })], { ...all, folder: "Hands" }))).toEqual(["Rest", "Wave"]);
    expect(folderLines(cards, ["Hands/Left/Deep"]).map(({ path, depth, count }) => [path, depth, count])).toEqual([
      ["Hands", 0, 2],
      ["Hands/Left", 1, 0],
      ["Hands/Left/Deep", 2, 0],
      ["Hands/Right", 1, 1],
      ["Mine", 0, 1],
    ]);
  });

  test("in order of age, name or length", () => {
    expect(named(findCards(cards, { ...all, order: "new" }))).toEqual(["Wave", "Nod", "Rest"]);
    expect(named(findCards(cards, { ...all, order: "length" }))).toEqual(["Rest", "Nod", "Wave"]);
    expect(cards.map(sayAbout)).toEqual(["24 frames · 3 curves", "50 frames · 6 curves", "Pose · 1 curve"]);
  });
});

describe("a shelf in the browser", () => {
  const action = (value: number, more: Partial<ActionCard> = {}): Action => ({
    card: { id: "a", name: "Nod", notes: "", tags: [], folder: "Mine", savedAt: value, ...more },
    clip: {
      rate: { num: 24, den: 1 },
      from: 0,
      length: 0,
      whole: false,
      curves: { "head.rotateX": constantCurve(value) },
      controls: [makeControl("head")],
      figure: null,
    },
  });
  const headOf = (one: Action | null | undefined) => one?.clip.curves["head.rotateX"].values[0];
  const made = () => browserShelf(memoryStore(), memoryStore(), memoryStore());

  test("saved over, the states before are kept, five of them, and one is brought back by putting it", async () => {
    const shelf = made();
    for (let n = 1; n <= 8; n++) await shelf.put(action(n));
    expect((await shelf.earlier("a")).map(headOf)).toEqual([7, 6, 5, 4, 3]);
    const [, , five] = await shelf.earlier("a");
    await shelf.put({ ...five, card: { ...five.card, id: "a" } });
    expect(headOf(await shelf.get("a"))).toBe(5);
    expect((await shelf.earlier("a")).map(headOf)).toEqual([8, 7, 6, 5, 4]);
    expect(await shelf.list()).toHaveLength(1);
  });

  test("another card is no other state, and what is thrown away is gone with what was before", async () => {
    const shelf = made();
    await shelf.put(action(1));
    await shelf.relabel({ ...action(1).card, name: "Bow", folder: "Small/Things" });
    expect(await shelf.earlier("a")).toEqual([]);
    expect((await shelf.list())[0]).toMatchObject({
      name: "Bow",
      folder: "Small/Things",
      about: { frames: 0, curves: 1, moves: ["head"] },
    });
    // What another wrote beside it meanwhile stays.
    await shelf.relabel({ ...action(1).card, notes: "with both arms" }, action(1).card);
    expect((await shelf.list())[0]).toMatchObject({ name: "Bow", folder: "Small/Things", notes: "with both arms" });
    await shelf.remove("a");
    expect([await shelf.list(), await shelf.get("a")]).toEqual([[], null]);
    await expect(shelf.relabel(action(1).card)).rejects.toThrow(/not in the pantry any more/);
  });

  test("one that cannot be read does not hide the others", async () => {
    const [actions, cards] = [memoryStore(), memoryStore()];
    const shelf = browserShelf(actions, cards, memoryStore());
    await shelf.put(action(1));
    await actions.setItem("torn", Uint8Array.of(1, 2, 3));
    const warn = jest.spyOn(console, "warn").mockImplementation(() => undefined);
    expect(await shelf.list()).toHaveLength(1);
    warn.mockRestore();
  });

  test("cards say what is in a clip", () => {
    expect(withAbout(action(1)).card.about).toEqual({ frames: 0, curves: 1, moves: ["head"] });
  });
});

test("a map of who takes whose motion goes out and comes back; anything else is refused", () => {
  const map = { LeftArm: "upper-arm-left", Tail: null };
  expect(mapFromText(mapToText(map))).toEqual(map);
  for (const text of ["no", "{}", '{"format":"kneader-map","map":{"a":3}}', "null"]) expect(() => mapFromText(text)).toThrow(/no map/);
});
