import { isScenery, type Shot } from "@kneader/core";
import { playerFor } from "./players.ts";

export interface Framing {
  readonly centre: [number, number, number];
  /** Half the largest extent. */
  readonly radius: number;
  readonly floor: number;
}

const framings = new WeakMap<Shot["rig"], Framing>();

/** Where the figure is over the shot: its middle, size and the lowest point. Kept per rig, so that edits do not shake the cameras. */
export function framingOf(shot: Shot): Framing {
  const kept = framings.get(shot.rig);
  if (kept) return kept;
  const player = playerFor(shot);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const { start, end } = shot.range;
  for (let n = 0; n <= 12; n++) {
    player.pose(Math.round(start + ((end - start) * n) / 12));
    shot.rig.controls.forEach((control, i) => {
      if (isScenery(control)) return;
      for (let k = 0; k < 3; k++) {
        const value = player.worlds[i * 16 + 12 + k];
        low[k] = Math.min(low[k], value);
        high[k] = Math.max(high[k], value);
      }
    });
  }
  const middle = (k: number) => (low[k] + high[k]) / 2;
  const framing: Framing = {
    centre: [middle(0), middle(1), middle(2)],
    radius: Math.max(high[1] - low[1], (high[0] - low[0]) * 0.75, 0.01) * 0.62,
    floor: shot.set === "landing" ? 0 : low[1],
  };
  framings.set(shot.rig, framing);
  return framing;
}
