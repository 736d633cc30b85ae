import { KneaderError } from "../../errors.ts";
import { speedFor, topOf } from "../../maths/ballistic.ts";
import type { Arc } from "./planFlights.ts";

/** The numbers of a flight that may be typed instead of its top. */
export interface FlightNumbers {
  /** Hang time. */
  readonly frames: number;
  /** Of the top above take-off, and of the landing above it; scene units. */
  readonly height: number;
  readonly rise: number;
  /** Over the ground, scene units. */
  readonly distance: number;
  /** At take-off, scene units a second. */
  readonly speed: number;
  /** Scene units a second, every second. */
  readonly gravity: number;
}

export function numbersOf({ from, to, up, along, gravity, seconds, height }: Arc): FlightNumbers {
  return {
    frames: to.frame - from.frame,
    height,
    rise: to.place[1] - from.place[1],
    distance: along * seconds,
    speed: Math.hypot(up, along),
    gravity,
  };
}

/** The top a flight has with so many frames in the air. Gravity stays. */
export function topForFrames(arc: Arc, frames: number, fps: number): number {
  const { rise, gravity } = numbersOf(arc);
  const { height } = topOf(speedFor(rise, frames / fps, gravity), gravity);
  return Math.max(height, rise);
}

/** The top a flight has with a gravity when its frames stay. */
export function topForGravity(arc: Arc, gravity: number): number {
  const { rise } = numbersOf(arc);
  return Math.max(topOf(speedFor(rise, arc.seconds, gravity), gravity).height, rise, 0);
}

/**
 * The top a flight has that leaves with a speed (scene units a second): where gravity rules the way that takes longer of
 * the two that reach the landing, else that of its frames. Errors: `bad-setting` when the landing is not reached.
 */
export function topForSpeed(arc: Arc, speed: number, rules: "gravity" | "timing"): number {
  const { rise, distance, gravity } = numbersOf(arc);
  const short = () =>
    new KneaderError("bad-setting", "Flight: so slow it does not get to its landing.", "Type a higher speed, or land nearer.");
  if (rules === "timing") {
    const up = Math.sqrt(speed * speed - arc.along * arc.along);
    const strong = (2 * (up * arc.seconds - rise)) / (arc.seconds * arc.seconds);
    if (!(strong > 0)) throw short();
    return Math.max(topOf(up, strong).height, rise);
  }
  // (rise/T + gT/2)² + (distance/T)² = speed², as a quadratic in T².
  const half = speed * speed - gravity * rise;
  const under = half * half - gravity * gravity * (rise * rise + distance * distance);
  if (!(under >= 0) || half <= 0) throw short();
  const seconds = Math.sqrt((2 * (half + Math.sqrt(under))) / (gravity * gravity));
  return Math.max(topOf(speedFor(rise, seconds, gravity), gravity).height, rise);
}
