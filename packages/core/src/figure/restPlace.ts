import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import { matrixFromQuat, quatFromMatrix } from "../maths/rotation.ts";
import { layoutOf, worldAt } from "./rigLayout.ts";
import type { Control, Rig } from "../model/rig.ts";

/** A control's matrix at rest in the space of the one above it. */
export function restLocal({ rest, restTurn }: Control): Float64Array {
  const matrix = new Float64Array(16);
  matrixFromQuat(matrix, 0, 4, [...restTurn], 0);
  for (let k = 0; k < 3; k++) matrix[12 + k] = rest[k];
  matrix[15] = 1;
  return matrix;
}

const IDENTITY = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
const known = new WeakMap<Rig, Float64Array>();

/** Where every control of a rig stands in the world at rest, sixteen numbers each; worked out once. Not to be written to. */
export function restWorlds(rig: Rig): Float64Array {
  const worlds = known.get(rig) ?? standAtRest(rig);
  known.set(rig, worlds);
  return worlds;
}

function standAtRest(rig: Rig): Float64Array {
  const { parents } = layoutOf(rig);
  const worlds = new Float64Array(rig.controls.length * 16);
  rig.controls.forEach((control, i) => {
    const local = restLocal(control);
    if (parents[i] < 0) worlds.set(local, i * 16);
    else multiplyAffine(worlds, i * 16, worlds, parents[i] * 16, local, 0);
  });
  return worlds;
}

/** Where a control rests in the frame of another at rest (`id`), null being the world: an affine matrix by columns. */
export function restUnderOf(rig: Rig, id: string | null, other: string | null): Float64Array {
  const out = new Float64Array(16);
  const rest = restWorlds(rig);
  const { controlIndex } = layoutOf(rig);
  const at = (one: string | null) => (one === null ? undefined : controlIndex.get(one));
  const [from, to] = [at(id), at(other)];
  if (from === undefined) out.set(IDENTITY);
  else invertAffine(out, 0, rest, worldAt(from));
  multiplyAffine(out, 0, out, 0, to === undefined ? IDENTITY : rest, to === undefined ? 0 : worldAt(to));
  return out;
}

/** The rest place and turn with which a control rests where it did, under another control (null: the world). */
export function restUnder(rig: Rig, control: Control, parent: string | null): Pick<Control, "rest" | "restTurn"> {
  const local = restUnderOf(rig, parent, control.id);
  const turn = [0, 0, 0, 1];
  quatFromMatrix(turn, 0, local, 0, 4);
  return { rest: [local[12], local[13], local[14]], restTurn: [turn[0], turn[1], turn[2], turn[3]] };
}
