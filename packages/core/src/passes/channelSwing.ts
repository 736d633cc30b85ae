import { type ChannelKey, splitChannelKey } from "../model/rig.ts";
import type { Swing } from "./swing.ts";
import { advanceSpring, type SpringState } from "./spring.ts";

/** At most so many rounds are gone through until a loop swings the same each time. */
const ROUNDS = 200;

/**
 * Each channel on a spring of its own. `samples` begin `warmUp` frames before the start. A loop is gone
 * round until its end is its start again; what the channel has travelled by then is no part of the swing.
 */
export function channelSwing(swing: Swing, samples: ReadonlyMap<ChannelKey, Float64Array>): Map<ChannelKey, Float64Array> {
  const { start, count, warmUp, loop, strength, step, linkOf } = swing;
  const out = new Map<ChannelKey, Float64Array>();
  for (const [key, goal] of samples) {
    if (goal.every((value) => value === goal[0])) continue;
    const link = linkOf(splitChannelKey(key).control);
    const state: SpringState = { at: Float64Array.of(goal[0]), speed: new Float64Array(1) };
    const values = new Float64Array(count);
    const size = Math.max(...goal) - Math.min(...goal);
    for (let round = 0; round < (loop ? ROUNDS : 1); round++) {
      const before = [state.at[0], state.speed[0]];
      for (let n = 0; n < goal.length; n++) {
        const frame = start - warmUp + n;
        if (n > 0) {
          const spring = { frequency: link.frequency(frame), damping: link.damping(frame) };
          advanceSpring(state, spring, [goal[n - 1]], [goal[n]], step);
        }
        if (n >= warmUp) values[n - warmUp] = goal[n] + strength * (state.at[0] - goal[n]);
      }
      if (!loop) break;
      state.at[0] += goal[0] - goal[goal.length - 1];
      if (Math.abs(state.at[0] - before[0]) < 1e-7 * size && Math.abs(state.speed[0] - before[1]) < 1e-6 * size) break;
    }
    out.set(key, values);
  }
  return out;
}
