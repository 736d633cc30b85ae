import { makePlayer } from "../figure/player.ts";
import { invertAffine, multiplyAffine } from "../figure/matrix.ts";
import type { Shot } from "../model/shot.ts";

/** Matrices of each control in its parent, at every whole frame of the range, as the figure is seen. */
export interface SampledShot {
  readonly start: number;
  readonly frames: number;
  /** Sixteen numbers a control a frame, frame by frame. */
  readonly locals: Float64Array;
}

/** Sample passes, follows and all, for formats that hold nothing but joints. */
export function sampleShot(shot: Shot): SampledShot {
  const player = makePlayer(shot);
  const controls = shot.rig.controls;
  const start = Math.floor(shot.range.start);
  const frames = Math.ceil(shot.range.end) - start + 1;
  const locals = new Float64Array(controls.length * frames * 16);
  const inverse = new Float64Array(16);
  for (let n = 0; n < frames; n++) {
    player.pose(start + n);
    controls.forEach((control, i) => {
      const o = (n * controls.length + i) * 16;
      if (control.parent === null) locals.set(player.worlds.subarray(i * 16, i * 16 + 16), o);
      else {
        invertAffine(inverse, 0, player.worlds, (player.controlIndex.get(control.parent) as number) * 16);
        multiplyAffine(locals, o, inverse, 0, player.worlds, i * 16);
      }
    });
  }
  return { start, frames, locals };
}
