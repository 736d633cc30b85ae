import type { Control, Rig } from "../../model/rig.ts";

/** A way to find the control of a rig that takes what a control of a clip did: one file, and one line in `strategies.ts`. */
export interface Strategy {
  readonly id: string;
  /** Made ready for a rig: answers the control that is meant, or undefined. */
  prepare(rig: Rig): (control: Pick<Control, "id" | "name">) => Control | undefined;
}
