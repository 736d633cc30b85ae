import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { advanceSpring } from "../../src/passes/spring.ts";
import { passFor, played } from "../help/passes.ts";
import { control, smallShot } from "../help/shots.ts";

// Its types are sources that this project's compiler settings refuse.
const { Solver } = jest.requireActual<{
  Solver: new (size: number) => { solve(f: (t: number, y: number[]) => number[], from: number, y: number[], to: number): { y: number[] } };
}>("odex");

/** The damped oscillator x'' = w²(goal − x) − 2ζw x' in closed form (any mechanics text), goal a step or a ramp from rest at 0. */
function closedForm(input: "step" | "ramp", size: number, frequency: number, damping: number, t: number): number {
  const w = 2 * Math.PI * frequency;
  const goal = input === "step" ? size : size * t - (2 * damping * size) / w;
  // x = goal + free motion with x(0) = 0, x'(0) = 0.
  const x0 = input === "step" ? -size : (2 * damping * size) / w;
  const v0 = input === "step" ? 0 : -size;
  if (damping === 1) return goal + Math.exp(-w * t) * (x0 + (v0 + w * x0) * t);
  const decay = Math.exp(-damping * w * t);
  if (damping < 1) {
    const wd = w * Math.sqrt(1 - damping * damping);
    return goal + decay * (x0 * Math.cos(wd * t) + ((v0 + damping * w * x0) / wd) * Math.sin(wd * t));
  }
  const wd = w * Math.sqrt(damping * damping - 1);
  return goal + decay * (x0 * Math.cosh(wd * t) + ((v0 + damping * w * x0) / wd) * Math.sinh(wd * t));
}

describe("follow-through against the closed form of the damped oscillator", () => {
  test.each([24, 30, 60].flatMap((fps) => [0.15, 0.6, 1, 1.8].map((damping) => [fps, damping] as const)))(
    "at %p frames a second and damping %p, step and ramp are met within 0.1 %% at every frame",
    (fps, damping) => {
      for (const input of ["step", "ramp"] as const) {
        // The step happens within the first frame of the shot; from there on the goal is level, or rises evenly.
        const goal: Curve = curveFrom(
          input === "step"
            ? [
                [0, 0],
                [1, 40],
                [2, 40],
              ]
            : [
                [0, 0],
                [121, 121 * (90 / fps)],
              ],
          Tangent.linear,
        );
        const shot = smallShot(
          { "spine.rotateX": goal },
          {
            rate: { num: fps, den: 1 },
            range: { start: 0, end: 120 },
            passes: [
              passFor(
                "follow-through",
                { how: "channels", stiffness: 1.7, damping: damping * 100, warmUp: 0 },
                { members: ["spine.rotateX"] },
              ),
            ],
          },
        );
        const values = played(shot, "spine.rotateX");
        const size = input === "step" ? 40 : 90;
        // A step spread over the first frame is a ramp for that frame and a level goal after it.
        const want = (n: number) =>
          input === "ramp"
            ? closedForm("ramp", size, 1.7, damping, n / fps)
            : closedForm("ramp", 40 * fps, 1.7, damping, n / fps) - (n > 1 ? closedForm("ramp", 40 * fps, 1.7, damping, (n - 1) / fps) : 0);
        values.forEach((value, n) => {
          expect(Math.abs(value - want(n))).toBeLessThan(1e-3 * size);
        });
      }
    },
  );

  test("the spring itself meets a sudden step exactly, and odex integrating the same equation", () => {
    for (const damping of [0.2, 1, 2.5]) {
      const state = { at: Float64Array.of(0), speed: Float64Array.of(0) };
      for (let n = 1; n <= 60; n++) {
        advanceSpring(state, { frequency: 2, damping }, [1], [1], 1 / 24);
        expect(state.at[0]).toBeCloseTo(closedForm("step", 1, 2, damping, n / 24), 10);
      }
      const w = 4 * Math.PI;
      const equation = (_t: number, [x, v]: number[]) => [v, w * w * (1 - x) - 2 * damping * w * v];
      const found = new Solver(2).solve(equation, 0, [0, 0], 60 / 24).y;
      expect(state.at[0]).toBeCloseTo(found[0], 4);
    }
  });
});

const rig = {
  id: "r",
  name: "R",
  figure: null,
  controls: [
    control("root", null, [0, 1, 0]),
    control("tail-1", "root", [0, 0, -0.1]),
    control("tail-2", "tail-1", [0, 0, -0.3]),
    control("tail-3", "tail-2", [0, 0, -0.3]),
  ],
};
const tail = ["tail-1", "tail-2", "tail-3"].flatMap((id) => ["rotateX", "rotateY", "rotateZ"].map((channel) => `${id}.${channel}`));
const turning = curveFrom([
  [1, 0],
  [9, 60],
  [17, -40],
  [25, 0],
]);
const shot = (pass: Pass | null, base: Record<string, Curve> = { "root.rotateY": turning }) =>
  smallShot(base, { rig, range: { start: 1, end: 49 }, passes: pass ? [pass] : [] });
const swing = (settings: object = {}, more: Partial<Pass> = {}) =>
  passFor("follow-through", { stiffness: 2, damping: 30, ...settings }, { members: tail, ...more });

/** Direction of a link in the world, as an angle about the vertical. */
const headings = (s: Shot, id: string) => {
  const player = makePlayer(s);
  const i = player.controlIndex.get(id) as number;
  return Array.from({ length: 49 }, (_, n) => {
    player.pose(1 + n);
    return Math.atan2(player.worlds[i * 16 + 8], player.worlds[i * 16 + 10]) * (180 / Math.PI);
  });
};
const peakOf = (values: number[]) => values.indexOf(Math.max(...values));

describe("follow-through on a chain", () => {
  test("it trails behind what turns its parent, later down the chain, and comes to rest where the motion below is", () => {
    const peaks = ["tail-1", "tail-2", "tail-3"].map((id) => peakOf(headings(shot(swing()), id)));
    expect(peakOf(headings(shot(null), "tail-1"))).toBe(8);
    expect(peaks[0]).toBeGreaterThan(8);
    expect(peaks[1]).toBeGreaterThan(peaks[0]);
    expect(peaks[2]).toBeGreaterThan(peaks[1]);
    const far = headings(shot(swing({ damping: 90, stiffness: 5 })), "tail-3");
    expect(Math.abs(far[48])).toBeLessThan(0.5);
  });

  test("it swings when the chain is only moved, and keeps its lengths", () => {
    const moved = {
      "root.moveX": curveFrom([
        [1, 0],
        [9, 1.5],
        [49, 1.5],
      ]),
    };
    const player = makePlayer(shot(swing(), moved));
    let most = 0;
    for (let frame = 1; frame <= 49; frame++) {
      player.pose(frame);
      const at = (id: string) => [12, 13, 14].map((k) => player.worlds[(player.controlIndex.get(id) as number) * 16 + k]);
      const [a, b] = [at("tail-2"), at("tail-3")];
      expect(Math.hypot(...a.map((v, k) => v - b[k]))).toBeCloseTo(0.3, 9);
      most = Math.max(most, Math.abs(a[0] - b[0]));
    }
    expect(most).toBeGreaterThan(0.05);
  });

  test("strength scales it, 0 is the motion below, and so is a pass turned down or removed, bit for bit", () => {
    const still = headings(shot(null), "tail-2");
    expect(headings(shot(swing({ strength: 0 })), "tail-2")).toEqual(still);
    expect(headings(shot(swing({}, { weight: constantCurve(0) })), "tail-2")).toEqual(still);
    const off = (percent: number) =>
      Math.max(...headings(shot(swing({ strength: percent })), "tail-1").map((v, i) => Math.abs(v - headings(shot(null), "tail-1")[i])));
    expect(off(50)).toBeLessThan(off(100));
    expect(off(150)).toBeGreaterThan(off(100));
  });
});

describe("follow-through that goes round", () => {
  test.each(["tips", "channels"] as const)(
    "a looped walk with a tail stays looped (%p): value and slope meet within a thousandth of the range",
    (how) => {
      const cycle = curveFrom(
        [
          [1, 0],
          [7, 25],
          [13, 0],
          [19, -25],
          [25, 0],
        ],
        Tangent.smooth,
      );
      const round = { ...cycle, runIn: { kind: "repeat" as const, rounds: 0 }, runOut: { kind: "repeat" as const, rounds: 0 } };
      const base = {
        "root.rotateY": round,
        "tail-1.rotateY": round,
        "root.moveZ": curveFrom(
          [
            [1, 0],
            [25, 1],
          ],
          Tangent.linear,
        ),
      };
      const looped: Shot = { ...shot(swing({ loop: true, how }), base), range: { start: 1, end: 25 } };
      for (const key of ["tail-1.rotateY", ...(how === "tips" ? ["tail-3.rotateY"] : [])]) {
        const values = played(looped, key);
        const range = Math.max(...values) - Math.min(...values);
        expect(range).toBeGreaterThan(1);
        expect(Math.abs(values[24] - values[0])).toBeLessThan(1e-3 * range);
        // Going round it again from the seam changes nothing: the spring is where it was, and as fast.
        const twice: Shot = { ...looped, range: { start: 1, end: 49 } };
        const long = played(
          {
            ...twice,
            base: {
              ...base,
              "root.moveZ": curveFrom(
                [
                  [1, 0],
                  [49, 2],
                ],
                Tangent.linear,
              ),
            },
            passes: [swing({ loop: true, how })],
          },
          key,
        );
        expect(Math.abs(long[25] - values[1])).toBeLessThan(1e-3 * range);
      }
    },
  );

  test("left and right are made to differ on purpose", () => {
    const pair = smallShot(
      { "root.rotateY": turning },
      {
        passes: [
          passFor(
            "follow-through",
            { vary: 20, stiffness: 2 },
            {
              members: [
                "arm-left.rotateX",
                "arm-left.rotateY",
                "arm-left.rotateZ",
                "arm-right.rotateX",
                "arm-right.rotateY",
                "arm-right.rotateZ",
              ],
            },
          ),
        ],
      },
    );
    const left = played(pair, "arm-left.rotateY");
    const right = played(pair, "arm-right.rotateY");
    expect(left.some((value, i) => Math.abs(value - right[i]) > 0.5)).toBe(true);
  });
});
