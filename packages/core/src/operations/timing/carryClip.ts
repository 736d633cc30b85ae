import { type Curve, keysOf } from "../../curve/curve.ts";
import { curveFromKeys, curveKeeping } from "../../curve/make.ts";
import { type ChannelKey, splitChannelKey } from "../../model/rig.ts";
import type { Curves, Shot } from "../../model/shot.ts";
import { carryOn, hasHeading, type Standing, standingAt, travellers } from "../../figure/carryOn.ts";

/** Let what travels go on from where it is at the frame of pasting; answers what it did. */
export function carryClip(shot: Shot, curves: Curves, laid: Map<ChannelKey, Curve>, at: number, end: number): string[] {
  const notes: string[] = [];
  for (const control of travellers(shot.rig)) {
    const own = Object.fromEntries([...laid].filter(([key]) => splitChannelKey(key).control === control.id));
    if (Object.keys(own).length === 0) continue;
    const from = standingAt(control, own, at);
    const to = standingAt(control, curves, at);
    const carried = carryOn(control, own, from, to);
    const said = Object.entries(carried).flatMap(([key, curve]) => {
      laid.set(key, curve);
      const by = curve.values[0] - own[key].values[0];
      const goes = sampleOf(standingAt(control, own, end), key) - sampleOf(from, key);
      return Math.abs(by) > 1e-9 || Math.abs(goes) > 1e-9 ? [splitChannelKey(key).channel.replace(/^(move|rotate)/, "$1 ")] : [];
    });
    if (said.length > 0) notes.push(`Carries on: ${control.name} ${said.join(", ")}.`);
    if (!hasHeading(control) && (from.rotateY ?? 0) !== (to.rotateY ?? from.rotateY ?? 0))
      notes.push(`${control.name} does not turn about the vertical first, so its heading stays as it was copied.`);
  }
  return notes;
}

const sampleOf = (standing: Standing, key: ChannelKey) => standing[splitChannelKey(key).channel as keyof Standing] ?? 0;

/** After an insertion, what comes later goes on from where the inserted part ends. */
export function carryLater(
  shot: Shot,
  curves: Curves,
  changed: Record<ChannelKey, Curve>,
  laid: ReadonlyMap<ChannelKey, Curve>,
  at: number,
  end: number,
): void {
  for (const control of travellers(shot.rig)) {
    const own = Object.fromEntries(Object.entries(curves).filter(([key]) => splitChannelKey(key).control === control.id));
    const later = Object.fromEntries(
      Object.entries(own).flatMap(([key, curve]) => {
        const keys = keysOf(curve).filter(({ time }) => time >= end - 1e-6);
        return laid.has(key) && keys.length > 0 ? [[key, curveFromKeys(keys)]] : [];
      }),
    );
    const pasted = Object.fromEntries([...laid].filter(([key]) => splitChannelKey(key).control === control.id));
    const carried = carryOn(control, later, standingAt(control, own, at), standingAt(control, pasted, end));
    for (const [key, curve] of Object.entries(carried)) {
      const keys = keysOf(curve).filter(({ time }) => time > end + 1e-6);
      const first = keysOf(curve).find(({ time }) => Math.abs(time - end) < 1e-6);
      const before = keysOf(changed[key]).filter(({ time }) => time < end + 1e-6);
      const joint = before[before.length - 1];
      if (joint && first && Math.abs(joint.time - end) < 1e-6)
        before[before.length - 1] = { ...joint, slopeOut: first.slopeOut, weightOut: first.weightOut, kindOut: first.kindOut };
      changed[key] = curveKeeping([...before, ...keys], changed[key]);
    }
  }
}
