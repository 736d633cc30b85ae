import * as fc from "fast-check";
import { type Curve, isBroken, keyAt, keysOf, Tangent } from "../../src/curve/curve.ts";
import { workHandles } from "../../src/curve/handles.ts";
import { curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { convertBlocking } from "../../src/operations/clean/convertBlocking.ts";
import { noContext, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { setTangents } from "../../src/operations/clean/setTangents.ts";
import { anyCurve } from "../help/random.ts";
import { movingShot, smallShot } from "../help/shots.ts";

const every = (curve: Curve) => curve.times.keys();

describe("handles", () => {
  test("broken and joined again leave the slopes they had, and breaking moves nothing", () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        const broken = workHandles(curve, every(curve), "break");
        for (const key of keysOf(broken)) expect(isBroken(key)).toBe(true);
        for (let t = curve.times[0]; t < curve.times[curve.times.length - 1]; t += 0.31)
          expect(Math.abs(sampleCurve(broken, t) - sampleCurve(curve, t))).toBeLessThan(1e-9 * 200);
        const joined = workHandles(broken, every(broken), "join");
        keysOf(curve).forEach((key, i) => {
          if (!isBroken(key)) expect(joined.slopeIn[i]).toBeCloseTo(key.slopeIn, 9);
          if (joined.kindOut[i] !== Tangent.stepped) expect(isBroken(keyAt(joined, i))).toBe(false);
        });
      }),
    );
  });

  test("joined, a corner gets one slope between the two", () => {
    const corner = curveFrom(
      [
        [1, 0],
        [5, 8],
        [9, 0],
      ],
      Tangent.linear,
    );
    const joined = workHandles(corner, [1], "join");
    expect([joined.slopeIn[1], joined.slopeOut[1]]).toEqual([0, 0]);
    expect(joined.kindIn[0]).toBe(Tangent.linear);
  });

  test("evened, both are equally long in frames and stay within their segments; a third is no weight", () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        const even = workHandles(curve, every(curve), "even");
        for (let i = 1; i + 1 < even.times.length; i++) {
          const before = even.weightIn[i] * (even.times[i] - even.times[i - 1]);
          const after = even.weightOut[i] * (even.times[i + 1] - even.times[i]);
          expect(before).toBeCloseTo(after, 9);
          expect(Math.max(even.weightIn[i], even.weightOut[i])).toBeLessThanOrEqual(1 + 1e-12);
        }
        const plain = workHandles(even, every(even), "thirds");
        expect(new Set([...plain.weightIn, ...plain.weightOut])).toEqual(new Set([1 / 3]));
      }),
    );
  });

  test("the operation does both, kind and handles, and refuses to do nothing", async () => {
    const shot = movingShot();
    const settings = { kind: "smooth", side: "both", handles: "break" } as const;
    const { shot: after, report } = await setTangents.run(shot, { ...WHOLE_FIGURE, controls: ["root"] }, settings, noContext);
    expect(report.summary).toMatch(/keys made smooth, handles broken$/);
    expect(isBroken(keyAt(after.base["root.moveX"], 1))).toBe(true);
    const nothing = { kind: "keep", side: "both", handles: "keep" } as const;
    await expect(setTangents.run(shot, WHOLE_FIGURE, nothing, noContext)).rejects.toThrow(/neither a kind of tangent nor work/);
  });
});

describe("stepped blocking and curves", () => {
  const blocked = (pairs: [number, number][]) => curveFrom(pairs, Tangent.stepped);
  const shot = smallShot(
    {
      "root.moveX": blocked([
        [1, 0],
        [9, 4],
        [17, 4],
      ]),
      "spine.rotateX": curveFrom([
        [1, 0],
        [17, 30],
      ]),
      "hand-left.rotateX": blocked([[1, 5]]),
      "arm-left.rotateZ": blocked([
        [1, 5],
        [9, 50],
      ]),
    },
    { locked: ["arm-left.rotateZ"] },
  );

  test("every control at once, holds stay level, and those left out are named with the reason", async () => {
    const { shot: after, report } = await convertBlocking.run(shot, WHOLE_FIGURE, { to: "curves", kind: "auto" }, noContext);
    expect(after.base["root.moveX"].kindOut).not.toContain(Tangent.stepped);
    const onTheWay = sampleCurve(after.base["root.moveX"], 5);
    expect(onTheWay > 1 && onTheWay < 3).toBe(true);
    for (const t of [10, 13, 16]) expect(sampleCurve(after.base["root.moveX"], t)).toBe(4);
    expect(after.base["arm-left.rotateZ"]).toBe(shot.base["arm-left.rotateZ"]);
    expect(report.notes.join(" ")).toContain("Already curves: spine.");
    expect(report.notes.join(" ")).toContain("Locked: arm left.");
    expect(report.notes.join(" ")).toContain("With one key only: hand left.");
    expect(report.notes.join(" ")).toMatch(/Without keys: .*hand right/);
  });

  test("to stepped and back keeps every key's time and value, on any curve", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, async (curve) => {
        const before = smallShot({ "spine.rotateX": curve });
        const stepped = await convertBlocking.run(before, WHOLE_FIGURE, { to: "stepped", kind: "auto" }, noContext);
        for (let i = 0; i + 1 < curve.times.length; i++)
          expect(sampleCurve(stepped.shot.base["spine.rotateX"], curve.times[i + 1] - 0.25)).toBe(curve.values[i]);
        const back = (await convertBlocking.run(stepped.shot, WHOLE_FIGURE, { to: "curves", kind: "smooth" }, noContext)).shot;
        expect(back.base["spine.rotateX"].times).toEqual(curve.times);
        expect(back.base["spine.rotateX"].values).toEqual(curve.values);
      }),
    );
  });

  test("picked keys only, when keys are picked", async () => {
    const scope = { ...WHOLE_FIGURE, keys: { "root.moveX": [9] } };
    const { shot: after, report } = await convertBlocking.run(shot, scope, { to: "curves", kind: "linear" }, noContext);
    expect([...after.base["root.moveX"].kindOut]).toEqual([Tangent.stepped, Tangent.linear, Tangent.stepped]);
    expect(report.notes.join(" ")).toContain("Not in scope: ");
  });

  test("a broken key made by hand stays broken when nothing is asked of it", () => {
    const key = {
      time: 1,
      value: 0,
      slopeIn: 1,
      slopeOut: -1,
      weightIn: 1 / 3,
      weightOut: 1 / 3,
      kindIn: Tangent.free,
      kindOut: Tangent.free,
    };
    const curve = curveFromKeys([key, { ...key, time: 9 }]);
    expect(workHandles(curve, every(curve), "break")).toEqual(curve);
  });
});
