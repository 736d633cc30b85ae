import { type Curve, type RunKind, Tangent } from "../../src/curve/curve.ts";
import { bakeRounds } from "../../src/curve/loop.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";

const cycle = curveFrom([
  [1, 0],
  [5, 4],
  [9, -2],
  [13, 1],
]);
const withRuns = (curve: Curve, kind: RunKind, rounds = 0): Curve => ({ ...curve, runOut: { kind, rounds }, runIn: { kind, rounds } });

describe("run-in and run-out", () => {
  test("repeat plays the keyed span again and again", () => {
    const curve = withRuns(cycle, "repeat");
    // A seam belongs to the round that ends there, so the seams of this open cycle are left out.
    for (let t = 13.25; t < 60; t += 0.5) expect(sampleCurve(curve, t)).toBeCloseTo(sampleCurve(cycle, 1 + ((t - 1) % 12)), 9);
    for (let t = 0.75; t > -40; t -= 0.5) expect(sampleCurve(curve, t)).toBeCloseTo(sampleCurve(cycle, 13 - ((13 - t) % 12)), 9);
  });

  test("repeat and travel starts each round where the last one ended", () => {
    const curve = withRuns(cycle, "travel");
    expect(sampleCurve(curve, 13)).toBe(1);
    expect(sampleCurve(curve, 17)).toBeCloseTo(5, 9);
    expect(sampleCurve(curve, 25)).toBeCloseTo(2, 9);
    expect(sampleCurve(curve, -11)).toBeCloseTo(-1, 9);
    expect(sampleCurve(curve, -11 - 12)).toBeCloseTo(-2, 9);
  });

  test("ping-pong goes there and back", () => {
    const curve = withRuns(cycle, "pingpong");
    for (let d = 0.5; d < 12; d += 0.5) {
      expect(sampleCurve(curve, 13 + d)).toBeCloseTo(sampleCurve(cycle, 13 - d), 9);
      expect(sampleCurve(curve, 25 + d)).toBeCloseTo(sampleCurve(cycle, 1 + d), 9);
      expect(sampleCurve(curve, 1 - d)).toBeCloseTo(sampleCurve(cycle, 1 + d), 9);
    }
  });

  test("straight goes on along the last tangent", () => {
    const line = withRuns(
      curveFrom(
        [
          [0, 0],
          [10, 5],
        ],
        Tangent.linear,
      ),
      "straight",
    );
    expect(sampleCurve(line, 30)).toBeCloseTo(15, 9);
    expect(sampleCurve(line, -4)).toBeCloseTo(-2, 9);
  });

  test("a stated number of rounds ends in a hold", () => {
    const twice = withRuns(cycle, "travel", 2);
    const end = sampleCurve(twice, 13 + 24);
    expect(end).toBeCloseTo(3, 9);
    expect(sampleCurve(twice, 500)).toBe(end);
    expect(sampleCurve(withRuns(cycle, "pingpong", 1), 400)).toBe(0);
    expect(sampleCurve(withRuns(cycle, "repeat", 1), -400)).toBe(0);
  });
});

describe("baking rounds to keys", () => {
  const closed = curveFrom([
    [1, 0],
    [5, 4],
    [9, -2],
    [13, 0],
  ]);

  test.each<[RunKind, "in" | "out"]>([
    ["repeat", "out"],
    ["repeat", "in"],
    ["travel", "out"],
    ["travel", "in"],
    ["pingpong", "out"],
    ["pingpong", "in"],
  ])("%s on the %s side keeps the curve at every tenth of a frame", (kind, side) => {
    const source = kind === "repeat" ? closed : cycle;
    const curve = withRuns(source, kind, 3);
    const baked = bakeRounds(curve, side, 3);
    expect(baked.times.length).toBeGreaterThan(source.times.length * 3);
    const [from, to] = side === "out" ? [1, 13 + 36] : [1 - 36, 13];
    for (let t = from; t <= to; t += 0.1) expect(Math.abs(sampleCurve(baked, t) - sampleCurve(curve, t))).toBeLessThan(1e-9);
    expect((side === "out" ? baked.runOut : baked.runIn).kind).toBe("hold");
  });

  test("where rounds meet with a jump every whole frame still shows what it showed", () => {
    const open = withRuns(cycle, "repeat", 2);
    const baked = bakeRounds(open, "out", 2);
    for (let frame = 1; frame <= 13 + 24; frame++)
      expect(Math.abs(sampleCurve(baked, frame) - sampleCurve(open, frame))).toBeLessThan(1e-9);
  });

  test("changes nothing where there is nothing to bake", () => {
    expect(bakeRounds(cycle, "out", 3)).toBe(cycle);
    expect(bakeRounds(withRuns(cycle, "repeat", 2), "out", 0).times.length).toBe(4);
    expect(bakeRounds(withRuns(curveFrom([[1, 2]]), "repeat", 2), "out", 2).times.length).toBe(1);
  });
});
