import { z } from "zod";
import { layoutOf, worldAt } from "../figure/rigLayout.ts";
import { restUnderOf } from "../figure/restPlace.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { controlById, type Rig } from "../model/rig.ts";
import type { ConstraintKind } from "./constraintKind.ts";

const settings = z.object({
  control: z.string(),
  /** What it may live in: ids of controls, null for the world. The channel says which one by its place in this list, counted from 0. */
  spaces: z.array(z.string().nullable()).min(1),
});
export type SpaceSettings = z.infer<typeof settings>;

/** What of a rig a space needs: by space, the frame in which the control rests; null where that is the control it hangs on. */
type Frames = readonly (Float64Array | null)[];

const own = new Float64Array(16);
const frame = new Float64Array(16);

/**
 * A control lives in a space: its channels say where it is there, and it goes along with that. In every space its channels
 * at rest leave it where it rests. In the space of what it hangs on nothing is changed, to the last bit.
 */
export const space: ConstraintKind<SpaceSettings, Frames> = {
  id: "space",
  title: "Space",
  help: "What a control moves relative to, over time: the world, what it hangs on, or any other control.",
  settings,
  channels: () => [{ name: "space", otherwise: 0 }],
  reads: ({ spaces }) => spaces.filter((id) => id !== null),
  writes: ({ control }) => [control],
  keepsOwn: () => true,
  scaled: (given) => given,
  prepare({ control, spaces }, rig) {
    const parent = controlById(rig, control)?.parent ?? null;
    return spaces.map((id) => (id === parent ? null : restUnderOf(rig, id, parent)));
  },
  apply(standing, { settings: { spaces }, prepared, reads, writes, values }) {
    const at = spaceAt(spaces.length, values[0]);
    const rest = prepared[at];
    standing.livesIn[writes[0]] = -1;
    if (rest === null) return;
    const { worlds } = standing;
    standing.own(own, 0, writes[0]);
    if (spaces[at] === null) multiplyAffine(worlds, worldAt(writes[0]), rest, 0, own, 0);
    else {
      let read = 0;
      for (let n = 0; n < at; n++) if (spaces[n] !== null) read++;
      standing.livesIn[writes[0]] = reads[read];
      multiplyAffine(frame, 0, worlds, worldAt(reads[read]), rest, 0);
      multiplyAffine(worlds, worldAt(writes[0]), frame, 0, own, 0);
    }
  },
};

/** The place in the list of spaces that a value of the channel means. */
export function spaceAt(count: number, value: number): number {
  return Math.min(count - 1, Math.max(0, Math.round(value)));
}

/** Writes the matrix in which a control's own channels are told while it lives in a space (null: the world), for a figure that is posed. */
export function spaceFrame(rig: Rig, control: string, id: string | null): (out: Float64Array, worlds: Float64Array) => void {
  const parent = controlById(rig, control)?.parent ?? null;
  const at = id === null ? undefined : layoutOf(rig).controlIndex.get(id);
  const rest = id === parent ? IDENTITY : restUnderOf(rig, id, parent);
  return (out, worlds) => {
    if (at === undefined) out.set(rest);
    else multiplyAffine(out, 0, worlds, worldAt(at), rest, 0);
  };
}

const IDENTITY = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
