import { ledControls } from "../constraints/ledControls.ts";
import { attachSlots } from "../evaluate/attachToCamera.ts";
import { stretchOf, turnFromAffine } from "../maths/decompose.ts";
import { readLocal } from "../figure/localMatrix.ts";
import { scaleOf } from "../figure/localValues.ts";
import { layoutOf, moveAt } from "../figure/rigLayout.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { quatMultiply } from "../maths/rotation.ts";
import type { Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";

/** Place, turn and scale of each control in its parent, at every whole frame of the range, as the figure is seen. */
export interface SampledShot {
  readonly start: number;
  readonly frames: number;
  /** Ten numbers a control a frame, frame by frame: x y z, a unit quaternion, scale (which may be negative). */
  readonly locals: Float64Array;
  /** Controls whose place in the world shears them in their parent, which these numbers cannot say: the nearest is given. */
  readonly sheared: ReadonlySet<string>;
}

/** Numbers a control takes in `locals`. */
export const LOCAL = 10;

/** Controls that are not where their own channels put them: something leads them, or they ride along with a camera. */
export function carriedControls(shot: Shot): Set<string> {
  const led = ledControls(shot);
  attachSlots(shot, activePasses(shot)).forEach((slot, i) => {
    if (slot) led.add(shot.rig.controls[i].id);
  });
  return led;
}

/** Sample passes, follows and all, for formats that hold nothing but joints. */
export function sampleShot(shot: Shot): SampledShot {
  const player = makePlayer(shot);
  const controls = shot.rig.controls;
  const start = Math.floor(shot.range.start);
  const frames = Math.ceil(shot.range.end) - start + 1;
  const locals = new Float64Array(controls.length * frames * LOCAL);
  const led = carriedControls(shot);
  const local = new Float64Array(16);
  const stretch = new Float64Array(9);
  const { parents } = layoutOf(shot.rig);
  const restTurns = controls.map((control) => [...control.restTurn]);
  const sheared = new Set<string>();
  for (let n = 0; n < frames; n++) {
    player.pose(start + n);
    controls.forEach((control, i) => {
      const o = (n * controls.length + i) * LOCAL;
      const scale = scaleOf(player, control.id);
      if (!led.has(control.id)) {
        for (let k = 0; k < 3; k++) locals[o + k] = control.rest[k] + player.values[moveAt(i) + k];
        quatMultiply(locals, o + 3, restTurns[i], 0, player.turns, i * 4);
        for (let k = 0; k < 3; k++) locals[o + 7 + k] = scale[k];
        return;
      }
      readLocal(local, 0, player.worlds, i, parents[i]);
      for (let k = 0; k < 3; k++) locals[o + k] = local[12 + k];
      turnFromAffine(locals, o + 3, local, 0, scale);
      stretchOf(stretch, locals, o + 3, local, 0);
      for (let k = 0; k < 3; k++) locals[o + 7 + k] = stretch[k * 4];
      const size = Math.hypot(stretch[0], stretch[4], stretch[8]);
      if ([1, 2, 3, 5, 6, 7].some((k) => Math.abs(stretch[k]) > 1e-6 * size)) sheared.add(control.id);
    });
  }
  return { start, frames, locals, sheared };
}
