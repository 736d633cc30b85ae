import type { Curve } from "../../curve/curve.ts";
import { repeats } from "../../curve/runOn.ts";
import { type Curves, layerCurves, type Shot } from "../../model/shot.ts";

const hasRounds = ({ runIn, runOut }: Curve) => repeats(runIn) || repeats(runOut);
const spanOf = ({ times }: Curve) => times[times.length - 1] - times[0];

/** Has the curve at least one more round of keys than it had? */
function isOpened(before: Curve, after: Curve): boolean {
  return after.times.length >= 2 * before.times.length - 1 && spanOf(after) >= 2 * spanOf(before) - 1e-6;
}

interface Touched {
  readonly opened: number;
  readonly forEver: number;
  readonly following: number;
}

/** How many repeating curves a change has touched, and what became of their rounds. */
function touchedRounds(before: Shot, after: Shot): Touched {
  let opened = 0;
  let forEver = 0;
  let following = 0;
  const look = (old: Curves, now: Curves): void => {
    for (const key in old) {
      const [was, is] = [old[key], now[key]];
      if (was === is || is === undefined || was.times.length < 2 || !hasRounds(was)) continue;
      if (isOpened(was, is)) {
        opened++;
        if (hasRounds(is)) forEver++;
      } else if (hasRounds(is)) following++;
    }
  };
  look(before.base, after.base);
  for (const pass of before.passes) look(pass.curves, layerCurves(after, pass.id));
  return { opened, forEver, following };
}

/** That rounds became keys, where a change did that. */
export function sayOpened(before: Shot, after: Shot): string[] {
  const { opened, forEver } = touchedRounds(before, after);
  const notes: string[] = [];
  if (opened > 0) notes.push(`Rounds of ${counted(opened)} became keys, so that only what was meant changes.`);
  if (forEver > 0) notes.push(`${capital(counted(forEver))} ${forEver === 1 ? "goes" : "go"} on for ever: the longer cycle comes again.`);
  return notes;
}

/**
 * What became of the rounds of repeating curves that a change has touched. Operations work on the real keys, and
 * rounds follow them; where a key is put in a round, rounds become keys first (see `curve/loop.ts`).
 */
export function sayRounds(before: Shot, after: Shot): string[] {
  const { following } = touchedRounds(before, after);
  const notes = sayOpened(before, after);
  if (following > 0)
    notes.push(`${capital(counted(following))} ${following === 1 ? "repeats" : "repeat"}, and the rounds follow the keys.`);
  return notes;
}

const counted = (count: number) => `${count} ${count === 1 ? "curve" : "curves"}`;
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
