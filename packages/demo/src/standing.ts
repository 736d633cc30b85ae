import { type Shot, switchFollow, Tangent } from "@kneader/core";
import { landingShot, keyedMotion } from "./makeShot.ts";
import { hangLantern, type Stance, takeStance } from "./stance.ts";

/** The ferryman at ease with the lantern in his left hand: what saved actions are shown on. */
export function standingFerryman(): Shot {
  const ease: Stance = {
    x: 0,
    heading: 80,
    up: -0.02,
    hips: [2, 0, 0],
    chest: [3, 0, 0],
    head: [-3, 0, 0],
    armLeft: [6, 8, 15],
    gripLeft: 0.95,
    armRight: [2, 8, 18],
    tail: [6, 2, -8, -10],
  };
  const shot = keyedMotion(
    { ...landingShot("demo-standing", "Standing", 0, 0), set: null },
    [[0, hangLantern(takeStance(ease), "left")]],
    Tangent.flat,
  );
  return switchFollow(shot, "lantern", "hand-left", 0, { position: true, rotation: false });
}
