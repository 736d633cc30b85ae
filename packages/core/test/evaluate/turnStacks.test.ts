import fc from "fast-check";
import { Euler, Quaternion, Vector3 } from "three";
import type { Curve } from "../../src/curve/curve.ts";
import { constantCurve, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { DEG, type RotationOrder } from "../../src/maths/rotation.ts";
import { rotateChannels } from "../../src/model/rig.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { envelope } from "../../src/passes/envelope.ts";
import { anyLoop } from "../help/random.ts";
import { passOf, smallShot } from "../help/shots.ts";

/*
 * Rotations of base motion and of passes that join as rotations are worked out in one go where they can be. Against turns
 * multiplied one after the other by three's Quaternion, its powers by axis and angle; and against what is worked out pass by pass.
 */

const FRAMES = [-3, 1, 2.25, 9.5, 17, 23.999, 40, 61.5];
const CONTROLS: Record<string, RotationOrder> = { spine: "YXZ", "arm-left": "ZXY" };

const captured = fc
  .tuple(fc.integer({ min: -3, max: 9 }), fc.array(fc.double({ min: -70, max: 70, noNaN: true }), { minLength: 2, maxLength: 80 }))
  .map(([first, values]) => linearCurve(linearFrame(Float64Array.from(values, (_, i) => first + i)), Float64Array.from(values)));
const one = fc.double({ min: -200, max: 200, noNaN: true }).map((value) => constantCurve(value));
const anyOf = fc.oneof({ weight: 4, arbitrary: captured }, { weight: 1, arbitrary: anyLoop }, { weight: 1, arbitrary: one });
const axes = fc.tuple(...rotateChannels.map(() => fc.option(anyOf, { freq: 4, nil: undefined })));
const turned = fc.record({ spine: axes, "arm-left": fc.option(axes, { nil: undefined }) });

const layer = fc.record({
  kind: fc.constantFrom<"adds" | "replaces">("adds", "adds", "replaces"),
  turned,
  weight: fc.oneof(
    fc.constantFrom(0, 1, 1).map((value) => constantCurve(value)),
    fc.double({ min: -1, max: 2, noNaN: true }).map((value) => constantCurve(value)),
    fc.constant(linearCurve(linearFrame(Float64Array.of(1, 2, 3)), Float64Array.of(1, 0.4, 0.9))),
  ),
  range: fc.option(fc.constant({ start: 2, end: 30, easeIn: 10, easeOut: 4 }), { freq: 4, nil: null }),
});

type Turned = Readonly<Record<string, readonly (Curve | undefined)[] | undefined>>;

const curvesOf = (some: Turned) =>
  Object.fromEntries(
    Object.entries(some).flatMap(([id, three]) =>
      (three ?? []).flatMap((curve, axis) => (curve ? [[`${id}.${rotateChannels[axis]}`, curve] as const] : [])),
    ),
  );

const quatOf = (angles: readonly number[], order: RotationOrder) => {
  const [x, y, z] = angles.map((angle) => (angle % 720) * DEG);
  return new Quaternion().setFromEuler(new Euler(x, y, z, order));
};

/** A turn taken so many times along its own axis, the short way. */
function power(turn: Quaternion, share: number): Quaternion {
  const sign = turn.w < 0 ? -1 : 1;
  const axis = new Vector3(turn.x, turn.y, turn.z).multiplyScalar(sign);
  const sine = axis.length();
  if (sine === 0) return new Quaternion();
  const angle = 2 * Math.atan2(sine, Math.abs(turn.w));
  return new Quaternion().setFromAxisAngle(axis.divideScalar(sine), angle * share);
}

const away = (a: Quaternion, b: ArrayLike<number>, o: number) => {
  const dot = a.x * b[o] + a.y * b[o + 1] + a.z * b[o + 2] + a.w * b[o + 3];
  const sign = dot < 0 ? -1 : 1;
  return Math.hypot(a.x - sign * b[o], a.y - sign * b[o + 1], a.z - sign * b[o + 2], a.w - sign * b[o + 3]);
};

test("property: rotations joined in one go are the turns multiplied one after the other within 1e-12, as angles too", () => {
  fc.assert(
    fc.property(turned, fc.array(layer, { minLength: 1, maxLength: 4 }), (base, layers) => {
      const passes = layers.map(({ kind, turned: some, weight, range }, n) =>
        passOf(kind, curvesOf(some), { id: `p${n}`, compose: "rotation", weight, range }),
      );
      const player = makePlayer(smallShot(curvesOf(base), { passes }));
      const values = makePlayer(player.shot);
      for (const frame of FRAMES)
        for (const [id, order] of Object.entries(CONTROLS)) {
          const below = [0, 1, 2].map((axis) => {
            const curve = (base as Turned)[id]?.[axis];
            return curve ? sampleCurve(curve, frame) : 0;
          });
          const wanted = quatOf(below, order);
          for (const { kind, turned: some, weight, range } of layers) {
            const three = (some as Turned)[id];
            const share = sampleCurve(weight, frame) * envelope(range, frame);
            if (!three?.some(Boolean) || share === 0) continue;
            const neutral = (axis: number) => (kind === "adds" ? 0 : below[axis]);
            const own = quatOf(
              three.map((curve, axis) => (curve ? sampleCurve(curve, frame) : neutral(axis))),
              order,
            );
            wanted.multiply(power(kind === "adds" ? own : wanted.clone().invert().multiply(own), share));
          }
          const at = player.controlIndex.get(id) as number;
          player.pose(frame);
          // Half a round can be gone either way: where a pass replaces what is opposite to it, nothing is promised.
          const isOpposite = layers.some(({ kind }) => kind === "replaces");
          const off = away(wanted, player.turns, 4 * at);
          if (!(isOpposite && off > 0.1)) expect(off).toBeLessThan(1e-12);
          values.readValues(frame);
          const angles = rotateChannels.map((channel) => values.values[values.channelIndex.get(`${id}.${channel}`) as number]);
          // Where an order's second axis stands at a right angle the angles are as good as arcs of a sine near one are.
          expect(away(quatOf(angles, order), player.turns, 4 * at)).toBeLessThan(1e-7);
        }
    }),
    { numRuns: 120 },
  );
});

test("property: the same with held frames below and above, and values coming in on one control, as pass by pass", () => {
  fc.assert(
    fc.property(turned, fc.array(layer, { minLength: 1, maxLength: 3 }), fc.nat(3), (base, layers, held) => {
      const passes = layers.map(({ kind, turned: some, weight, range }, n) =>
        passOf(kind, curvesOf(some), { id: `p${n}`, compose: "rotation", weight, range }),
      );
      const members = Object.keys(curvesOf({ spine: base.spine }));
      const stepping = { ...makePass("held", "Held", "stepping", {}), members, settings: { every: 3 } };
      const shot = smallShot(curvesOf(base), { passes: [...passes.slice(0, held), stepping, ...passes.slice(held)] });
      // Nothing comes in, but it could: these controls are worked out pass by pass.
      const keys = Object.keys(CONTROLS).flatMap((id) => rotateChannels.map((channel) => `${id}.${channel}`));
      const live = { layer: "base", keys, read: () => Number.NaN };
      const [inOne, byPass] = [makePlayer(shot), makePlayer(shot, { live })];
      for (const frame of FRAMES) {
        inOne.pose(frame);
        byPass.pose(frame);
        for (let k = 0; k < inOne.worlds.length; k++) expect(Math.abs(inOne.worlds[k] - byPass.worlds[k])).toBeLessThan(1e-11);
      }
    }),
    { numRuns: 60 },
  );
});
