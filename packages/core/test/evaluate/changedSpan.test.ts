import * as fc from "fast-check";
import { setKey } from "../../src/curve/edit.ts";
import type { Curve } from "../../src/curve/curve.ts";
import { settle } from "../../src/curve/tangents.ts";
import { changedFrames } from "../../src/evaluate/changedFrames.ts";
import { changedSpan } from "../../src/evaluate/changedSpan.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { Chance } from "../help/chance.ts";
import { anyCurve as anyHeld, anyLoop, someTimes } from "../help/random.ts";
import { movingShot, passOf } from "../help/shots.ts";
import { passFor } from "../help/passes.ts";

function differsAt(before: Shot, after: Shot, time: number): boolean {
  const [was, is] = [makePlayer(before), makePlayer(after)];
  was.pose(time);
  is.pose(time);
  return was.worlds.some((value, i) => value !== is.worlds[i]);
}

test("outside the span nothing differs, to the last bit, whatever key is set on whatever curve", () => {
  fc.assert(
    fc.property(
      anyLoop,
      fc.integer({ min: -5, max: 60 }),
      fc.double({ min: -50, max: 50, noNaN: true }),
      fc.boolean(),
      (curve, time, value, inPass) => {
        const plain = movingShot();
        const pass = passOf("adds", { "arm-left.rotateZ": curve });
        const before: Shot = inPass ? { ...plain, passes: [pass] } : { ...plain, base: { ...plain.base, "arm-left.rotateZ": curve } };
        fc.pre(curve.runIn.rounds > 0 && curve.runOut.rounds > 0);
        const changed = setKey(curve, time, value);
        const after: Shot = inPass
          ? { ...before, passes: [{ ...pass, curves: { "arm-left.rotateZ": changed } }] }
          : { ...before, base: { ...before.base, "arm-left.rotateZ": changed } };
        const span = changedSpan(before, after);
        if (span === "all") return;
        for (const at of [...someTimes(-10, 80, 20), time, time - 1, time + 1])
          if (span === null || at < span.start || at > span.end) expect([at, differsAt(before, after, at)]).toEqual([at, false]);
      },
    ),
    { numRuns: 60 },
  );
});

test("at frames that are told to be alike, and before the next ones, nothing differs; drift looked at elsewhere alone is the whole drift", () => {
  const chance = new Chance(3);
  let alike = 0;
  fc.assert(
    fc.property(anyHeld, fc.oneof(anyHeld, anyLoop), fc.array(fc.nat(8), { maxLength: 3 }), fc.boolean(), (spine, arm, picked, inPass) => {
      const hurt = (curve: Curve): Curve => {
        const values = curve.values.map((value, i) => (picked.includes(i) ? value + chance.between(-20, 20) : value));
        const times = curve.times.map((time, i) => (picked.includes(i) && i > 0 && i + 1 < values.length ? time + 0.25 : time));
        return settle({ ...curve, values, times });
      };
      const plain = movingShot();
      const pass = passOf("adds", { "arm-left.rotateZ": arm });
      const before: Shot = { ...plain, base: { ...plain.base, "spine.rotateX": spine }, passes: inPass ? [pass] : [] };
      const base = { ...before.base, "spine.rotateX": hurt(spine) };
      const after: Shot = { ...before, base, passes: inPass ? [{ ...pass, curves: { "arm-left.rotateZ": hurt(arm) } }] : [] };
      const frames = changedFrames(before, after, 1, 90);
      for (let f = 0; frames && f < 90; f++) {
        if (frames[f] !== 0) continue;
        alike++;
        for (const at of [f + 1, f + 1.3, f + 1.75]) expect([at, differsAt(before, after, at)]).toEqual([at, false]);
      }
      // A rig of its own: nothing is told of such a shot, and every frame is looked at.
      const unknown = { ...after, rig: { ...after.rig } };
      for (const step of [1, 0.25])
        expect(measureDrift(before, after, { start: 1, end: 90 }, { step })).toEqual(
          measureDrift(before, unknown, { start: 1, end: 90 }, { step }),
        );
    }),
    { numRuns: 60 },
  );
  expect(alike).toBeGreaterThan(500);
});

test("a key in the middle of plain curves is told from the rest; what cannot be told is all", () => {
  const before = movingShot();
  const curve = before.base["spine.rotateX"];
  const after = { ...before, base: { ...before.base, "spine.rotateX": setKey(curve, 25, 31) } };
  expect(changedSpan(before, before)).toBeNull();
  expect(changedSpan(before, after)).toEqual({ start: 1, end: 49 });
  const early = { ...before, base: { ...before.base, "spine.rotateX": setKey(curve, 2, 5.5) } };
  // The valley at 13 stays level.
  expect(changedSpan(before, early)).toEqual({ start: 1, end: 13 });
  expect(changedSpan(before, { ...after, rig: { ...after.rig } })).toBe("all");
  expect(changedSpan(before, { ...before, base: {} })).toBe("all");
  const lagged = { ...before, passes: [passFor("lag", {})] };
  expect(changedSpan(lagged, { ...after, passes: lagged.passes })).toBe("all");
  expect(changedSpan(lagged, { ...lagged, passes: [{ ...lagged.passes[0], on: false }] })).toBe("all");
});
