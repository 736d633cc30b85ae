import { type Shot, simplified } from "@kneader/core";
import { landingShot, sampleMotion } from "../makeShot.ts";
import { mix, soft, TAU, wave } from "../motion.ts";
import type { Vec } from "../puppet.ts";
import { dressSet, type Stance, takeStance } from "../stance.ts";

const STEP = 0.24;
const HALF = 12;

/** Where a foot is in the walk, relative to the figure: forward, height, pitch. `u` runs 0..2 a cycle. */
function walkFoot(u: number): Vec {
  if (u < 1) {
    // On the ground it goes back as the figure goes forward; heel first, toes last.
    const pitch = u < 0.18 ? mix(-16, 0, soft(u / 0.18)) : u > 0.75 ? mix(0, 24, soft((u - 0.75) / 0.25)) : 0;
    return [STEP * (0.5 - u), pitch > 0 ? 0.03 * soft((u - 0.75) / 0.25) : 0, pitch];
  }
  const s = u - 1;
  const lift = 0.03 * (1 - soft(s / 0.3)) + 0.062 * Math.pow(Math.sin(Math.PI * s), 1.2);
  return [STEP * (-0.5 + soft(s * 0.92 + 0.08 * s * s)), lift, mix(24, -16, soft(s))];
}

/** The walk at a number of steps from left contact. */
function walkStance(steps: number): Stance {
  const c = steps / 2;
  const bounce = Math.cos(steps * TAU + 0.9);
  return {
    x: -1.1 + STEP * steps,
    up: -0.034 + 0.013 * -bounce,
    along: 0.006 * wave(steps),
    hips: [4, -9 * Math.cos(c * TAU), 3.5 * wave(c + 0.02)],
    belly: [2, 5 * Math.cos(c * TAU), -2 * wave(c)],
    chest: [3 + 1.2 * bounce, 10 * Math.cos(c * TAU - 0.25), -3 * wave(c)],
    neck: [-2, -2 * Math.cos(c * TAU), 0],
    head: [-4 - 1.6 * Math.cos(steps * TAU - 0.2), -4 * Math.cos(c * TAU - 0.3), 1.5 * wave(c + 0.1)],
    footLeft: walkFoot(((steps % 2) + 2) % 2),
    footRight: walkFoot((((steps + 1) % 2) + 2) % 2),
    armLeft: [-27 * Math.cos(c * TAU - 0.2), 11, 22 - 11 * Math.cos(c * TAU - 0.7)],
    armRight: [27 * Math.cos(c * TAU - 0.2), 11, 22 + 11 * Math.cos(c * TAU - 0.7)],
    wristLeft: [-8 * Math.cos(c * TAU - 1.1), 0, 0],
    wristRight: [8 * Math.cos(c * TAU - 1.1), 0, 0],
    tail: [
      8 + 4 * Math.cos(steps * TAU - 0.6),
      4 + 5 * Math.cos(steps * TAU - 1.3),
      -6 + 6 * Math.cos(steps * TAU - 2),
      -10 + 7 * Math.cos(steps * TAU - 2.7),
    ],
    sway: [7 * wave(c - 0.05), 9 * wave(c - 0.15), 11 * wave(c - 0.25), 13 * wave(c - 0.35)],
    tassel: [10 + 9 * Math.cos(steps * TAU - 1.4), 14 + 15 * Math.cos(steps * TAU - 2.3)],
    tasselSway: [7 * wave(c - 0.2), 12 * wave(c - 0.32)],
    ears: 4 * Math.cos(steps * TAU - 1),
  };
}

/**
 * Both halves of the walk, on the spot and for ever: what the stand-in for a capture device performs. It would leave the landing, and
 * every camera with it, if it went on.
 */
export async function wholeWalk(): Promise<Shot> {
  const shot = sampleMotion(landingShot("demo-whole-walk", "Walk on the spot", 1, 1 + 2 * HALF), (frame) =>
    dressSet(takeStance({ ...walkStance((frame - 1) / HALF), x: -0.7 }), [-0.6, 0.72, 3.2]),
  );
  const going = { kind: "repeat", rounds: 0 } as const;
  return {
    ...shot,
    cyclic: true,
    base: Object.fromEntries(Object.entries(shot.base).map(([key, curve]) => [key, { ...curve, runOut: going }])),
  };
}

/** Shot 1: the first half of a walk along the jetty. */
export async function halfAWalk(): Promise<Shot> {
  const shot = sampleMotion(landingShot("demo-half-a-walk", "Half a walk", 1, 1 + HALF), (frame) =>
    dressSet(takeStance(walkStance((frame - 1) / HALF)), [-0.6, 0.72, 3.2]),
  );
  return simplified(shot, { rotation: 0.35, move: 0.001, together: "figure" });
}
