import { makeTrackSet, sampleSet } from "../../curve/trackSet.ts";
import { layoutOf, worldAt } from "../../figure/rigLayout.ts";
import { worldMatrices, worldTurns } from "../../figure/standing.ts";
import type { Clip } from "../../model/clip.ts";
import type { Rig } from "../../model/rig.ts";

/** Poses the figure a clip was taken from, by itself; what the clip does not move is at rest. */
export interface ClipReader {
  /** Values of all channels at a time of the clip, laid out as `layoutOf` says. */
  readonly values: Float64Array;
  read(time: number): void;
  /** Turns in the world, four numbers a control. */
  turns(): Float64Array;
  /** Matrices in the world, sixteen numbers a control. */
  worlds(): Float64Array;
  /** The lowest place a control has. */
  lowest(): number;
}

export function clipReader({ curves, controls }: Pick<Clip, "curves" | "controls">): ClipReader {
  const rig: Rig = { id: "", name: "", figure: null, controls };
  const { channelIndex, rest } = layoutOf(rig);
  const known = Object.entries(curves).flatMap(([key, curve]) => {
    const at = channelIndex.get(key);
    return at === undefined || curve.times.length === 0 ? [] : [{ curve, at }];
  });
  const values = rest.slice();
  const set = makeTrackSet(
    known.map(({ curve }) => curve),
    known.map(({ at }) => at),
  );
  const worlds = () => worldMatrices(rig, values);
  return {
    values,
    read: (time) => sampleSet(set, time, values),
    turns: () => worldTurns(rig, values),
    worlds,
    lowest() {
      const all = worlds();
      let least = Number.POSITIVE_INFINITY;
      controls.forEach(({ role }, i) => {
        if (role === "figure") least = Math.min(least, all[worldAt(i) + 13]);
      });
      return least;
    },
  };
}
