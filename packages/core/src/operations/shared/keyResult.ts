import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { makeLiveLayer } from "../../evaluate/liveLayer.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { solveLinear } from "../../maths/solve.ts";
import { type ChannelKey, channelTitle, splitChannelKey } from "../../model/rig.ts";
import { type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { computedKind, passKind } from "../../passes/kinds.ts";
import { withFirstCurves } from "./firstCurves.ts";
import { keyChannels } from "./keyChannels.ts";
import { withLockedSpan } from "./lockSpan.ts";

/** Rounds of the search; one is enough where the result follows the keys in proportion, as it mostly does. */
const ROUNDS = 8;
const ENOUGH = 1e-6;
/** A change of the result smaller than this, for a key changed by 1, is none. */
const UNSEEN = 1e-6;

/**
 * Key channels of a layer at a frame with the values with which all passes together come out as `wanted`.
 * Within a span the layer is nudged: outside it and at its ends nothing changes, and the change comes and goes
 * softly. Errors: `bad-setting` when the layer takes no keys, the frame is outside the span, or the layer has no say
 * there: it is off, has no weight, or a pass above replaces it or plays it at another frame.
 */
export function keyResult(
  given: Shot,
  layer: string,
  frame: number,
  wanted: Readonly<Record<ChannelKey, number>>,
  span: FrameRange | null = null,
): Shot {
  refuseComputed(given, layer);
  const keys = Object.keys(wanted);
  const shot = spanned(given, layer, frame, keys, span);
  const { channelIndex } = makePlayer(shot);
  const at = keys.map((key) => {
    const index = channelIndex.get(key);
    if (index === undefined) throw new KneaderError("not-found", `The rig has no channel "${key}".`);
    return index;
  });
  const tried = (values: readonly number[]) => keyChannels(shot, layer, frame, Object.fromEntries(keys.map((key, n) => [key, values[n]])));
  const values = aim(keys, wanted, ownValues(shot, layer, keys, frame), (own) => {
    const player = makePlayer(tried(own));
    player.readValues(frame);
    return at.map((index) => player.values[index]);
  });
  if ("unseen" in values) refuseUnseen(shot, values.unseen, frame);
  return tried(values.own);
}

/** A layer's own values, changed live until all passes together come out as wanted; a player shows them. */
export interface LiveResult {
  readonly player: Player;
  /** Answers false where a key of the layer would not be seen; the shot must be asked then, which says why. */
  aim(wanted: Readonly<Record<ChannelKey, number>>): boolean;
  /** The layer's own values it found last, in the order of the keys. */
  own(): readonly number[];
}

/** The same as `keyResult` while something is dragged: one player is made, and no shot for what is tried. */
export function liveResult(shot: Shot, layer: string, frame: number, keys: readonly ChannelKey[]): LiveResult {
  refuseComputed(shot, layer);
  const live = makeLiveLayer(layer, keys);
  const player = makePlayer(shot, { live });
  const at = keys.map((key) => player.channelIndex.get(key) as number);
  let own: readonly number[] = ownValues(shot, layer, keys, frame);
  return {
    player,
    own: () => own,
    aim(wanted) {
      const found = aim(keys, wanted, own, (tried) => {
        live.put(frame, tried);
        player.readValues(frame);
        return at.map((index) => player.values[index]);
      });
      if ("unseen" in found) return false;
      own = found.own;
      live.put(frame, own);
      return true;
    },
  };
}

/** Own values with which `resultOf` answers what is wanted, by Newton's search from `start`; or a channel that no key changes. */
function aim(
  keys: readonly ChannelKey[],
  wanted: Readonly<Record<ChannelKey, number>>,
  start: readonly number[],
  resultOf: (values: readonly number[]) => readonly number[],
): { own: readonly number[] } | { unseen: ChannelKey } {
  const missing = (n: number, result: readonly number[]) => wanted[keys[n]] - result[n];
  const groups = byControl(keys);
  let values = start;
  let now = resultOf(values);
  for (let round = 0; round < ROUNDS && keys.some((_, n) => Math.abs(missing(n, now)) > ENOUGH); round++) {
    // The channels of one control may hang together, those of different ones do not: all are probed at once.
    const probes = Array.from({ length: Math.max(...groups.map((group) => group.length)) }, (_, k) => {
      const more = new Set(groups.map((group) => group[k]));
      return resultOf(values.map((value, n) => (more.has(n) ? value + 1 : value)));
    });
    const next = [...values];
    for (const group of groups) {
      const slope = (r: number, c: number) => probes[group.indexOf(c)][r] - now[r];
      const seen = group.filter((c) => group.some((r) => Math.abs(slope(r, c)) > UNSEEN));
      const steps = solveLinear(
        seen.map((r) => seen.map((c) => slope(r, c))),
        seen.map((r) => missing(r, now)),
      );
      for (const n of group) if (!seen.includes(n) && Math.abs(missing(n, now)) > ENOUGH) return { unseen: keys[n] };
      if (steps) for (const [k, n] of seen.entries()) next[n] += steps[k];
    }
    values = next;
    now = resultOf(values);
  }
  return { own: values };
}

/**
 * The shot in which a layer can be keyed at a frame without any change outside a marked span: its ends are locked.
 * Errors: `bad-setting` where the frame does not lie within the span.
 */
export function spanned(shot: Shot, layer: string, frame: number, keys: readonly ChannelKey[], span: FrameRange | null): Shot {
  if (span === null) return withFirstCurves(shot, layer, keys);
  if (!isNudge(frame, span))
    throw new KneaderError(
      "bad-setting",
      `Frame ${frame} is not between the ends of the marked range, ${span.start}–${span.end}, outside which nothing is to change.`,
      "Move the playhead in between, or clear the range.",
    );
  return withLockedSpan(shot, layer, keys, span);
}

/** Is a key there within a marked span, so that its ends are to be locked? */
export function isNudge(frame: number, span: FrameRange | null): boolean {
  return span !== null && frame > span.start && frame < span.end;
}

function refuseComputed(shot: Shot, layer: string): void {
  const pass = shot.passes.find(({ id }) => id === layer);
  if (pass && computedKind(pass.kind))
    throw new KneaderError("bad-setting", `"${pass.name}" is worked out and takes no keys.`, "Choose a pass to key, or base motion.");
}

function refuseUnseen(shot: Shot, key: ChannelKey, frame: number): never {
  throw new KneaderError(
    "bad-setting",
    `${channelTitle(shot.rig, key)} at frame ${frame}: a key here would not be seen, as the layer is off, has no weight there, is replaced above, or plays at another frame.`,
    "Choose another layer, or turn this one up.",
  );
}

function byControl(keys: readonly ChannelKey[]): number[][] {
  const groups = new Map<string, number[]>();
  keys.forEach((key, n) => {
    const { control } = splitChannelKey(key);
    groups.set(control, [...(groups.get(control) ?? []), n]);
  });
  return [...groups.values()];
}

/** What the layer has there now; a pass without a curve adds nothing, or keeps what is below. */
function ownValues(shot: Shot, layer: string, keys: readonly ChannelKey[], frame: number): number[] {
  const curves = layerCurves(shot, layer);
  const kind = passKind(shot.passes.find((pass) => pass.id === layer)?.kind ?? "");
  const player = makePlayer(shot, { below: layer });
  player.readValues(frame);
  return keys.map((key) => {
    const curve = curves[key];
    if (curve) return sampleCurve(curve, frame);
    const below = player.values[player.channelIndex.get(key) ?? -1] ?? 0;
    return kind?.reads === "keys" ? kind.neutral(below) : below;
  });
}
