import { type Curve, keyOn } from "../../curve/curve.ts";
import { KneaderError } from "../../errors.ts";
import { type ChannelKey, channelKey, controlById, figureControls, splitChannelKey } from "../../model/rig.ts";
import { BASE, countKeys, type Curves, type FrameRange, layerCurves, layerOf, type Shot, withLayerCurves } from "../../model/shot.ts";
import { ownControl } from "../../evaluate/ownControl.ts";
import type { Outcome, Report, Scope } from "../operation.ts";

/** The channels in scope that may be changed and have a curve in the scope's layer, in the rig's order. */
export function scopedChannels(shot: Shot, scope: Scope): ChannelKey[] {
  return wantedChannels(shot, scope).filter((key) => key in layerCurves(shot, scope.layer));
}

/** The channels in scope that have a curve, locked ones too: for reading only. */
export function curvesInScope(shot: Shot, scope: Scope): ChannelKey[] {
  const curves = layerCurves(shot, scope.layer);
  return channelsMeant(shot, scope).filter((key) => key in curves);
}

/** The channels in scope, whether or not they have a curve; locked ones are left out. */
export function wantedChannels(shot: Shot, scope: Scope): ChannelKey[] {
  const locked = new Set(shot.locked);
  return channelsMeant(shot, scope).filter((key) => !locked.has(key));
}

/** The channels a scope names, locked or not. */
export function channelsMeant(shot: Shot, scope: Scope): ChannelKey[] {
  if (scope.layer !== BASE && !layerOf(shot, scope.layer)) throw new KneaderError("not-found", `The shot has no pass "${scope.layer}".`);
  for (const id of scope.controls ?? [])
    if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `The rig has no control "${id}".`);
  // A computed pass has its own settings over time, whatever controls are picked.
  const own = ownControl(shot, scope.layer);
  const controls = scope.controls === null || own ? null : new Set(scope.controls);
  const all = isWhole(scope) && !scope.everything ? figureControls(shot.rig) : shot.rig.controls;
  const channels = scope.channels === null ? null : new Set(scope.channels);
  const picked = scope.keys === null ? null : new Set(Object.keys(scope.keys));
  const wanted: ChannelKey[] = [];
  for (const control of own ? [own] : all) {
    if (controls !== null && !controls.has(control.id)) continue;
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      if ((channels === null || channels.has(key)) && (picked === null || picked.has(key))) wanted.push(key);
    }
  }
  return wanted;
}

/** Ids of the controls a scope names, keyed or not. */
export function controlsMeant(shot: Shot, scope: Scope): ReadonlySet<string> {
  if (scope.controls !== null) return new Set(scope.controls);
  const picked = [...(scope.channels ?? []), ...Object.keys(scope.keys ?? {})];
  if (picked.length > 0) return new Set(picked.map((key) => splitChannelKey(key).control));
  return new Set((scope.everything ? shot.rig.controls : figureControls(shot.rig)).map(({ id }) => id));
}

export function needSomething(channels: readonly ChannelKey[], what: string): void {
  if (channels.length === 0)
    throw new KneaderError(
      "nothing-in-scope",
      `${what}: no curve is in scope.`,
      "Pick controls that have keys, or widen the scope to the whole figure.",
    );
}

export function scopeRange(shot: Shot, scope: Scope): FrameRange {
  return scope.range ?? shot.range;
}

/** Is the scope the figure as a whole, so that passes and range should follow a change of timing? */
export function isWholeFigure(scope: Scope): boolean {
  return isWhole(scope) && scope.layer === BASE;
}

/** Is nothing picked, so that the figure, or everything in the shot, is meant? */
export function isWhole({ controls, channels, keys }: Pick<Scope, "controls" | "channels" | "keys">): boolean {
  return controls === null && channels === null && keys === null;
}

/** The indices of all keys of the curve that was asked for last: those of a capture have equally many. */
let every: readonly number[] = [];

/** Indices of a curve's keys that are in scope: the picked ones, or all within the range. */
export function scopedKeys(curve: Curve, key: ChannelKey, scope: Scope): readonly number[] {
  const picked = scope.keys?.[key];
  if (picked) return [...new Set(picked.map((time) => keyOn(curve, time)))].filter((i) => i >= 0).sort((a, b) => a - b);
  const { times } = curve;
  if (scope.range === null) {
    if (every.length !== times.length) every = Array.from(times.keys());
    return every;
  }
  const indices: number[] = [];
  for (let i = 0; i < times.length; i++) if (times[i] >= scope.range.start - 1e-6 && times[i] <= scope.range.end + 1e-6) indices.push(i);
  return indices;
}

/** The shot with some of a layer's curves changed; a null takes the curve away. */
export function changeCurves(shot: Shot, layer: string, changed: Readonly<Record<ChannelKey, Curve | null>>): Shot {
  const curves: Record<ChannelKey, Curve> = { ...layerCurves(shot, layer) };
  for (const [key, curve] of Object.entries(changed)) {
    if (curve === null) delete curves[key];
    else curves[key] = curve;
  }
  return withLayerCurves(shot, layer, curves);
}

/** A report that counts keys and changed curves of all layers by itself. */
export function report(before: Shot, after: Shot, summary: string, more: Partial<Report> = {}): Report {
  return {
    summary,
    keysBefore: allKeys(before),
    keysAfter: allKeys(after),
    curvesChanged: countChanged(before, after),
    drift: null,
    worstCurve: null,
    warnings: [],
    notes: [],
    ...more,
  };
}

export function outcome(before: Shot, after: Shot, summary: string, more: Partial<Report> = {}): Outcome {
  return { shot: after, report: report(before, after, summary, more) };
}

function allKeys(shot: Shot): number {
  return countKeys(shot.base) + shot.passes.reduce((sum, pass) => sum + countKeys(pass.curves), 0);
}

export function countChanged(before: Shot, after: Shot): number {
  const differing = (a: Curves, b: Curves) =>
    [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((key) => a[key] !== b[key]).length;
  let total = differing(before.base, after.base);
  for (const pass of after.passes) total += differing(layerCurves(before, pass.id), pass.curves);
  return total;
}

/** Channel keys gathered by control. */
export function byControl(keys: readonly ChannelKey[]): Map<string, ChannelKey[]> {
  const groups = new Map<string, ChannelKey[]>();
  for (const key of keys) {
    const { control } = splitChannelKey(key);
    groups.set(control, [...(groups.get(control) ?? []), key]);
  }
  return groups;
}
