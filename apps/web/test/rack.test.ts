import { curveFrom, operationById, type Shot, splitChannelKey } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { matchesWords } from "../src/bench/rack/channels/channelFilter.ts";
import { shownChannels } from "../src/bench/rack/curves/shownCurves.ts";
import { layGaps, layPoses, PICTURE_WIDTH } from "../src/bench/rack/poses/layPoses.ts";
import { sayScope } from "../src/bench/sayScope.ts";
import { scopeOf } from "../src/bench/selection.ts";
import { fitTime, frameAt, panTime, rulerTicks, useTimeAxis, xOf, zoomTime } from "../src/bench/timeAxis.ts";

const hop = demoShots[1].make() as Shot;
const poses = (frames: number[]) => frames.map((frame) => ({ frame, controls: 10 }));

/** An axis on which a frame is so many pixels, from `start` on. */
const axisOf = (pixels: number, width: number, start = 0) => ({ start, end: start + width / pixels, width });

describe("the pose tray", () => {
  test("pictures never overlap, however many poses there are", () => {
    for (const every of [1, 2, 3, 7, 20]) {
      const list = poses(Array.from({ length: 200 }, (_, i) => 1 + i * every));
      const placed = layPoses(list, axisOf(4, 900), 41)
        .flatMap(({ picture }) => (picture === null ? [] : [picture]))
        .sort((a, b) => a - b);
      for (let i = 1; i < placed.length; i++) expect(placed[i] - placed[i - 1]).toBeGreaterThanOrEqual(PICTURE_WIDTH);
      expect(placed.length).toBeGreaterThan(0);
    }
  });

  test("the chosen pose and both ends keep their pictures", () => {
    const placed = layPoses(poses([1, 2, 3, 4, 5, 60]), axisOf(10, 700), 4);
    expect(placed.filter(({ picture }) => picture !== null).map(({ frame }) => frame)).toEqual([4, 60]);
    expect(placed).toHaveLength(6);
  });

  test("poses too close to be told apart have no gaps, and dots only below their pictures", () => {
    const dense = poses(Array.from({ length: 2752 }, (_, i) => i + 1));
    expect(layGaps(dense, axisOf(0.24, 680))).toEqual([]);
    const placed = layPoses(dense, axisOf(0.24, 680), 1400);
    expect(placed.length).toBeLessThan(20);
    expect(placed.map(({ frame }) => frame)).toContain(1400);
    // Panned by a few frames, the same poses keep their pictures.
    const before = layPoses(dense, axisOf(0.24, 680, 100), 1).map(({ frame }) => frame);
    const after = layPoses(dense, axisOf(0.24, 680, 107), 1).map(({ frame }) => frame);
    expect(after.filter((frame) => before.includes(frame)).length).toBeGreaterThanOrEqual(before.length - 1);
    expect(layGaps(dense, axisOf(30, 680)).length).toBeGreaterThan(20);
  });

  test("gaps lie between neighbours, those out of sight are left out", () => {
    const gaps = layGaps(poses([1, 5, 11, 90]), axisOf(10, 500, 6));
    expect(gaps.map(({ from, to, width }) => [from, to, width])).toEqual([
      [5, 11, 60],
      [11, 90, 790],
    ]);
  });
});

describe("the time axis", () => {
  beforeEach(() => useTimeAxis.setState({ start: 0, end: 100, width: 1000 }));

  test("frames and pixels are each other's inverse", () => {
    const axis = useTimeAxis.getState();
    for (const frame of [-20, 0, 33.3, 100]) expect(frameAt(axis, xOf(axis, frame))).toBeCloseTo(frame, 9);
  });

  test("zooming keeps the frame under the pointer where it is", () => {
    const before = xOf(useTimeAxis.getState(), 30);
    zoomTime(30, 0.4);
    expect(xOf(useTimeAxis.getState(), 30)).toBeCloseTo(before, 6);
    expect(useTimeAxis.getState().end - useTimeAxis.getState().start).toBeCloseTo(40, 9);
  });

  test("zooming has an end at both sides", () => {
    for (let i = 0; i < 60; i++) zoomTime(50, 0.5);
    expect(useTimeAxis.getState().end - useTimeAxis.getState().start).toBeGreaterThanOrEqual(4);
    for (let i = 0; i < 90; i++) zoomTime(50, 2);
    expect(useTimeAxis.getState().end - useTimeAxis.getState().start).toBeLessThanOrEqual(200000);
  });

  test("panning and fitting", () => {
    panTime(12);
    expect(useTimeAxis.getState().start).toBe(12);
    fitTime(1, 49);
    const { start, end } = useTimeAxis.getState();
    expect(start).toBeLessThan(1);
    expect(end).toBeGreaterThan(49);
  });

  test("the ruler writes whole frames", () => {
    for (const span of [5, 30, 700, 20000]) {
      const ticks = rulerTicks({ start: 0.5, end: 0.5 + span, width: 600 });
      expect(ticks.every(Number.isInteger)).toBe(true);
      expect(ticks.length).toBeLessThan(30);
    }
  });
});

const none: ReadonlySet<string> = new Set();

describe("what is shown and what is in scope", () => {
  test("words are found in any order and case", () => {
    expect(matchesWords("Tail 2 rotate Y", "rot tail y")).toBe(true);
    expect(matchesWords("Tail 2 rotate Y", "tail x")).toBe(false);
    expect(matchesWords("Tail 2 rotate Y", "  ")).toBe(true);
  });

  test("with nothing picked the tray shows the rotations of one lively control", () => {
    const shown = shownChannels(hop, "base", [], [], none);
    expect(shown).toHaveLength(3);
    expect(new Set(shown.map((key) => key.split(".")[0])).size).toBe(1);
  });

  test("picked controls and channels are what is shown, as far as they have keys", () => {
    expect(shownChannels(hop, "base", ["hips"], [], none)).toContain("hips.moveY");
    expect(shownChannels(hop, "base", ["hips"], ["hips.rotateX", "hips.scaleX"], none)).toEqual(["hips.rotateX"]);
    expect(shownChannels(hop, "pass-1", ["hips"], [], none)).toEqual([]);
  });

  test("the scope is said in words", () => {
    const none = { controls: [], channels: [], keys: {}, range: null, layer: "base" };
    const everything = Object.keys(hop.base).length;
    const scenery = hop.rig.controls.filter(({ role }) => role === "set" || role === "camera").map(({ id }) => id);
    const ofFigure = Object.keys(hop.base).filter((key) => !scenery.includes(splitChannelKey(key).control)).length;
    expect(ofFigure).toBeLessThan(everything);
    expect(sayScope(hop, scopeOf(none))).toBe(`Whole figure · ${ofFigure} curves`);
    expect(sayScope(hop, scopeOf({ ...none, everything: true }))).toBe(`Everything in the shot · ${everything} curves`);
    expect(sayScope(hop, scopeOf({ ...none, controls: ["hook"] }))).toBe("Hook · never keyed");
    expect(sayScope(hop, scopeOf({ ...none, controls: ["tail-2"], range: { start: 6, end: 16 } }))).toBe("Tail 2 · 3 curves · frames 6–16");
    const range = { start: 6, end: 16 };
    expect(sayScope(hop, scopeOf({ ...none, range }), operationById("set-timing"))).toBe(`Whole figure · ${ofFigure} curves`);
    expect(sayScope(hop, scopeOf({ ...none, controls: ["tail-2"] }))).toBe("Tail 2 · 3 curves");
    expect(sayScope(hop, scopeOf({ ...none, controls: ["tail-1", "tail-2", "tail-3"] }))).toBe("Tail 1 and 2 more · 9 curves");
    expect(sayScope(hop, scopeOf({ ...none, keys: { "tail-2.rotateX": [1, 6], "tail-2.rotateY": [1] } }))).toBe("3 keys on 2 curves");
    expect(scopeOf({ ...none, keys: { "tail-2.rotateX": [] } }).keys).toBeNull();
  });

  test("a shot without curves still says something", () => {
    const bare = { ...hop, base: { "hips.rotateX": curveFrom([[1, 0]]) } };
    expect(sayScope(bare, scopeOf({ controls: [], channels: [], keys: {}, range: null, layer: "base" }))).toBe("Whole figure · 1 curve");
  });
});
