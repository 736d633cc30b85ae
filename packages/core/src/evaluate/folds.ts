import { trackOf } from "../curve/track.ts";
import type { Over } from "../curve/trackSet.ts";
import type { Curve } from "../curve/curve.ts";
import type { Pass } from "../model/shot.ts";
import type { KeyedPassKind, Mix } from "../passes/passKind.ts";

/** How a pass joins what is below it where that is the same at all frames; null where it is not. */
export function steadyMix({ weight, range }: Pass, kind: KeyedPassKind): Mix | null {
  return range === null && weight.times.length === 1 ? kind.mix(weight.values[0]) : null;
}

/** Has a pass no weight at any frame, so that what is below is left as it is, to the last bit? */
export function isWeightless({ weight }: Pass): boolean {
  return weight.times.length === 1 && weight.values[0] === 0;
}

/** Captured curves (and such of one value) of passes that are mixed into those of base motion once for many frames, by channel. */
export interface Folds {
  readonly overs: ReadonlyMap<number, Over[]>;
  /** Mix a pass's curve in, if everything below it on that channel was such and mixed in too. */
  take(channel: number, node: number, over: Over): boolean;
  /** Something on this channel is read frame by frame; what is above it must be too. */
  close(channel: number): void;
}

export function makeFolds(
  base: readonly { readonly node: number; readonly curves: readonly Curve[]; readonly places: readonly number[] }[],
): Folds {
  const open = new Map<number, number>();
  for (const { node, curves, places } of base)
    for (const [n, curve] of curves.entries()) if (trackOf(curve).byFrame) open.set(places[n], node);
  const overs = new Map<number, Over[]>();
  return {
    overs,
    take(channel, node, over) {
      if (open.get(channel) !== node || !trackOf(over.curve).byFrame) return false;
      overs.set(channel, [...(overs.get(channel) ?? []), over]);
      return true;
    },
    close: (channel) => open.delete(channel),
  };
}
