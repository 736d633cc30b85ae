import { type Track, trackOf } from "../curve/track.ts";
import type { Pass, Shot } from "../model/shot.ts";
import { STEPPING_ATTACHED, steppingPass, steppingSettings } from "../passes/stepping.ts";
import { layoutOf } from "../figure/rigLayout.ts";

/** A control that, while a stepping pass holds a frame, keeps the place it had before the camera in that frame. */
export interface AttachSlot {
  readonly pass: Pass;
  readonly weight: Track;
  readonly read: (frame: number) => number;
  /** Place of the camera in the rig. */
  readonly camera: number;
  /** On from 0.5 upward; null: always. */
  readonly on: Track | null;
}

/** The attached controls by their place in the rig. A control is not attached to a camera that moves with it. */
export function attachSlots(shot: Shot, active: readonly Pass[]): (AttachSlot | undefined)[] {
  const slots: (AttachSlot | undefined)[] = [];
  const { controlIndex } = layoutOf(shot.rig);
  for (const pass of active) {
    if (pass.kind !== steppingPass.id) continue;
    const { attach } = steppingSettings(pass);
    if (attach === null || movesWith(shot, attach.camera, attach.control)) continue;
    const control = controlIndex.get(attach.control);
    const camera = controlIndex.get(attach.camera);
    if (control === undefined || camera === undefined) continue;
    const on = pass.curves[STEPPING_ATTACHED];
    slots[control] = {
      pass,
      weight: trackOf(pass.weight),
      read: steppingPass.reader(pass, shot)(attach.control),
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
