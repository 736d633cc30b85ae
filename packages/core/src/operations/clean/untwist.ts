import { z } from "zod";
import { type Curve, keyOn } from "../../curve/curve.ts";
import { settle } from "../../curve/tangents.ts";
import { nearestEuler, turnedAxes } from "../../maths/rotation.ts";
import { type ChannelKey, channelKey, controlById, rotateChannels } from "../../model/rig.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { byControl, changeCurves, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  solution: z
    .enum(["nearest", "turns"])
    .default("nearest")
    .meta({
      title: "Take out",
      labels: { nearest: "Whole turns and flips", turns: "Whole turns only" },
      help: "A flip is the other set of three angles for the same rotation; it needs keys at the same frames on all three.",
    }),
});

/** Take jumps out of rotation curves without changing any rotation. */
export const untwist: Operation<z.infer<typeof settings>> = {
  id: "untwist",
  title: "Untwist",
  group: "Clean",
  help: "Takes 360° jumps and flips out of rotation curves; the rotation at every key stays what it is.",
  guide: {
    use: "A wrist that spins once round between two frames, or angles that jump by 360° after a conversion: the pose is right, the curve is not.",
    watch: "What is seen at every key stays the same; between keys the way is the short one now.",
  },
  words: "euler flip gimbal 360 jump continuous angles",
  leaves: ["range"],
  byControl: true,
  nothing: "Every rotation is told the nearest way already, so there is nothing to untwist.",
  settings,
  async run(shot, scope, s, context) {
    const channels = scopedChannels(shot, scope).filter((key) => key.includes(".rotate"));
    needSomething(channels, "Untwist (no rotate curve is in scope)");
    const curves = layerCurves(shot, scope.layer);
    const changed: Record<ChannelKey, Curve> = {};
    const apart: string[] = [];
    for (const [id, own] of byControl(channels)) {
      await context.breathe(0.5);
      const control = controlById(shot.rig, id);
      const three = rotateChannels.map((channel) => channelKey(id, channel));
      const together = three.map((key) => curves[key]);
      if (
        s.solution === "nearest" &&
        control &&
        three.every((key) => own.includes(key)) &&
        sameTimes(together) &&
        !together.some(travels)
      ) {
        nearest(together, control.order).forEach((curve, axis) => {
          if (curve !== together[axis]) changed[three[axis]] = curve;
        });
        continue;
      }
      if (s.solution === "nearest" && own.length > 0 && control) apart.push(control.name);
      for (const key of own) {
        const curve = continuous(curves[key]);
        if (curve !== curves[key]) changed[key] = curve;
      }
    }
    const after = changeCurves(shot, scope.layer, changed);
    const warnings =
      apart.length > 0
        ? [
            `Only whole turns on ${apart.slice(0, 4).join(", ")}${apart.length > 4 ? ` and ${apart.length - 4} more` : ""}: their three curves are not keyed at the same frames, or travel from round to round.`,
          ]
        : [];
    return outcome(shot, after, `Untwisted ${countedWord(Object.keys(changed).length, "curve")}`, { warnings });
  },
};

/** Where an angle travels from round to round, the way it goes is a number of turns and no flip may change it. */
const travels = ({ runIn, runOut }: Curve) => runIn.kind === "travel" || runOut.kind === "travel";

function sameTimes(curves: readonly (Curve | undefined)[]): curves is Curve[] {
  const [first] = curves;
  return curves.every(
    (curve) =>
      curve !== undefined &&
      curve.times.length === first?.times.length &&
      curve.times.every((t, i) => t === first.times[i] || keyOn(first, t) >= 0),
  );
}

/** Each key moved by whole turns to within half a turn of the one before. */
function continuous(curve: Curve): Curve {
  const values = curve.values.slice();
  let differs = false;
  for (let i = 1; i < values.length; i++) {
    const turns = Math.round((values[i - 1] - values[i]) / 360);
    if (turns === 0) continue;
    values[i] += 360 * turns;
    differs = true;
  }
  return differs ? settle({ ...curve, values }) : curve;
}

/** Angles that are all so near (degrees) are the nearest: the other solution turns two of them by 180. */
const NEAR = 45;

/** Each key's three angles as the equal set nearest to those of the key before. */
function nearest(curves: readonly Curve[], order: Parameters<typeof nearestEuler>[2]): readonly Curve[] {
  const values = curves.map((curve) => curve.values.slice());
  const slopesIn = curves.map((curve) => curve.slopeIn.slice());
  const slopesOut = curves.map((curve) => curve.slopeOut.slice());
  const middle = turnedAxes(order)[1];
  let differs = false;
  for (let i = 1; i < values[0].length; i++) {
    if (values.every((column) => Math.abs(column[i] - column[i - 1]) <= NEAR)) continue;
    const now = values.map((column) => column[i]);
    const found = nearestEuler(
      now,
      values.map((column) => column[i - 1]),
      order,
    );
    if (found.every((angle, axis) => angle === now[axis])) continue;
    differs = true;
    // In the other solution the middle angle runs backward, so its slopes do as well.
    const flipped = Math.abs(((found[middle] - now[middle]) % 360) / 360) > 1e-9;
    found.forEach((angle, axis) => {
      values[axis][i] = angle;
    });
    if (flipped) {
      slopesIn[middle][i] *= -1;
      slopesOut[middle][i] *= -1;
    }
  }
  if (!differs) return curves;
  return curves.map((curve, axis) => settle({ ...curve, values: values[axis], slopeIn: slopesIn[axis], slopeOut: slopesOut[axis] }));
}
