import {
  BASE,
  channelKey,
  type Curve,
  copyKeys,
  countKeys,
  rippleKeys,
  freshId,
  type KeyMap,
  keyChannels,
  keysOn,
  layerCurves,
  makePass,
  keyMapper,
  NO_MAP,
  ownControl,
  type Pass,
  removeKeys,
  sampleCurve,
  setTangents,
  type Shot,
  Tangent,
  type TangentName,
  withLayerCurves,
  withPass,
  type ChannelKey,
  splitChannelKey,
  restValue,
} from "@kneader/core";
import { mappedPicks } from "./rack/plot/mappedPicks.ts";
import { clock } from "./clock.ts";
import { changeOrTell, currentDocument } from "./documents.ts";
import { pickedKeyCount, useSelection } from "./selection.ts";

/** Small edits made by hand on the bench. Each is one step of the history. */

export function change(name: string, edit: (shot: Shot) => Shot): void {
  const shot = currentDocument();
  if (shot) changeOrTell(name, edit(shot));
}

/** Give a channel of the chosen layer a value at the playhead. */
export function typeValue(key: ChannelKey, title: string, value: number): void {
  const { layer } = useSelection.getState();
  change(`${title} ${Math.round(value * 1000) / 1000} at ${clock.frame}`, (shot) =>
    keyChannels(shot, layer, clock.frame, { [key]: value }),
  );
}

/** The layer's own value of a channel at a frame; what an unkeyed channel counts as. */
export function ownValue(shot: Shot, layer: string, key: ChannelKey, frame: number): number {
  const curve = layerCurves(shot, layer)[key];
  if (curve) return sampleCurve(curve, frame);
  const own = ownControl(shot, layer);
  // What is not keyed over time stands in the settings.
  if (own) return Number(shot.passes.find((pass) => pass.id === layer)?.settings[splitChannelKey(key).channel] ?? 0);
  return layer === BASE ? restValue(splitChannelKey(key).channel) : 0;
}

/** Key the picked controls (or the whole figure) where they are. */
export function keyHere(): void {
  const { controls, layer } = useSelection.getState();
  const { frame } = clock;
  change(`Key at ${frame}`, (shot) => {
    const curves = layerCurves(shot, layer);
    const values: Record<ChannelKey, number> = {};
    const own = ownControl(shot, layer);
    for (const control of own ? [own] : shot.rig.controls) {
      if (controls.length > 0 && !own ? !controls.includes(control.id) : !control.channels.some((c) => channelKey(control.id, c) in curves))
        continue;
      for (const channel of control.channels) {
        const key = channelKey(control.id, channel);
        if (key in curves || (controls.length > 0 && !own)) values[key] = ownValue(shot, layer, key, frame);
      }
    }
    return keyChannels(shot, layer, frame, values);
  });
}

/** Pick every key at the playhead of the picked controls, or of the whole figure. */
export function pickKeysHere(): void {
  const shot = currentDocument();
  if (!shot) return;
  const { controls, channels, layer, pickKeys } = useSelection.getState();
  const curves = layerCurves(shot, layer);
  const picked: Record<ChannelKey, number[]> = {};
  for (const key in curves) {
    const { control } = splitChannelKey(key);
    if (controls.length > 0 && !ownControl(shot, layer) && !controls.includes(control)) continue;
    if (channels.length > 0 && !channels.includes(key)) continue;
    const times = [...curves[key].times].filter((t) => Math.abs(t - clock.frame) < 0.5);
    if (times.length > 0) picked[key] = times;
  }
  pickKeys(picked);
}

function editPicked(name: (count: number) => string, edit: (curve: Curve, indices: number[]) => Curve | null): void {
  const { keys, layer } = useSelection.getState();
  const count = pickedKeyCount(keys);
  if (count === 0) return;
  change(name(count), (shot) => editKeys(shot, layer, keys, edit));
}

/** Edit the picked keys of several curves; a curve that loses its last key goes. Curves that share times and picks are given one list of indices. */
export function editKeys(
  shot: Shot,
  layer: string,
  keys: Readonly<Record<ChannelKey, readonly number[]>>,
  edit: (curve: Curve, indices: number[]) => Curve | null,
): Shot {
  const curves: Record<ChannelKey, Curve> = { ...layerCurves(shot, layer) };
  const found = new Map<Float64Array, { picked: readonly number[]; indices: number[] }>();
  for (const [key, times] of Object.entries(keys)) {
    const curve = curves[key];
    if (!curve || shot.locked.includes(key)) continue;
    const like = found.get(curve.times);
    const indices = like?.picked === times ? like.indices : keysOn(curve, times);
    found.set(curve.times, { picked: times, indices });
    const next = edit(curve, indices);
    if (next) curves[key] = next;
    else delete curves[key];
  }
  return withLayerCurves(shot, layer, curves);
}

const keysWord = (count: number) => `${count} ${count === 1 ? "key" : "keys"}`;

export function removePicked(): void {
  editPicked((count) => `Remove ${keysWord(count)}`, removeKeys);
  useSelection.getState().pickKeys({});
}

export function tangentPicked(kind: TangentName): void {
  editPicked(
    (count) => `${keysWord(count)} ${kind}`,
    (curve, indices) => setTangents(curve, indices, Tangent[kind], "both"),
  );
}

/** What taking keys elsewhere does to others: nothing, later ones shift along, or the keys stay and copies go. */
export type Carry = "move" | "ripple" | "copy";

/** The edit of one curve that takes its picked keys where a map says. */
export function carrier(map: KeyMap, carry: Carry): (curve: Curve, indices: number[]) => Curve {
  if (carry === "copy") return (curve, indices) => copyKeys(curve, indices, map);
  if (carry === "ripple") return (curve, indices) => (indices.length > 0 ? rippleKeys(curve, indices, map) : curve);
  return keyMapper(map);
}

/** Take the picked keys where a map says; they, or their copies, stay picked. */
export function mapPicked(verb: "Move" | "Scale", map: KeyMap, carry: Carry = "move"): void {
  const shot = currentDocument();
  const { keys, layer, pickKeys } = useSelection.getState();
  if (!shot || pickedKeyCount(keys) === 0) return;
  const after = editKeys(shot, layer, keys, carrier(map, carry));
  const copies = carry === "copy" ? pickedKeyCount(keys) : 0;
  const gone = countKeys(layerCurves(shot, layer)) + copies - countKeys(layerCurves(after, layer));
  const words = carry === "copy" ? `Copy ${keysWord(copies)}` : `${verb} ${keysWord(pickedKeyCount(keys))}`;
  const name = carry === "ripple" ? `${words} and all later ones` : words;
  change(gone > 0 ? `${name}; ${gone} fell on others and gave way` : name, () => after);
  pickKeys(mappedPicks(keys, map));
}

/** Move the picked keys by frames and value. */
export function nudgePicked(frames: number, amount: number): void {
  mapPicked("Move", { ...NO_MAP, timeShift: frames, valueShift: amount });
}

export function addPass(kind = "adds"): void {
  const shot = currentDocument();
  if (!shot) return;
  const id = freshId("pass");
  const names = new Set(shot.passes.map((pass) => pass.name));
  let count = shot.passes.length + 1;
  while (names.has(`Pass ${count}`)) count++;
  change(`Add Pass ${count}`, (s) => ({ ...s, passes: [...s.passes, makePass(id, `Pass ${count}`, kind)] }));
  useSelection.getState().setLayer(id);
}

export function changePass(id: string, name: string, edit: (pass: Pass) => Pass): void {
  change(name, (shot) => withPass(shot, id, edit));
}

/** Move a pass up the stack (down when negative) by so many places. */
export function movePass(id: string, places: number): void {
  const list = [...(currentDocument()?.passes ?? [])];
  const from = list.findIndex((pass) => pass.id === id);
  const to = Math.min(list.length - 1, Math.max(0, from + places));
  if (from < 0 || to === from) return;
  const [moved] = list.splice(from, 1);
  list.splice(to, 0, moved);
  change(`Move ${moved.name} in the stack`, (shot) => ({ ...shot, passes: list }));
}

export function removePass(id: string): void {
  const shot = currentDocument();
  const pass = shot?.passes.find((p) => p.id === id);
  if (!pass) return;
  if (useSelection.getState().layer === id) useSelection.getState().setLayer(BASE);
  change(`Remove ${pass.name}`, (s) => ({ ...s, passes: s.passes.filter((p) => p.id !== id) }));
}

export function setRangeEnd(side: "start" | "end"): void {
  const shot = currentDocument();
  if (!shot) return;
  const { range, setRange } = useSelection.getState();
  const next = { ...(range ?? shot.range), [side]: clock.frame };
  setRange(next.end < next.start ? { start: clock.frame, end: clock.frame } : next);
}
