import { Vector3 } from "three";
import { curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { makeControl } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { emptyShot } from "../../src/model/shotFields.ts";

export const posed = (shot: Shot, frame: number) => {
  const player = makePlayer(shot);
  player.pose(frame);
  return player;
};
export const worldOf = (shot: Shot, id: string, frame: number) => {
  const { worlds, controlIndex } = posed(shot, frame);
  const i = controlIndex.get(id) as number;
  return worlds.slice(16 * i, 16 * i + 16);
};
export const placeOf = (shot: Shot, id: string, frame: number) => new Vector3(...worldOf(shot, id, frame).slice(12, 15));
export const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.max(...Array.from(a, (value, k) => Math.abs(value - b[k])));

/** Two legs under hips that sway, feet that slide about. */
export function walker(): Shot {
  const leg = (side: string, x: number) => [
    makeControl(`thigh-${side}`, { name: `Thigh ${side}`, parent: "hips", rest: [x, 0, 0], part: "legs" }),
    makeControl(`shin-${side}`, { name: `Shin ${side}`, parent: `thigh-${side}`, rest: [0, -0.5, 0.02], part: "legs" }),
    makeControl(`foot-${side}`, { name: `Foot ${side}`, parent: `shin-${side}`, rest: [0, -0.5, -0.02], part: "legs" }),
  ];
  const controls = [makeControl("hips", { name: "Hips", rest: [0, 0.95, 0] }), ...leg("left", 0.1), ...leg("right", -0.1)];
  const base = {
    "hips.moveX": curveFrom([
      [1, 0],
      [10, 0.05],
      [20, -0.03],
      [30, 0.02],
    ]),
    "hips.rotateY": curveFrom([
      [1, -6],
      [15, 8],
      [30, -4],
    ]),
    "thigh-left.rotateX": curveFrom([
      [1, -12],
      [15, -14],
      [30, -11],
    ]),
    "shin-left.rotateX": curveFrom([
      [1, 25],
      [15, 28],
      [30, 22],
    ]),
    "thigh-right.rotateX": curveFrom([
      [1, -20],
      [8, -18],
      [15, -55],
      [22, -20],
      [30, -19],
    ]),
    "shin-right.rotateX": curveFrom([
      [1, 40],
      [8, 38],
      [15, 95],
      [22, 40],
      [30, 38],
    ]),
  };
  return emptyShot({
    id: "walker",
    name: "Walker",
    rig: { id: "r", name: "R", controls, figure: null },
    range: { start: 1, end: 30 },
    unitMetres: 1,
    base,
  });
}

/** Controls that hang on a control, with itself. */
export const below = (shot: Shot, id: string): Set<string> => {
  const found = new Set([id]);
  for (const { id: one, parent } of shot.rig.controls) if (parent !== null && found.has(parent)) found.add(one);
  return found;
};
