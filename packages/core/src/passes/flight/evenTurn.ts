import { quatMultiply } from "../../maths/rotation.ts";

/** Turns smaller than this (radians) have no axis of their own. */
const NO_TURN = 1e-6;

/**
 * An even turn from the first to the last of quaternions (x, y, z, w) that follow closely on each other: about one axis,
 * at one speed, with as many whole turns as they go through. `at(share)` writes the turn a share of the way.
 */
export function evenTurn(turns: readonly Float64Array[]): { at(share: number, out: Float64Array): void } {
  const first = turns[0];
  const way = new Float64Array(4);
  const gone = [0, 0, 0];
  for (let n = 1; n < turns.length; n++) {
    between(way, turns[n - 1], turns[n]);
    const { axis, angle } = axisOf(way);
    for (let k = 0; k < 3; k++) gone[k] += axis[k] * angle;
  }
  between(way, first, turns[turns.length - 1]);
  let { axis, angle } = axisOf(way);
  const far = Math.hypot(...gone);
  // A whole turn leads back to where it began, and only the way there tells its axis.
  if (angle < NO_TURN && far > Math.PI) {
    axis = gone.map((k) => k / far);
    angle = 0;
  }
  const along = axis[0] * gone[0] + axis[1] * gone[1] + axis[2] * gone[2];
  const whole = angle + 2 * Math.PI * Math.round((along - angle) / (2 * Math.PI));
  const part = new Float64Array(4);
  return {
    at(share, out) {
      const half = (whole * share) / 2;
      for (let k = 0; k < 3; k++) part[k] = axis[k] * Math.sin(half);
      part[3] = Math.cos(half);
      quatMultiply(out, 0, first, 0, part, 0);
    },
  };
}

function between(out: Float64Array, a: Float64Array, b: Float64Array): void {
  const back = Float64Array.of(-a[0], -a[1], -a[2], a[3]);
  quatMultiply(out, 0, back, 0, b, 0);
}

/** Axis and angle (0 to π) of a turn. */
function axisOf(q: Float64Array): { axis: number[]; angle: number } {
  const sign = q[3] < 0 ? -1 : 1;
  const sine = Math.hypot(q[0], q[1], q[2]);
  if (sine === 0) return { axis: [0, 1, 0], angle: 0 };
  return { axis: [0, 1, 2].map((k) => (sign * q[k]) / sine), angle: 2 * Math.atan2(sine, sign * q[3]) };
}
