import type { RunOn } from "./curve.ts";

interface Rounds {
  /** First and last frame of the cycle. */
  readonly first: number;
  readonly last: number;
  readonly runIn: RunOn;
  readonly runOut: RunOn;
}

/** A frame of an extra round, and the frame of the cycle that it shows again. */
export interface Ghost {
  readonly time: number;
  readonly of: number;
}

/** Most ghosts that are worked out for one window: more could not be told apart. */
const MOST = 4000;

/**
 * Where times of a cycle come again in its run-in and run-out, within a window of frames. The seam between
 * two rounds is given once.
 */
export function ghostTimes(times: ArrayLike<number>, { first, last, runIn, runOut }: Rounds, from: number, to: number): Ghost[] {
  const ghosts: Ghost[] = [];
  const span = last - first;
  if (!(span > 0)) return ghosts;
  const side = (run: RunOn, sign: 1 | -1): void => {
    if (run.kind === "hold" || run.kind === "straight") return;
    const away = sign > 0 ? to - last : first - from;
    const rounds = Math.min(run.rounds || Number.POSITIVE_INFINITY, Math.ceil(away / span));
    const skip = Math.max(1, Math.ceil((sign > 0 ? from - last : first - to) / span));
    for (let round = skip; round <= rounds && ghosts.length < MOST; round++) {
      const mirrored = run.kind === "pingpong" && round % 2 === 1;
      for (let i = 0; i < times.length; i++) {
        const place = mirrored ? first + last - times[i] : times[i];
        const time = place + sign * round * span;
        const seam = sign > 0 ? time <= last + (round - 1) * span + 1e-6 : time >= first - (round - 1) * span - 1e-6;
        if (!seam && time >= from && time <= to) ghosts.push({ time, of: times[i] });
      }
    }
  };
  side(runIn, -1);
  side(runOut, 1);
  return ghosts.sort((a, b) => a.time - b.time);
}
