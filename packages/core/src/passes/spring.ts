/** A mass on a damped spring in any number of dimensions: where it is and how fast, units per second. */
export interface SpringState {
  readonly at: Float64Array;
  readonly speed: Float64Array;
}

export interface Spring {
  /** Swings a second without damping, above 0. */
  readonly frequency: number;
  /** Share of the critical damping: below 1 it swings, at 1 it just does not. */
  readonly damping: number;
}

/**
 * Let time pass while the spring's other end goes evenly from `from` to `to`; `state` is changed in place.
 * Exact, whatever the time: the motion about the particular solution of a ramp is that of the free damped
 * oscillator x'' + 2ζω x' + ω² x = 0 in closed form (any mechanics text).
 */
export function advanceSpring(
  state: SpringState,
  { frequency, damping }: Spring,
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  seconds: number,
): void {
  const w = 2 * Math.PI * frequency;
  const decay = damping * w;
  const fade = Math.exp(-decay * seconds);
  // The free motion after `seconds`: [position; speed] = [a b; c d] · [position; speed] before.
  let sine: number;
  let cosine: number;
  if (Math.abs(damping - 1) < 1e-6) {
    sine = seconds;
    cosine = 1;
  } else if (damping < 1) {
    const wd = w * Math.sqrt(1 - damping * damping);
    sine = Math.sin(wd * seconds) / wd;
    cosine = Math.cos(wd * seconds);
  } else {
    const wd = w * Math.sqrt(damping * damping - 1);
    sine = Math.sinh(wd * seconds) / wd;
    cosine = Math.cosh(wd * seconds);
  }
  const a = fade * (cosine + decay * sine);
  const b = fade * sine;
  const c = -fade * w * w * sine;
  const d = fade * (cosine - decay * sine);
  for (let k = 0; k < state.at.length; k++) {
    const pace = (to[k] - from[k]) / seconds;
    const behind = (2 * damping * pace) / w;
    const x = state.at[k] - (from[k] - behind);
    const v = state.speed[k] - pace;
    state.at[k] = to[k] - behind + a * x + b * v;
    state.speed[k] = pace + c * x + d * v;
  }
}
