import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { channelLabel, channelTitle, channelUnit, restValue, splitChannelKey } from "../../src/model/rig.ts";
import { countKeys, layerCurves, withLayerCurves } from "../../src/model/shot.ts";
import { framesPerSecond, rateFromFps } from "../../src/model/rate.ts";
import { allCurves, mapCurves } from "../../src/model/shotFields.ts";
import { type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { keyTimes } from "../../src/operations/poses/poses.ts";
import {
  byControl,
  changeCurves,
  isWholeFigure,
  report,
  scopedChannels,
  scopedKeys,
  wantedChannels,
} from "../../src/operations/shared/scope.ts";
import { movingShot, passOf } from "../help/shots.ts";

const shot = movingShot({ passes: [passOf("adds", { "spine.rotateX": constantCurve(1) }, { id: "p" })] });
const scope = (more: Partial<Scope>): Scope => ({ ...WHOLE_FIGURE, ...more });

describe("channels in scope", () => {
  test("the whole figure: every curve of the layer, in the rig's order", () => {
    expect(scopedChannels(shot, WHOLE_FIGURE)).toEqual([
      "root.moveX",
      "root.rotateY",
      "spine.rotateX",
      "arm-left.rotateZ",
      "hand-left.rotateX",
      "arm-right.rotateZ",
    ]);
    expect(scopedChannels(shot, scope({ layer: "p" }))).toEqual(["spine.rotateX"]);
  });

  test("narrowed to controls, to channels, to picked keys, and to what they share", () => {
    expect(scopedChannels(shot, scope({ controls: ["root"] }))).toEqual(["root.moveX", "root.rotateY"]);
    expect(scopedChannels(shot, scope({ channels: ["root.moveX", "spine.rotateX"] }))).toEqual(["root.moveX", "spine.rotateX"]);
    expect(scopedChannels(shot, scope({ controls: ["root"], channels: ["spine.rotateX"] }))).toEqual([]);
    expect(scopedChannels(shot, scope({ keys: { "spine.rotateX": [13] } }))).toEqual(["spine.rotateX"]);
  });

  test("wanted channels are there with or without a curve", () => {
    expect(wantedChannels(shot, scope({ controls: ["spine"] }))).toHaveLength(6);
  });

  test("only the figure as a whole, in base motion, takes the timing of everything along", () => {
    expect(isWholeFigure(scope({ range: { start: 1, end: 2 } }))).toBe(true);
    for (const narrowed of [{ controls: ["root"] }, { channels: [] }, { keys: {} }, { layer: "p" }])
      expect(isWholeFigure(scope(narrowed))).toBe(false);
  });

  test("gathered by control", () => {
    expect([...byControl(["a.x", "b.x", "a.y"])]).toEqual([
      ["a", ["a.x", "a.y"]],
      ["b", ["b.x"]],
    ]);
  });
});

describe("keys in scope", () => {
  const curve = shot.base["spine.rotateX"];

  test("all, those of a range, those picked", () => {
    expect(scopedKeys(curve, "spine.rotateX", WHOLE_FIGURE)).toEqual([0, 1, 2, 3]);
    expect(scopedKeys(curve, "spine.rotateX", scope({ range: { start: 13, end: 25 } }))).toEqual([1, 2]);
    expect(scopedKeys(curve, "spine.rotateX", scope({ keys: { "spine.rotateX": [25, 49.0000001, 12] } }))).toEqual([2, 3]);
  });
});

describe("reports", () => {
  test("count keys of all layers and the curves that changed", () => {
    const after = changeCurves(shot, "base", { "spine.rotateX": null, "root.moveX": curveFrom([[1, 0]]) });
    const said = report(shot, after, "done");
    expect(said).toMatchObject({ keysBefore: 22, keysAfter: 15, curvesChanged: 2, drift: null, warnings: [] });
    expect("spine.rotateX" in after.base).toBe(false);
  });
});

describe("shots", () => {
  test("every curve is listed once, with where it stands", () => {
    const places = [...allCurves(shot)].map(([where]) => where);
    expect(new Set(places).size).toBe(places.length);
    expect(places).toEqual(expect.arrayContaining(["base/spine.rotateX", "pass/p/weight", "pass/p/spine.rotateX"]));
  });

  test("mapping curves keeps those that are returned as they are", () => {
    const same = mapCurves(shot, (curve) => curve);
    expect(same).toEqual(shot);
    expect(same.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
  });

  test("layers are read and written by name", () => {
    expect(countKeys(layerCurves(shot, "p"))).toBe(1);
    expect(layerCurves(shot, "gone")).toEqual({});
    expect(withLayerCurves(shot, "p", {}).passes[0].curves).toEqual({});
    expect(withLayerCurves(shot, "p", {}).base).toBe(shot.base);
  });

  test("key times of some channels, each once, in order", () => {
    expect(keyTimes(shot, "base", ["spine.rotateX", "root.rotateY", "nothing.x"])).toEqual([1, 13, 25, 49]);
  });

  test.each([
    [24, { num: 24, den: 1 }],
    [23.976023976, { num: 24000, den: 1001 }],
    [29.97002997, { num: 30000, den: 1001 }],
    [120, { num: 120, den: 1 }],
    [12.5, { num: 1250, den: 100 }],
  ])("%p frames a second is an exact ratio", (fps, rate) => {
    expect(rateFromFps(fps)).toEqual(rate);
    expect(framesPerSecond(rateFromFps(fps))).toBeCloseTo(fps, 4);
  });
});

describe("channels", () => {
  test.each([
    ["rotateX", "degrees", 0, "rotate X"],
    ["moveZ", "length", 0, "move Z"],
    ["scaleY", "factor", 1, "scale Y"],
    ["raise", "number", 0, "raise"],
  ])("%s", (channel, unit, rest, label) => {
    expect([channelUnit(channel), restValue(channel), channelLabel(channel)]).toEqual([unit, rest, label]);
  });

  test("keys are taken apart at their last dot, titles are for people", () => {
    expect(splitChannelKey("tail.2.rotateX")).toEqual({ control: "tail.2", channel: "rotateX" });
    expect(channelTitle(shot.rig, "arm-left.rotateZ")).toBe("arm left rotate Z");
    expect(channelTitle(shot.rig, "gone.rotateZ")).toBe("gone rotate Z");
  });
});
