import type { Curve } from "../curve/curve.ts";
import type { ChannelKey } from "./rig.ts";
import type { Rate } from "./shot.ts";

/** Keys lifted off a layer, to be pasted elsewhere. */
export interface Clip {
  readonly rate: Rate;
  /** The frame at which its first key stood; times of the curves count from there. */
  readonly from: number;
  /** Frames from the first key to the last. */
  readonly length: number;
  /** Curves were lifted as a whole, not keys of them. */
  readonly whole: boolean;
  /** By channel, in the order in which they were picked. */
  readonly curves: Readonly<Record<ChannelKey, Curve>>;
  /** The controls those channels belong to, for finding them by name. */
  readonly controls: readonly { readonly id: string; readonly name: string }[];
}
