import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { setKey } from "../../curve/edit.ts";
import { constantCurve } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { channelKey, rotateChannels, splitChannelKey, type ChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves, type Pass, type Shot } from "../../model/shot.ts";
import { passKind } from "../../passes/kinds.ts";
import type { Operation, Scope } from "../operation.ts";
import { changeCurves, outcome, scopeRange, wantedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({});

/** No-change keys at both ends of a range of a pass, so that what is keyed between them stays there. */
export const lockEnds: Operation<z.infer<typeof settings>> = {
  id: "lock-ends",
  title: "Lock ends",
  group: "Passes",
  help: "Keys the chosen pass at both ends of the range so that it changes nothing there; what is then keyed in between stays between them.",
  guide: {
    use: "Keys a pass at both ends of a range so that it changes nothing there: what is keyed in between stays in between.",
    watch: "Choose the pass first; with nothing picked, what it has keys on is locked.",
  },
  words: "pass bounded zero neutral offset protect start end pin",
  suits: ["a chosen pass"],
  settings,
  needs: ["a chosen pass"],
  async run(shot, scope) {
    const pass = shot.passes.find(({ id }) => id === scope.layer);
    const kind = passKind(pass?.kind ?? "");
    if (!pass || kind?.reads !== "keys")
      throw new KneaderError(
        "bad-setting",
        `Lock ends: ${scope.layer === BASE ? "base motion" : `"${pass?.name}"`} has no ends to lock.`,
        "Choose a pass that adds or replaces.",
      );
    const { start, end } = scopeRange(shot, scope);
    if (end <= start) throw new KneaderError("bad-setting", "Lock ends: the range is a single frame.", "Choose a range.");
    const channels = lockedChannels(shot, scope, pass);
    if (channels.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        `Lock ends: "${pass.name}" has no keys yet, and nothing is picked.`,
        "Pick the controls that should be locked.",
      );
    const after = withLockedEnds(shot, pass.id, channels, [start, end]);
    return outcome(shot, after, `Locked "${pass.name}" at frames ${start} and ${end} on ${countedWord(channels.length, "curve")}`);
  },
};

/** What a pass has keys on, or, where controls are picked, all of their angles too. */
function lockedChannels(shot: Shot, scope: Scope, pass: Pass): ChannelKey[] {
  const curves = layerCurves(shot, pass.id);
  const isAngle = (key: ChannelKey) => (rotateChannels as readonly string[]).includes(splitChannelKey(key).channel);
  return wantedChannels(shot, { ...scope, keys: null }).filter((key) => key in curves || (scope.controls !== null && isAngle(key)));
}

/** Keys that change nothing, on channels of a keyed pass at some frames. */
export function withLockedEnds(shot: Shot, id: string, channels: readonly ChannelKey[], frames: readonly number[]): Shot {
  const pass = shot.passes.find((one) => one.id === id);
  const kind = passKind(pass?.kind ?? "");
  if (!pass || kind?.reads !== "keys") return shot;
  const player = makePlayer(shot, { below: id });
  const changed: Record<ChannelKey, Curve> = {};
  for (const frame of frames) {
    player.readValues(frame);
    for (const key of channels) {
      const at = player.channelIndex.get(key);
      if (at === undefined) continue;
      const value = kind.neutral(player.values[at]);
      const curve = changed[key] ?? pass.curves[key];
      changed[key] = curve ? setKey(curve, frame, value) : constantCurve(value, frame);
    }
  }
  return changeCurves(shot, id, changed);
}

/** The angles of controls, as channel keys. */
export function anglesOf(controls: readonly string[]): ChannelKey[] {
  return controls.flatMap((id) => rotateChannels.map((channel) => channelKey(id, channel)));
}
