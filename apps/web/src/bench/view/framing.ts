import { figureControls, type Player, type Rig, type Shot } from "@kneader/core";
import { playerFor } from "./players.ts";

export interface Framing {
  readonly centre: [number, number, number];
  /** Half the largest extent. */
  readonly radius: number;
  readonly floor: number;
}

const framings = new WeakMap<Shot["rig"], Framing>();

type Place = [number, number, number];

/** The least and the most in each direction. */
class Box {
  private readonly low: Place = [Infinity, Infinity, Infinity];
  private readonly high: Place = [-Infinity, -Infinity, -Infinity];

  add({ worlds }: Player, control: number): void {
    for (let k = 0; k < 3; k++) {
      const value = worlds[control * 16 + 12 + k];
      this.low[k] = Math.min(this.low[k], value);
      this.high[k] = Math.max(this.high[k], value);
    }
  }

  get centre(): Place {
    return [0, 1, 2].map((k) => (this.low[k] + this.high[k]) / 2) as Place;
  }

  get size(): Place {
    return [0, 1, 2].map((k) => this.high[k] - this.low[k]) as Place;
  }

  get floor(): number {
    return this.low[1];
  }
}

/** Where the figure is over the shot: its middle, size and the lowest point. Kept per rig, so that edits do not shake the cameras. */
export function framingOf(shot: Shot): Framing {
  const kept = framings.get(shot.rig);
  if (kept) return kept;
  const player = playerFor(shot);
  const box = new Box();
  const { start, end } = shot.range;
  const own = figureControls(shot.rig).map(({ id }) => player.controlIndex.get(id) as number);
  for (let n = 0; n <= 12; n++) {
    player.pose(Math.round(start + ((end - start) * n) / 12));
    for (const control of own) box.add(player, control);
  }
  const [width, height] = box.size;
  const framing: Framing = {
    centre: box.centre,
    radius: Math.max(height, width * 0.75, 0.01) * 0.62,
    floor: shot.set === "landing" ? 0 : box.floor,
  };
  framings.set(shot.rig, framing);
  return framing;
}

/** Around some controls with what hangs on them, or around the figure, as a posed player has them: middle and radius, with room for flesh. */
export function boundsOf(rig: Rig, player: Player, picked: readonly string[]): { centre: Place; radius: number } {
  const meant = new Set(
    picked.length > 0
      ? picked
      : figureControls(rig)
          .filter(({ role }) => role !== "prop")
          .map(({ id }) => id),
  );
  for (const { id, parent } of rig.controls) if (parent !== null && picked.length > 0 && meant.has(parent)) meant.add(id);
  const box = new Box();
  const whole = new Box();
  rig.controls.forEach(({ id, role }, i) => {
    if (meant.has(id)) box.add(player, i);
    if (role === "figure") whole.add(player, i);
  });
  const flesh = 0.09 * Math.max(...whole.size.filter(Number.isFinite), 1e-3);
  return { centre: box.centre, radius: Math.hypot(...box.size) / 2 + flesh };
}
