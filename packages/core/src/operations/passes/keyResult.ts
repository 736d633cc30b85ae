import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { solveLinear } from "../../maths/solve.ts";
import { type ChannelKey, channelTitle, splitChannelKey } from "../../model/rig.ts";
import { BASE, type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { computedKind, passKind } from "../../passes/kinds.ts";
import { keyChannels } from "../shared/keyChannels.ts";
import { withLockedSpan } from "./lockSpan.ts";

/** Rounds of the search; one is enough where the result follows the keys in proportion, as it mostly does. */
const ROUNDS = 8;
const ENOUGH = 1e-6;
/** A change of the result smaller than this, for a key changed by 1, is none. */
const UNSEEN = 1e-6;

/**
 * Key channels of a layer at a frame with the values with which all passes together come out as `wanted`.
 * Within a span a pass is nudged: outside it and at its ends nothing changes, and the change comes and goes softly.
 * Errors: `bad-setting` when the layer takes no keys, cannot be nudged, or has no say there: it is off, has no
 * weight, or a pass above replaces it or plays it at another frame.
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
  const shot = isNudge(layer, frame, span) ? withLockedSpan(given, layer, keys, span) : given;
  const { channelIndex } = makePlayer(shot);
  const at = keys.map((key) => {
    const index = channelIndex.get(key);
    if (index === undefined) throw new KneaderError("not-found", `The rig has no channel "${key}".`);
    return index;
  });
  const resultOf = (values: readonly number[]) => {
    const tried = keyChannels(shot, layer, frame, Object.fromEntries(keys.map((key, n) => [key, values[n]])));
    const player = makePlayer(tried);
    player.readValues(frame);
    return { tried, result: at.map((index) => player.values[index]) };
  };
  const missing = (n: number, { result }: { result: readonly number[] }) => wanted[keys[n]] - result[n];
  const groups = byControl(keys);
  let values = ownValues(shot, layer, keys, frame);
  let now = resultOf(values);
  for (let round = 0; round < ROUNDS && keys.some((_, n) => Math.abs(missing(n, now)) > ENOUGH); round++) {
    // The channels of one control may hang together, those of different ones do not: all are probed at once.
    const probes = Array.from({ length: Math.max(...groups.map((group) => group.length)) }, (_, k) => {
      const more = new Set(groups.map((group) => group[k]));
      return resultOf(values.map((value, n) => (more.has(n) ? value + 1 : value))).result;
    });
    const next = [...values];
    for (const group of groups) {
      const slope = (r: number, c: number) => probes[group.indexOf(c)][r] - now.result[r];
      const seen = group.filter((c) => group.some((r) => Math.abs(slope(r, c)) > UNSEEN));
      const steps = solveLinear(
        seen.map((r) => seen.map((c) => slope(r, c))),
        seen.map((r) => missing(r, now)),
      );
      for (const n of group) if (!seen.includes(n) && Math.abs(missing(n, now)) > ENOUGH) refuseUnseen(shot, keys[n], frame);
      if (steps) for (const [k, n] of seen.entries()) next[n] += steps[k];
    }
    values = next;
    now = resultOf(values);
  }
  return now.tried;
}

/** Is a key there within a span of a pass, so that its ends are to be locked? */
export function isNudge(layer: string, frame: number, span: FrameRange | null): span is FrameRange {
  return layer !== BASE && span !== null && frame > span.start && frame < span.end;
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
