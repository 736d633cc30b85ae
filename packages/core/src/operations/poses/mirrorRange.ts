import { z } from "zod";
import { type Curve, HOLD, makeKey, Tangent } from "../../curve/curve.ts";
import { insertKeyOn, shiftFrom } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { keptKeys } from "../../curve/someKeys.ts";
import { keeping } from "../../curve/make.ts";
import { sealRange } from "../../curve/sealRange.ts";
import { KneaderError } from "../../errors.ts";
import { inPieces } from "../../inPieces.ts";
import { type Clip, controlsFor } from "../../model/clip.ts";
import { type ChannelKey, channelKey, controlById, restValue, splitChannelKey } from "../../model/rig.ts";
import { BASE, type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import type { Operation, Scope } from "../operation.ts";
import { replacingPass } from "../shared/firstCurves.ts";
import { joinCurve } from "../shared/joinCurve.ts";
import { layerPose } from "../shared/layerPose.ts";
import { mirrorContacts } from "../shared/mirrorContacts.ts";
import { mirrorReport } from "../shared/mirrorReport.ts";
import { mirrorOptions, rangeMirror } from "../shared/mirrorSettings.ts";
import { overwrittenKeys, sayOverwritten } from "../shared/overwritten.ts";
import { changeCurves, channelsMeant, isWhole, needSomething, outcome, scopeRange, wantedChannels } from "../shared/scope.ts";
import { mirrorSteps } from "./mirrorClip.ts";
import { keyTimes } from "./poses.ts";

const settings = z.object(rangeMirror);

/** Mirror the motion of a range in place. */
export const mirrorRange: Operation<z.infer<typeof settings>> = {
  id: "mirror-range",
  title: "Mirror range",
  group: "Poses",
  help: "The whole motion of the range, left and right exchanged, in place; of picked controls, each takes its partner's motion mirrored.",
  guide: {
    use: "Turns a whole performance to the other side: a wave with the other hand, a hop off the other foot.",
    watch: "Keys of the range are overwritten. At the ends of a range within the shot the motion jumps to the other side.",
  },
  movesPoses: true,
  ofLayerAlone: true,
  words: "flip reflect symmetry left right motion whole swap sides opposite",
  suits: ["a marked range"],
  settings,
  async run(shot, scope, s, context) {
    const range = scopeRange(shot, scope);
    const layer = scope.layer;
    const options = mirrorOptions(shot, s, layerPose(shot, layer, range.start), layerPose(shot, layer, range.end));
    const asTheyAre = holdsAllKeys(shot, scope, range);
    const clip = liftBothSides(shot, scope, range, asTheyAre);
    const steps = mirrorSteps(shot, clip, layer === BASE ? shot.base : {}, options);
    const image = await inPieces(steps, (share) => context.breathe(0.9 * share));
    const wanted = new Set(wantedChannels(shot, scope));
    const curves = layerCurves(shot, layer);
    const changed: Record<ChannelKey, Curve> = {};
    for (const [key, curve] of Object.entries(image.curves)) {
      await context.breathe(0.9);
      if (!wanted.has(key)) continue;
      const laid = shiftFrom(curve, Number.NEGATIVE_INFINITY, range.start);
      // What has no keys and is given none that change anything stays without.
      if (!(key in curves) && isRest(laid, key)) continue;
      changed[key] = asTheyAre ? laid : inPlace(shot, key, curves[key], laid, range);
    }
    needSomething(Object.keys(changed), "Mirror range");
    const isMoved = (id: string) => Object.keys(changed).some((key) => splitChannelKey(key).control === id);
    const moved = changeCurves(shot, layer, changed);
    const after = layer === BASE ? mirrorContacts(moved, range, 0, true, isMoved) : moved;
    const overwritten = overwrittenKeys(shot, after, layer, range);
    const times = keyTimes(shot, layer, Object.keys(curves)).filter((time) => time >= range.start && time <= range.end);
    const found = mirrorReport(
      shot,
      after,
      scope,
      times.map((time) => [time, time]),
      options,
    );
    return outcome(shot, after, `Mirrored frames ${range.start} to ${range.end}`, {
      warnings: [...sayOverwritten(overwritten), ...found.warnings],
      notes: found.notes,
      off: found.off,
      overwritten,
    });
  },
};

/** The channels in scope with those of all partners, which may not be picked themselves. */
function bothSides(shot: Shot, scope: Scope): ChannelKey[] {
  return isWhole(scope) ? channelsMeant(shot, scope) : channelsMeant(shot, { ...scope, controls: null, channels: null, keys: null });
}

/** Is a span the whole shot with all its keys, so that curves can be taken as they are, rounds and all? */
function holdsAllKeys(shot: Shot, scope: Scope, { start, end }: FrameRange): boolean {
  if (start > shot.range.start || end < shot.range.end) return false;
  const curves = layerCurves(shot, scope.layer);
  return bothSides(shot, scope).every((key) => {
    const times = curves[key]?.times ?? [];
    return times.length === 0 || (times[0] >= start - 1e-6 && times[times.length - 1] <= end + 1e-6);
  });
}

/**
 * The curves of a span with keys at both of its ends (or `asTheyAre`), of those in scope and of all that mirrored ones are
 * worked out from. One that only its partner has is there as it rests. Errors: `nothing-in-scope`.
 */
export function liftBothSides(shot: Shot, scope: Scope, { start, end }: FrameRange, asTheyAre = false): Clip {
  const curves = layerCurves(shot, scope.layer);
  const meant = bothSides(shot, scope);
  const lifted: Record<ChannelKey, Curve> = {};
  // What a replacing pass does not have goes on as it is below it; a scale that is not added to has no value for that.
  const takesNeutral = (channel: string) => scope.layer === BASE || (!replacingPass(shot, scope.layer) && !channel.startsWith("scale"));
  for (const key of meant) {
    const { control, channel } = splitChannelKey(key);
    const other = controlById(shot.rig, control)?.partner;
    if (key in curves) lifted[key] = shiftFrom(asTheyAre ? curves[key] : partOf(curves[key], start, end), Number.NEGATIVE_INFINITY, -start);
    else if (other && channelKey(other, channel) in curves && takesNeutral(channel))
      lifted[key] = steady(0, end - start, scope.layer === BASE ? restValue(channel) : 0);
  }
  if (Object.keys(lifted).length === 0)
    throw new KneaderError("nothing-in-scope", "There is no motion to mirror here.", "Pick controls that have keys, or the whole figure.");
  return {
    rate: shot.rate,
    from: start,
    length: end - start,
    whole: false,
    curves: lifted,
    controls: controlsFor(shot.rig, Object.keys(lifted)),
    figure: shot.rig.figure,
  };
}

/** What lies between two frames, with keys at both; kinds of tangents stay where they point as before. */
function partOf(curve: Curve, start: number, end: number): Curve {
  const cut = insertKeyOn(insertKeyOn(curve, start), end);
  if (cut.times[0] >= start - 1e-6 && cut.times[cut.times.length - 1] <= end + 1e-6) return { ...cut, runIn: HOLD, runOut: HOLD };
  return keeping({ ...keptKeys(cut, (time) => time >= start - 1e-6 && time <= end + 1e-6), runIn: HOLD, runOut: HOLD });
}

/** A curve that stays at a value over a span. */
export const steady = (start: number, end: number, value: number): Curve =>
  curveFromKeys((end > start ? [start, end] : [start]).map((time) => makeKey(time, value, Tangent.auto)));

function isRest({ values, slopeIn, slopeOut }: Curve, key: ChannelKey): boolean {
  const rest = restValue(splitChannelKey(key).channel);
  return (
    values.every((value) => Math.abs(value - rest) < 1e-12) &&
    slopeIn.every((slope) => slope === 0) &&
    slopeOut.every((slope) => slope === 0)
  );
}

/** Keys laid into a span of a curve. A frame outside it the motion is what it was. */
function inPlace(shot: Shot, key: ChannelKey, present: Curve | undefined, laid: Curve, { start, end }: FrameRange): Curve {
  const beside = { start: start > shot.range.start ? start - 1 : start, end: end < shot.range.end ? end + 1 : end };
  if (present) {
    // Also where it holds a value there, before its first key or after its last.
    const ended = [beside.start, beside.end].filter((time) => time < start || time > end).reduce(insertKeyOn, present);
    return sealRange(ended, joinCurve(ended, laid, "replace"), beside);
  }
  // A channel that had no key is at rest there.
  const rest = restValue(splitChannelKey(key).channel);
  const outside = [beside.start, beside.end].filter((time) => time < start || time > end);
  const resting = curveFromKeys(outside.map((time) => makeKey(time, rest, Tangent.flat)));
  return joinCurve(resting, laid, "replace");
}
