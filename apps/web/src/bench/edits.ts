import {
  BASE,
  type Carry,
  type ChannelKey,
  channelsMeant,
  computedKind,
  constraintKind,
  curvesInScope,
  freshId,
  type KeyMap,
  layerCurves,
  makePlayer,
  NO_MAP,
  operations,
  ownControl,
  passKind,
  pickedCount,
  type Player,
  restValue,
  sampleCurve,
  sayError,
  type Scope,
  type Shot,
  splitChannelKey,
  type TangentName,
  WHOLE_FIGURE,
} from "@kneader/core";
import { clock } from "./clock.ts";
import { currentDocument } from "./documents.ts";
import { tell } from "./notices.ts";
import { performOrTell, performSoon } from "./perform.ts";
import { mappedPicks } from "./rack/plot/mappedPicks.ts";
import { listedKeys } from "./rack/channels/channelView.ts";
import { currentScope, useSelection } from "./selection.ts";

/** Small edits made by hand on the bench. Each is an operation and one step of the history. */

/** Give a channel of the chosen layer a value at the playhead. */
export function typeValue(key: ChannelKey, value: number): void {
  const { layer, range } = useSelection.getState();
  performOrTell(operations.keyValues, { frame: clock.frame, values: { [key]: value } }, { ...WHOLE_FIGURE, layer, range });
}

/** The layer's own value of a channel at a frame; what an unkeyed channel counts as. */
export function ownValue(shot: Shot, layer: string, key: ChannelKey, frame: number): number {
  const curve = layerCurves(shot, layer)[key];
  if (curve) return sampleCurve(curve, frame);
  const own = ownControl(shot, layer);
  // What is not keyed over time stands in the settings.
  if (own) {
    const tie = shot.constraints.find(({ id }) => id === layer);
    const said = tie && constraintKind(tie.kind)?.channels(tie.settings);
    if (said) return said.find(({ name }) => name === splitChannelKey(key).channel)?.otherwise ?? 0;
    const pass = shot.passes.find(({ id }) => id === layer);
    const { channel } = splitChannelKey(key);
    return pass ? (computedKind(pass.kind)?.fixed?.(pass, channel) ?? Number(pass.settings[channel] ?? 0)) : 0;
  }
  return layer === BASE ? restValue(splitChannelKey(key).channel) : neutralValue(shot, layer, key, frame);
}

/** What a channel without keys counts as in a pass with keys: what changes nothing there. */
function neutralValue(shot: Shot, layer: string, key: ChannelKey, frame: number): number {
  const kind = passKind(shot.passes.find(({ id }) => id === layer)?.kind ?? "");
  if (kind?.reads !== "keys" || kind.neutral(1) === 0) return 0;
  const player = playerBelow(shot, layer);
  const at = player.channelIndex.get(key);
  if (at === undefined) return 0;
  player.readValues(frame);
  return kind.neutral(player.values[at]);
}

let below: { shot: Shot; layer: string; player: Player } | null = null;

/** Plays what is below a layer; made once while the same shot is looked at. */
function playerBelow(shot: Shot, layer: string): Player {
  if (below?.shot !== shot || below.layer !== layer) below = { shot, layer, player: makePlayer(shot, { below: layer }) };
  return below.player;
}

/** Key the picked controls (or the whole figure) where they are. */
export function keyHere(): void {
  const { controls, layer } = useSelection.getState();
  const { frame } = clock;
  const shot = currentDocument();
  if (!shot) return;
  const scope = { ...currentScope(), keys: null };
  // Of what is picked every channel is meant, otherwise those that are keyed somewhere.
  const keys = controls.length > 0 ? channelsMeant(shot, scope) : curvesInScope(shot, scope);
  if (keys.length === 0) {
    tell("Nothing here is keyed yet. Pick controls, and they are keyed as they stand.");
    return;
  }
  const own = ownControl(shot, layer);
  const curves = layerCurves(shot, layer);
  // A setting without keys is keyed as it stands in the settings.
  const unkeyed = own
    ? Object.fromEntries(keys.filter((key) => !(key in curves)).map((key) => [key, ownValue(shot, layer, key, frame)]))
    : {};
  performOrTell(operations.keyAsItIs, { frame, channels: keys, unkeyed }, { ...WHOLE_FIGURE, layer });
}

/** Pick the keys of what is in scope whose time passes. */
function pickKeysWhere(passes: (time: number) => boolean): void {
  const shot = currentDocument();
  if (!shot) return;
  const scope = { ...currentScope(), keys: null };
  const curves = layerCurves(shot, scope.layer);
  const listed = new Set(ownControl(shot, scope.layer) ? Object.keys(curves) : listedKeys(shot, scope.layer));
  const meant = curvesInScope(shot, scope).filter((key) => listed.has(key));
  const picked = meant.map((key) => [key, [...curves[key].times].filter(passes)] as const);
  useSelection.getState().pickKeys(Object.fromEntries(picked.filter(([, times]) => times.length > 0)));
}

/** Pick every key at the playhead of what is in scope. */
export function pickKeysHere(): void {
  pickKeysWhere((time) => Math.abs(time - clock.frame) < 0.5);
}

/** Pick every key of what is in scope and listed, within the marked range. */
export function pickAllKeys(): void {
  const { range } = currentScope();
  pickKeysWhere((time) => !range || (time >= range.start - 1e-6 && time <= range.end + 1e-6));
}

/** Pick every control that is listed. */
export function pickAllControls(): void {
  const shot = currentDocument();
  if (!shot) return;
  const { layer, pickControls } = useSelection.getState();
  const listed = new Set(listedKeys(shot, layer).map((key) => splitChannelKey(key).control));
  pickControls(shot.rig.controls.map(({ id }) => id).filter((id) => listed.has(id)));
}

/** The picked keys and their layer as a scope; null when none is picked. */
function pickedScope(): Scope | null {
  const { keys, layer } = useSelection.getState();
  return pickedCount(keys) === 0 ? null : { ...WHOLE_FIGURE, keys, layer };
}

export function removePicked(): void {
  const scope = pickedScope();
  if (!scope) {
    tell("No key is picked.");
    return;
  }
  performOrTell(operations.removeKeys, { cut: false }, scope);
  useSelection.getState().pickKeys({});
}

export async function tangentPicked(kind: TangentName): Promise<void> {
  const scope = pickedScope();
  if (!scope) return;
  await performSoon(operations.setTangents, { kind, side: "both", handles: "keep" }, scope).catch((error: unknown) =>
    tell(sayError(error)),
  );
}

/** Take the picked keys where a map says; they, or their copies, stay picked. */
export function mapPicked(map: KeyMap, carry: Carry = "move"): void {
  const scope = pickedScope();
  if (!scope?.keys) return;
  const { keys } = scope;
  if (performOrTell(operations.moveKeys, { ...map, carry }, scope)) useSelection.getState().pickKeys(mappedPicks(keys, map));
}

/** Move the picked keys by frames and value. */
export function nudgePicked(frames: number, amount: number): void {
  mapPicked({ ...NO_MAP, timeShift: frames, valueShift: amount });
}

export function addPass(kind = "adds"): void {
  const id = freshId("pass");
  if (performOrTell(operations.stackPasses, { do: "add", id, kind })) useSelection.getState().setLayer(id);
}

type PassChange = Parameters<typeof operations.changePass.run>[2]["to"];

export function changePass(pass: string, to: PassChange): void {
  performOrTell(operations.changePass, { pass, to });
}

/** Move a pass up the stack (down when negative) by so many places. */
export function movePass(pass: string, places: number): void {
  const list = currentDocument()?.passes ?? [];
  const from = list.findIndex(({ id }) => id === pass);
  const to = Math.min(list.length - 1, Math.max(0, from + places));
  if (from >= 0 && to !== from) performOrTell(operations.stackPasses, { do: "move", pass, places: to - from });
}

export function removePass(pass: string): void {
  if (currentDocument()?.passes.some(({ id }) => id === pass)) performOrTell(operations.stackPasses, { do: "remove", pass });
}

export function setRangeEnd(side: "start" | "end"): void {
  const shot = currentDocument();
  if (!shot) return;
  const { range, setRange } = useSelection.getState();
  const next = { ...(range ?? shot.range), [side]: clock.frame };
  setRange(next.end < next.start ? { start: clock.frame, end: clock.frame } : next);
}
