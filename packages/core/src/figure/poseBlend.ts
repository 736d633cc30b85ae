import { meanTurn } from "../maths/meanTurn.ts";
import { DEG, eulerFromQuat, nearestEuler, quatFromEuler } from "../maths/rotation.ts";
import { type ChannelKey, channelKey, type Rig, restValue, rotateChannels, splitChannelKey } from "../model/rig.ts";

/** A point of the plane that poses are laid on. */
export interface Spot {
  readonly x: number;
  readonly y: number;
}

/** Two places nearer than this are one. */
export const SAME_PLACE = 1e-6;

/**
 * How much each of some places counts at a spot: by the inverse square of its distance (Shepard, "A two-dimensional
 * interpolation function for irregularly-spaced data", ACM National Conference 1968). Never negative, together 1; at a place
 * only that one counts. Smooth everywhere, level at each place.
 */
export function spotWeights(places: readonly Spot[], { x, y }: Spot, out = new Float64Array(places.length)): Float64Array {
  const squares = places.map((place) => (place.x - x) ** 2 + (place.y - y) ** 2);
  const nearest = squares.indexOf(Math.min(...squares));
  out.fill(0);
  if (!(squares[nearest] > SAME_PLACE * SAME_PLACE)) {
    out[nearest] = 1;
    return out;
  }
  let sum = 0;
  for (let i = 0; i < squares.length; i++) sum += out[i] = squares[nearest] / squares[i];
  for (let i = 0; i < squares.length; i++) out[i] /= sum;
  return out;
}

/** Poses made ready to be blended: numbers by channels, angles by rotations. */
export interface PoseBlender {
  readonly keys: readonly ChannelKey[];
  /**
   * The blend for weights, in the order of the keys. Where one pose alone counts it is that pose to the last bit. `reach` 1
   * is within what the poses span, 2 twice as far from their middle.
   */
  blend(weights: ArrayLike<number>, reach: number, out: Float64Array): Float64Array;
}

/** A control whose three angles are blended as a turn. */
interface Turning {
  readonly at: readonly number[];
  readonly order: Parameters<typeof quatFromEuler>[5];
  /** By pose: its turn, four numbers. */
  readonly turns: Float64Array;
}

/** Makes ready to blend some channels of poses; what a pose does not say is at rest. */
export function makePoseBlender(
  rig: Rig,
  poses: readonly Readonly<Record<ChannelKey, number>>[],
  keys: readonly ChannelKey[],
): PoseBlender {
  const place = new Map(keys.map((key, i) => [key, i]));
  const values = poses.map((pose) => Float64Array.from(keys, (key) => pose[key] ?? restValue(splitChannelKey(key).channel)));
  const turning = rig.controls.flatMap(({ id, order }): Turning[] => {
    const at = rotateChannels.map((channel) => place.get(channelKey(id, channel)) ?? -1);
    if (at.every((i) => i < 0)) return [];
    const turns = new Float64Array(4 * poses.length);
    values.forEach((pose, n) => {
      const [x, y, z] = at.map((i) => (i < 0 ? 0 : pose[i] * DEG));
      quatFromEuler(turns, 4 * n, x, y, z, order);
    });
    return [{ at, order, turns }];
  });
  const even = new Float64Array(poses.length).fill(1 / poses.length);
  const middle = new Float64Array(keys.length);
  const mix = (weights: ArrayLike<number>, out: Float64Array) => {
    for (let i = 0; i < out.length; i++) {
      let sum = 0;
      for (let n = 0; n < values.length; n++) sum += weights[n] * values[n][i];
      out[i] = sum;
    }
    // The angles are those of the mean turn that lie nearest to the mean of the angles, so that none jumps.
    for (const one of turning) {
      meanTurn(quat, 0, one.turns, weights, values.length);
      eulerFromQuat(euler, 0, quat, 0, one.order);
      const near = one.at.map((i) => (i < 0 ? 0 : out[i]));
      const found = nearestEuler([euler[0] / DEG, euler[1] / DEG, euler[2] / DEG], near, one.order);
      one.at.forEach((i, k) => {
        if (i >= 0) out[i] = found[k];
      });
    }
  };
  if (poses.length > 0) mix(even, middle);
  return {
    keys,
    blend(weights, reach, out) {
      const only = values.findIndex((_, n) => weights[n] === 1);
      if (only >= 0) out.set(values[only]);
      else mix(weights, out);
      if (reach !== 1) for (let i = 0; i < out.length; i++) out[i] = middle[i] + reach * (out[i] - middle[i]);
      return out;
    },
  };
}

const quat = [0, 0, 0, 1];
const euler = [0, 0, 0];
