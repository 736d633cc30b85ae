import type { Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { NO_FILTER } from "../src/bench/rack/channels/channelFilter.ts";
import { channelRows, type ListState } from "../src/bench/rack/channels/channelRows.ts";

const hop = demoShots[1].make() as Shot;
const state: ListState = { curves: hop.base, picked: [], locked: new Set(), shown: new Set(), folds: new Map() };
const rows = (filter: Partial<typeof NO_FILTER> = {}, more: Partial<ListState> = {}) =>
  channelRows(hop.rig.controls, { ...NO_FILTER, ...filter }, { ...state, ...more }).map((row) => row.id);

test("folded, the list is the rig's controls", () => {
  expect(rows()).toEqual(hop.rig.controls.map(({ id }) => id));
});

test("a picked control, and one whose curves are drawn, stand open", () => {
  expect(rows({}, { picked: ["head"] })).toEqual(expect.arrayContaining(["head.rotateX", "head.rotateZ"]));
  expect(rows({}, { shown: new Set(["tail-2.rotateY"]) })).toContain("tail-2.rotateY");
});

test("folding by hand wins over opening by itself", () => {
  expect(rows({}, { picked: ["head"], folds: new Map([["head", false]]) })).not.toContain("head.rotateX");
  expect(rows({}, { folds: new Map([["hips", true]]) })).toContain("hips.moveY");
});

test("a filter by words lists what it finds, opened, and leaves out controls without any", () => {
  expect(rows({ words: "tail 2 rot y" })).toEqual(["tail-2", "tail-2.rotateY"]);
  expect(rows({ words: "no such" })).toEqual([]);
});

test("only what is unlocked", () => {
  const locked = new Set(["head.rotateX", "head.rotateY", "head.rotateZ"]);
  expect(rows({ unlocked: true }, { locked })).not.toContain("head");
});
