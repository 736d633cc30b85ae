import { type Track, trackOf } from "../curve/track.ts";
import type { Pass, Shot } from "../model/shot.ts";
import { STEPPING_RIDES, steppingPass, steppingSettings } from "../passes/stepping.ts";
import { layoutOf } from "../figure/rigLayout.ts";

/** A control that, while a stepping pass holds a frame, keeps the place it had before the camera in that frame. */
export interface RideSlot {
  readonly pass: Pass;
  readonly weight: Track;
  readonly read: (frame: number) => number;
  /** Place of the camera in the rig. */
  readonly camera: number;
  /** On from 0.5 upward; null: always. */
  readonly on: Track | null;
}

/** The controls that ride along by their place in the rig. A control does not ride along with a camera that moves with it. */
export function rideSlots(shot: Shot, active: readonly Pass[]): (RideSlot | undefined)[] {
  const slots: (RideSlot | undefined)[] = [];
  const { controlIndex } = layoutOf(shot.rig);
  for (const pass of active) {
    if (pass.kind !== steppingPass.id) continue;
    const { rides } = steppingSettings(pass);
    if (rides === null || movesWith(shot, rides.camera, rides.control)) continue;
    const control = controlIndex.get(rides.control);
    const camera = controlIndex.get(rides.camera);
    if (control === undefined || camera === undefined) continue;
    const on = pass.curves[STEPPING_RIDES];
    slots[control] = {
      pass,
      weight: trackOf(pass.weight),
      read: steppingPass.reader(pass, shot)(rides.control),
      camera,
      on: on ? trackOf(on) : null,
    };
  }
  return slots;
}

/** Is a control the other one, or somewhere below it? */
export function movesWith({ rig }: Pick<Shot, "rig">, control: string, other: string): boolean {
  const parents = new Map(rig.controls.map(({ id, parent }) => [id, parent]));
  for (let at: string | null = control; at !== null; at = parents.get(at) ?? null) if (at === other) return true;
  return false;
}
