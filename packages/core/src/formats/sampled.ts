import { ledControls } from "../constraints/ledControls.ts";
import { rideSlots } from "../evaluate/rideAlong.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { readLocal } from "../figure/localMatrix.ts";
import { scaleOf } from "../figure/localValues.ts";
import { layoutOf, moveAt } from "../figure/rigLayout.ts";
import { stretchOf, turnFromAffine } from "../maths/decompose.ts";
import { quatMultiply } from "../maths/rotation.ts";
import type { Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";

/** Place, turn and scale of each control in its parent, at every sample of the range, as the figure is seen. */
export interface SampledShot {
  /** The frames at which it was looked at. */
  readonly times: Float64Array;
  /** Ten numbers a control a sample, sample by sample: x y z, a unit quaternion, scale (which may be negative). */
  readonly locals: Float64Array;
  /** Controls whose place in the world shears them in their parent, which these numbers cannot say: the nearest is given. */
  readonly sheared: ReadonlySet<string>;
}

/** How a shot is looked at. */
interface Sampling {
  /** Frames from one sample to the next. */
  readonly step?: number;
  /** By control id, the control in whose space it is wanted where that is not the one above it; null for the world. */
  readonly under?: ReadonlyMap<string, string | null>;
  /** Told now and then what share of the samples is there, 0..1. */
  progress?(share: number): void;
}

/** Numbers a control takes in `locals`. */
export const LOCAL = 10;
/** Whoever waits is told how far it is every so many frames. */
export const TOLD = 50;

/** Controls that are not where their own channels put them: something leads them, or they ride along with a camera. */
export function carriedControls(shot: Shot): Set<string> {
  const led = ledControls(shot);
  rideSlots(shot, activePasses(shot)).forEach((slot, i) => {
    if (slot) led.add(shot.rig.controls[i].id);
  });
  return led;
}

/** Sample passes, constraints and all, for formats that hold nothing but joints. */
export function sampleShot(shot: Shot, { step = 1, under = new Map(), progress }: Sampling = {}): SampledShot {
  const player = makePlayer(shot);
  const controls = shot.rig.controls;
  const start = Math.floor(shot.range.start);
  const end = Math.ceil(shot.range.end);
  const times = Float64Array.from({ length: Math.floor((end - start) / step + 1e-9) + 1 }, (_, n) => start + n * step);
  const locals = new Float64Array(controls.length * times.length * LOCAL);
  const led = carriedControls(shot);
  const local = new Float64Array(16);
  const stretch = new Float64Array(9);
  const layout = layoutOf(shot.rig);
  const parents = controls.map(({ id }, i) => {
    const above = under.get(id);
    return above === undefined ? layout.parents[i] : above === null ? -1 : (layout.controlIndex.get(above) ?? -1);
  });
  const restTurns = controls.map((control) => [...control.restTurn]);
  const sheared = new Set<string>();
  times.forEach((time, n) => {
    if (n % TOLD === 0) progress?.(n / times.length);
    player.pose(time);
    controls.forEach((control, i) => {
      const o = (n * controls.length + i) * LOCAL;
      const scale = scaleOf(player, control.id);
      if (!led.has(control.id) && !under.has(control.id)) {
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
  });
  return { times, locals, sheared };
}
