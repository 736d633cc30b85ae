import { makePlayer } from "../../evaluate/makePlayer.ts";
import { type Stand, standOf } from "../../figure/carryStand.ts";
import { DEG } from "../../maths/rotation.ts";
import type { Clip } from "../../model/clip.ts";
import { channelKey, type Control } from "../../model/rig.ts";
import { BASE, type Shot } from "../../model/shot.ts";
import { type PlaySettings, standIn, travellersIn } from "../../passes/play.ts";

/** Where an action is carried on: at a frame of the shot, one of its own is matched with it; what is read there. */
export interface CarryTold {
  readonly layer: string;
  /** Frame of the shot, and of the clip. */
  readonly at: number;
  readonly match: number;
}

/**
 * Where what travels in a clip stands at its frame, and where it must to go on from where the figure stands and faces.
 * What hangs on the same is carried together, by what carries the most of it. Heights are kept, so that feet stay on the
 * ground.
 */
export function carriedStands(shot: Shot, clip: Clip, { layer, at, match }: CarryTold): PlaySettings["stands"] {
  const travellers = travellersIn(clip, shot.rig);
  if (travellers.length === 0) return {};
  const player = makePlayer(shot, layer === BASE ? { below: BASE } : { free: true });
  player.readValues(at);
  const inShot = (control: Control): Stand =>
    standOf(control, (channel) => player.values[player.channelIndex.get(channelKey(control.id, channel)) as number]);
  const stands: Record<string, { from: Stand; to: Stand; match: number }> = {};
  for (const group of groupsOf(travellers)) {
    const chief = chiefOf(shot, group);
    const [from, to] = [standIn(chief, clip.curves, match), inShot(chief)];
    for (const control of group) {
      const stand = standIn(control, clip.curves, match);
      stands[control.id] = { from: stand, to: moved(stand, from, to, control === chief), match };
    }
  }
  return stands;
}

/** A stand taken along as another is carried from one place to another. */
function moved(stand: Stand, from: Stand, to: Stand, isChief: boolean): Stand {
  if (isChief) return to;
  const turned = to.heading - from.heading;
  const [sin, cos] = [Math.sin(turned * DEG), Math.cos(turned * DEG)];
  const [x, z] = [stand.x - from.x, stand.z - from.z];
  return { x: to.x + cos * x + sin * z, z: to.z - sin * x + cos * z, heading: stand.heading + turned };
}

function groupsOf(travellers: readonly Control[]): Control[][] {
  const groups = new Map<string | null, Control[]>();
  for (const control of travellers) groups.set(control.parent, [...(groups.get(control.parent) ?? []), control]);
  return [...groups.values()];
}

/** Of several the one on which the most hangs. */
function chiefOf({ rig }: Shot, group: readonly Control[]): Control {
  const below = new Map<string, number>();
  for (const control of [...rig.controls].reverse()) {
    const own = (below.get(control.id) ?? 0) + 1;
    below.set(control.id, own);
    if (control.parent !== null) below.set(control.parent, (below.get(control.parent) ?? 0) + own);
  }
  return group.reduce((best, one) => ((below.get(one.id) ?? 0) > (below.get(best.id) ?? 0) ? one : best));
}
