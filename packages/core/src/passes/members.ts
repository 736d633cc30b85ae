import { type ChannelKey, channelKey, controlById, isScenery, moveChannels, rotateChannels, splitChannelKey } from "../model/rig.ts";
import type { Pass, Shot } from "../model/shot.ts";
import { computedKind } from "./kinds.ts";
import { steppingPass, steppingSettings } from "./stepping.ts";

/**
 * The channels a computed pass works on. The three angles of a control go together: read at different
 * frames they would make a turn that is in neither. Channels the rig no longer has are left out.
 */
export function passMembers(shot: Pick<Shot, "rig">, pass: Pass): ChannelKey[] {
  if (pass.members === null)
    return shot.rig.controls
      .filter((control) => !isScenery(control))
      .flatMap((control) => control.channels.map((channel) => channelKey(control.id, channel)));
  const members = new Set<ChannelKey>();
  for (const key of pass.members) {
    const { control, channel } = splitChannelKey(key);
    if (!controlById(shot.rig, control)) continue;
    if (channel.startsWith("rotate")) for (const angle of rotateChannels) members.add(channelKey(control, angle));
    else members.add(key);
  }
  return [...members];
}

/** The channels a pass may change: its members, or those it has keys on. Composing as rotations changes all three angles. */
export function changedBy(shot: Shot, pass: Pass): ChannelKey[] {
  if (computedKind(pass.kind)) {
    const brought = new Set(computedKind(pass.kind)?.brings?.(pass));
    return [...new Set([...passMembers(shot, pass).filter((key) => brought.has(key) || hasMotion(shot, key)), ...ridden(pass)])];
  }
  const changed = new Set<ChannelKey>();
  for (const key of Object.keys(pass.curves)) {
    const { control, channel } = splitChannelKey(key);
    if (!controlById(shot.rig, control)) continue;
    if (pass.compose === "rotation" && channel.startsWith("rotate"))
      for (const angle of rotateChannels) changed.add(channelKey(control, angle));
    else changed.add(key);
  }
  return [...changed];
}

/** What moves as long as a control rides along with the camera. */
function ridden(pass: Pass): ChannelKey[] {
  const rides = pass.kind === steppingPass.id ? steppingSettings(pass).rides : null;
  return rides ? [...moveChannels, ...rotateChannels].map((channel) => channelKey(rides.control, channel)) : [];
}

/** Does base motion or a pass move a channel? One that composes rotations moves all three angles of a control. */
function hasMotion(shot: Shot, key: ChannelKey): boolean {
  const { control, channel } = splitChannelKey(key);
  const angles = channel.startsWith("rotate") ? rotateChannels.map((angle) => channelKey(control, angle)) : [];
  const moves = (pass: Pass) =>
    key in pass.curves ||
    (computedKind(pass.kind)?.brings?.(pass).includes(key) ?? false) ||
    (pass.compose === "rotation" && angles.some((angle) => angle in pass.curves));
  return key in shot.base || shot.passes.some(moves);
}
