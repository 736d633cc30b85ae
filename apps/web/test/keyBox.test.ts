import { curveFrom, mapKeys, mapTime } from "@kneader/core";
import { dragMap, type DragRules, nearestTime, snapFrame } from "../src/bench/rack/plot/dragRules.ts";
import { boxMap, boxOf, gripAt, gripMap, gripPlace, gripsOf, placesOfPicked } from "../src/bench/rack/plot/keyBox.ts";
import { mappedPicks } from "../src/bench/rack/plot/mappedPicks.ts";

const curve = curveFrom([
  [1, 0],
  [11, 10],
  [21, -10],
  [31, 4],
]);
const curves = [{ key: "a.rotateX", curve }];
const picked = { "a.rotateX": [11, 21] };
const box = { start: 11, end: 21, low: -10, high: 10 };
const axes = { start: 0, end: 40, width: 400, low: -20, high: 20, height: 400 };
const rules: DragRules = { keepTime: false, keepValue: false, wholeFrames: true, toKeys: false };
const none = new Float64Array(0);
const drag = (
  grip: Parameters<typeof gripMap>[1],
  frames: number,
  amount: number,
  more: Partial<DragRules> = {},
  middle = false,
  keys = none,
) => gripMap(box, grip, { frames, amount }, { ...rules, ...more }, middle, keys, 2);
const mapped = (map: Parameters<typeof mapKeys>[2]) => {
  const after = mapKeys(curve, [1, 2], map);
  return { times: [...after.times], values: [...after.values].map((value) => Math.round(value * 1e6) / 1e6) };
};

describe("the box around picked keys", () => {
  test("reaches from the first to the last and from the lowest to the highest of them", () => {
    expect(boxOf(curves, picked)).toEqual(box);
    expect(boxOf(curves, { "a.rotateX": [11] })).toBeNull();
    expect(boxOf(curves, { "a.rotateX": [12, 13] })).toBeNull();
    expect(placesOfPicked({ "a.rotateX": curve }, { "a.rotateX": [11], "b.rotateX": [1] })).toEqual({
      count: 1,
      box: { start: 11, end: 11, low: 10, high: 10 },
    });
  });

  test("a press takes hold of a corner, a whole side, the inside, or nothing", () => {
    for (const grip of gripsOf(box)) {
      const { x, y } = gripPlace(box, grip, axes);
      expect(gripAt(box, x + 2, y - 2, axes)).toBe(grip);
    }
    expect(gripAt(box, 222, 250, axes)).toBe("r");
    expect(gripAt(box, 160, 200, axes)).toBe("inside");
    expect(gripAt(box, 300, 200, axes)).toBeNull();
  });

  test("has no sides to scale what has no length", () => {
    expect(gripsOf({ ...box, high: -10 })).toEqual(["l", "r"]);
    expect(gripsOf({ ...box, end: 11 })).toEqual(["t", "b"]);
  });

  test("a side scales time or value about the opposite one, a corner both", () => {
    expect(mapped(drag("r", 5, 3))).toEqual({ times: [1, 11, 26, 31], values: [0, 10, -10, 4] });
    expect(mapped(drag("l", -5, 3))).toEqual({ times: [1, 6, 21, 31], values: [0, 10, -10, 4] });
    expect(mapped(drag("t", 5, 10))).toEqual({ times: [1, 11, 21, 31], values: [0, 20, -10, 4] });
    expect(mapped(drag("b", 5, 10))).toEqual({ times: [1, 11, 21, 31], values: [0, 10, 0, 4] });
    expect(mapped(drag("br", 5, 10))).toEqual({ times: [1, 11, 26, 31], values: [0, 10, 0, 4] });
  });

  test("about the middle both sides move", () => {
    expect(mapped(drag("r", 2, 0, {}, true)).times).toEqual([1, 9, 23, 31]);
    expect(mapped(drag("t", 0, 10, {}, true)).values).toEqual([0, 20, -20, 4]);
  });

  test("values may be turned over, time may not", () => {
    expect(mapped(drag("t", 0, -40)).values).toEqual([0, -30, -10, 4]);
    const { times } = mapped(drag("r", -50, 0));
    expect(times).toEqual([1, 11, 12, 31]);
  });

  test("what is to be kept is kept", () => {
    expect(drag("br", 5, 10, { keepTime: true })).toMatchObject({ timeScale: 1, timeShift: 0 });
    expect(drag("br", 5, 10, { keepValue: true })).toMatchObject({ valueScale: 1, valueShift: 0 });
  });

  test("a side lands on a whole frame, or on a key nearby", () => {
    expect(mapped(drag("r", 3.4, 0)).times[2]).toBe(24);
    expect(mapped(drag("r", 3.4, 0, { toKeys: true }, false, Float64Array.of(25.5))).times[2]).toBe(26);
    expect(mapTime(21, drag("r", 3.4, 0, { toKeys: true, wholeFrames: false }, false, Float64Array.of(25.25)))).toBeCloseTo(25.25, 9);
    expect(mapTime(21, drag("r", 3.4, 0, { wholeFrames: false }))).toBeCloseTo(24.4, 9);
  });

  test("numbers typed take the keys from one box to the other", () => {
    expect(mapped(boxMap(box, { start: 11, end: 16, low: -10, high: 0 }, true))).toEqual({
      times: [1, 11, 16, 31],
      values: [0, 0, -10, 4],
    });
    const one = { start: 11, end: 11, low: 10, high: 10 };
    expect(boxMap(one, { start: 14, end: 14, low: 3, high: 3 }, true)).toMatchObject({
      timeScale: 1,
      timeShift: 3,
      valueScale: 1,
      valueShift: -7,
    });
  });
});

describe("dragging with care", () => {
  const by = { frames: 3.6, amount: 5 };

  test("whole frames, and what is kept", () => {
    expect(dragMap(by, 11, rules, null, none, 0)).toMatchObject({ timeShift: 4, valueShift: 5 });
    expect(dragMap(by, 11, { ...rules, wholeFrames: false }, null, none, 0).timeShift).toBeCloseTo(3.6, 12);
    expect(dragMap(by, 11, { ...rules, keepTime: true }, null, none, 0)).toMatchObject({ timeShift: 0, valueShift: 5 });
    expect(dragMap(by, 11, { ...rules, keepValue: true }, null, none, 0)).toMatchObject({ timeShift: 4, valueShift: 0 });
    expect(dragMap(by, 11, rules, "time", none, 0)).toMatchObject({ timeShift: 4, valueShift: 0 });
    expect(dragMap(by, 11, rules, "value", none, 0)).toMatchObject({ timeShift: 0, valueShift: 5 });
  });

  test("a key that lies between frames stays between them", () => {
    expect(11.25 + dragMap(by, 11.25, rules, null, none, 0).timeShift).toBe(15.25);
  });

  test("the grabbed key is drawn to a key nearby, and to none further away", () => {
    const keys = Float64Array.of(2, 15.5, 30);
    expect(11 + dragMap(by, 11, { ...rules, toKeys: true }, null, keys, 1).timeShift).toBe(15.5);
    expect(11 + dragMap(by, 11, { ...rules, toKeys: true }, null, keys, 0.5).timeShift).toBe(15);
    expect(nearestTime(keys, 16, 1)).toBe(15.5);
    expect(nearestTime(keys, 20, 1)).toBeNull();
    expect(nearestTime(none, 20, 1)).toBeNull();
    expect(snapFrame(4.2, { ...rules, toKeys: true }, keys, 1)).toBe(4);
  });

  test("picked keys stay picked where they go; those that fall together are one", () => {
    const shared = [1, 2, 3];
    const squeezed = { timeScale: 0.4, timeShift: 0, valueScale: 1, valueShift: 0, wholeFrames: true };
    const after = mappedPicks({ "a.rotateX": shared, "b.rotateX": shared }, squeezed);
    expect(after["a.rotateX"]).toEqual([0, 1]);
    expect(after["b.rotateX"]).toBe(after["a.rotateX"]);
  });
});
