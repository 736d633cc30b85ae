import {
  channelKey,
  type Curve,
  curveFromKeys,
  constantCurve,
  emptyShot,
  linearCurve,
  linearFrame,
  makeKey,
  type Shot,
  Tangent,
  type TangentKind,
} from "@kneader/core";
import type { Puppet } from "./puppet.ts";
import { ferrymanRig } from "./rig.ts";

/** A shot of the ferryman at the landing, without motion. */
export function landingShot(id: string, name: string, start: number, end: number): Shot {
  return emptyShot({ id, name, rig: ferrymanRig, range: { start, end }, unitMetres: 1, set: "landing" });
}

/** Pose a puppet at each whole frame; every channel it sets gets a linear key a frame. */
export function sampleMotion(shot: Shot, pose: (frame: number) => Puppet): Shot {
  const { start, end } = shot.range;
  const count = end - start + 1;
  const samples = new Map<string, Float64Array>();
  for (let n = 0; n < count; n++)
    for (const [key, value] of Object.entries(pose(start + n).snapshot())) {
      let column = samples.get(key);
      if (!column) {
        column = new Float64Array(count);
        samples.set(key, column);
      }
      column[n] = value;
    }
  const frame = linearFrame(Float64Array.from({ length: count }, (_, n) => start + n));
  return { ...shot, base: { ...shot.base, ...inRigOrder(samples, (values) => linearCurve(frame, values), start) } };
}

/** Pose a puppet at a few frames; every channel it sets has a key of one kind at each. */
export function keyedMotion(
  shot: Shot,
  poses: readonly (readonly [frame: number, puppet: Puppet])[],
  kind: TangentKind = Tangent.auto,
): Shot {
  const keys = new Map<string, { frame: number; value: number }[]>();
  for (const [frame, puppet] of poses)
    for (const [key, value] of Object.entries(puppet.snapshot())) keys.set(key, [...(keys.get(key) ?? []), { frame, value }]);
  const base: Record<string, Curve> = {};
  for (const control of ferrymanRig.controls)
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      const list = keys.get(key);
      if (list) base[key] = curveFromKeys(list.map(({ frame, value }) => makeKey(frame, value, kind)));
    }
  return { ...shot, base: { ...shot.base, ...base } };
}

function inRigOrder(samples: Map<string, Float64Array>, make: (values: Float64Array) => Curve, start: number): Record<string, Curve> {
  const base: Record<string, Curve> = {};
  for (const control of ferrymanRig.controls)
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      const values = samples.get(key);
      if (values) base[key] = values.every((value) => value === values[0]) ? constantCurve(values[0], start) : make(values);
    }
  return base;
}
