import { catalogue, operationById, settingsSchema } from "../../src/operations/catalogue.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { missingFor } from "../../src/operations/needs.ts";
import { type Situation, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { passFor } from "../help/passes.ts";
import { movingShot, passOf } from "../help/shots.ts";

const standing = (more: Partial<Situation> = {}): Situation => ({
  shot: movingShot(),
  scope: WHOLE_FIGURE,
  frame: 17,
  copiedPose: null,
  copiedKeys: null,
  poseShare: 0.5,
  ...more,
});
const proposed = (id: string, at = standing()) => operationById(id).situation?.(at) as Record<string, unknown> | undefined;

test.each(catalogue.map(({ id }) => id))("%s proposes only settings it has, and such as it takes", (id) => {
  const operation = operationById(id);
  const copiedKeys = liftKeys(movingShot(), WHOLE_FIGURE);
  const passes = [passFor("stepping", { pattern: [2] }), passFor("tremor", { rotate: 3 })];
  const { properties = {} } = settingsSchema(operation) as { properties?: Record<string, { default?: unknown }> };
  for (const layer of ["base", "stepping", "tremor"]) {
    const at = standing({ shot: movingShot({ passes }), scope: { ...WHOLE_FIGURE, layer }, copiedKeys, copiedPose: 5 });
    const given = operation.situation?.(at) ?? {};
    for (const name of Object.keys(given)) expect(Object.keys(properties)).toContain(name);
    const refused = operation.settings.safeParse(given).error?.issues ?? [];
    // What is chosen from the pantry cannot be known.
    expect(refused.filter(({ path }) => path[0] !== "action")).toEqual([]);
  }
});

test("what is about a frame begins at the playhead", () => {
  expect(proposed("insert-hold")).toEqual({ at: 17, frames: 12 });
  expect(proposed("paste-pose", standing({ copiedPose: 5 }))).toEqual({ from: 5, to: 17 });
  expect(proposed("scale-values")).toEqual({ frame: 17 });
});

test("what is about a gap or a pose opens with the one at the playhead, or what is picked; a hold lasts as long as its gap", () => {
  // Poses at 1, 13, 25 and 49.
  expect(proposed("set-gap")).toEqual({ from: 13, to: 25, gap: 12 });
  expect(proposed("set-gap", standing({ frame: 25 }))).toEqual({ from: 25, to: 49, gap: 24 });
  expect(proposed("set-gap", standing({ frame: 49 }))).toEqual({ from: 25, to: 49, gap: 24 });
  expect(proposed("set-gap", standing({ pickedGaps: [1] }))).toEqual({ from: 1, to: 13, gap: 12 });
  expect(proposed("set-gap", standing({ pickedPoses: [49, 13] }))).toEqual({ from: 13, to: 49, gap: 36 });
  expect(proposed("move-pose")).toEqual({ at: 13, to: 17, share: 50 });
  expect(proposed("move-pose", standing({ pickedPoses: [25] }))).toEqual({ at: 25, to: 17, share: 50 });
  expect(proposed("swap-poses")).toEqual({ one: 13, other: 25 });
  expect(proposed("swap-poses", standing({ frame: 50 }))).toEqual({ one: 49, other: 25 });
  expect(proposed("swap-poses", standing({ pickedPoses: [1, 49] }))).toEqual({ one: 1, other: 49 });
  expect(proposed("insert-hold", standing({ frame: 25 }))).toEqual({ at: 25, frames: 24 });
  // At the last key as long as the gap before.
  expect(proposed("insert-hold", standing({ frame: 49 }))).toEqual({ at: 49, frames: 24 });
  expect(proposed("stretch", standing({ scope: { ...WHOLE_FIGURE, range: { start: 13, end: 25 } } }))).toEqual({ about: 13 });
});

test("the timing is the one there is, to be typed over", () => {
  expect(proposed("set-timing")).toEqual({ list: "12 12 24", share: 50 });
});

test("copied keys go to the playhead, copied curves to where they were", () => {
  const keys = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [13] } };
  expect(proposed("paste-keys", standing({ copiedKeys: liftKeys(movingShot(), keys) }))).toMatchObject({ at: 17, place: "merge" });
  expect(proposed("paste-keys", standing({ copiedKeys: liftKeys(movingShot(), WHOLE_FIGURE) }))).toMatchObject({ at: 1, place: "whole" });
});

test("a chosen computed pass shows its own settings, and no other pass's", () => {
  const shot = movingShot({ passes: [passFor("tremor", { rotate: 7 })] });
  expect(proposed("tremor", standing({ shot, scope: { ...WHOLE_FIGURE, layer: "tremor" } }))).toMatchObject({ rotate: 7 });
  expect(proposed("lag", standing({ shot, scope: { ...WHOLE_FIGURE, layer: "tremor" } }))).toEqual({});
});

test("an operation says what it needs and does not find", () => {
  const missing = (id: string, more: Partial<Situation> = {}) => missingFor(operationById(id), standing(more));
  expect(missing("bake-passes")).toEqual(["a pass that is on"]);
  expect(missing("bake-passes", { shot: movingShot({ passes: [passOf("adds", {})] }) })).toEqual([]);
  expect(missing("paste-keys")).toEqual(["copied keys"]);
  expect(missing("bake-down")).toEqual(["something that is led"]);
  expect(missing("follow-through", { scope: { ...WHOLE_FIGURE, controls: ["spine"] } })).toEqual([]);
  expect(missing("simplify")).toEqual([]);
});
