import { z } from "zod";
import { layoutOf, worldAt } from "../figure/rigLayout.ts";
import { restLocal } from "../figure/restPlace.ts";
import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import { controlById } from "../model/rig.ts";
import type { ConstraintKind } from "./constraintKind.ts";

const settings = z.object({
  carrier: z.string(),
  /** What it carries, none of which hangs on another of them. */
  controls: z.array(z.string()).min(1),
});
export type CarrySettings = z.infer<typeof settings>;

/** Where the carrier rests, and by control whether it hangs on what is carried. */
interface Prepared {
  readonly rest: Float64Array;
  readonly below: Uint8Array;
}

const own = new Float64Array(16);
const moved = new Float64Array(16);

/**
 * Controls go along with a carrier: whatever it moves and turns from where it rests under what it hangs on, they move and
 * turn with it. While it rests they are where they are, to the last bit.
 */
export const carry: ConstraintKind<CarrySettings, Prepared> = {
  id: "carry",
  title: "Carrier",
  help: "An extra control carries others: what it moves and turns goes on top of what they do, wherever they hang.",
  settings,
  channels: () => [],
  each: true,
  reads: ({ carrier }) => [carrier],
  writes: ({ controls }) => controls,
  keepsOwn: () => true,
  scaled: (given) => given,
  prepare({ carrier, controls }, rig) {
    const control = controlById(rig, carrier);
    const { parents } = layoutOf(rig);
    const below = new Uint8Array(rig.controls.length);
    rig.controls.forEach(({ id }, i) => {
      below[i] = controls.includes(id) || (parents[i] >= 0 && below[parents[i]] === 1) ? 1 : 0;
    });
    return { rest: control ? restLocal(control) : new Float64Array(16), below };
  },
  apply(standing, { prepared: { rest, below }, reads, writes }) {
    const { worlds, parents, livesIn } = standing;
    const [carrier] = reads;
    standing.own(own, 0, carrier);
    if (own.every((value, k) => value === rest[k]) && !isLed(worlds, carrier, parents[carrier], rest)) return;
    // From where it rests now to where it is: C · (P · R)⁻¹.
    if (parents[carrier] < 0) moved.set(rest);
    else multiplyAffine(moved, 0, worlds, worldAt(parents[carrier]), rest, 0);
    invertAffine(moved, 0, moved, 0);
    multiplyAffine(moved, 0, worlds, worldAt(carrier), moved, 0);
    for (const i of writes) {
      // What lives in the hand of a figure that is carried has been carried with it.
      if (livesIn[i] >= 0 && below[livesIn[i]] === 1) continue;
      multiplyAffine(worlds, worldAt(i), moved, 0, worlds, worldAt(i));
    }
  },
};

/** Is a control that rests elsewhere than under what it hangs on? */
function isLed(worlds: Float64Array, control: number, parent: number, rest: Float64Array): boolean {
  const o = worldAt(control);
  if (parent < 0) moved.set(rest);
  else multiplyAffine(moved, 0, worlds, worldAt(parent), rest, 0);
  const size = Math.abs(moved[12]) + Math.abs(moved[13]) + Math.abs(moved[14]) + 1;
  for (let k = 0; k < 16; k++) if (Math.abs(worlds[o + k] - moved[k]) > 1e-12 * size) return true;
  return false;
}
