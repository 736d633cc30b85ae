import { repeats } from "../curve/runOn.ts";
import { measureDrift } from "../evaluate/drift.ts";
import { figureControls } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { sizeOf } from "../figure/sides.ts";
import { type Closeness, leashAt, placeLeash } from "./closeness.ts";
import type { Movable } from "./keyVariables.ts";
import { columnOf, type Variables } from "./variables.ts";

/** Rounds of drawing back in proportion; what is then still too far is let go of. */
const ROUNDS = 6;
const TIGHTER = 0.995;
/** How often between frames it is looked at: keys that moved in time are off most between two. */
const BETWEEN = 0.5;
const MOVED_IN_TIME = 0.1;
/** A leash is held a little shorter than it is, for what lies between two looks. */
const SHORTER = 0.98;

/**
 * Numbers of a search drawn back until no control turns or goes farther from where it was than its leash, between frames too:
 * channels by themselves are bound already, but a control turns by several. Keys that have a say in a frame that is too
 * far off give way in proportion, the others stay.
 */
export function onLeash(
  before: Shot,
  movables: readonly Movable[],
  variables: Variables,
  x: Float64Array,
  closeness: Closeness,
  shotFor: (x: Float64Array) => Shot,
): Float64Array {
  const groups = groupsOf(before, closeness);
  if (groups.every(({ closer }) => closer === 0 || (closeness.all === 0 && closeness.painted.length === 0))) return x;
  let drawn = x;
  const step = x.some((one, v) => one !== 0 && columnOf(variables, v) === "times") ? MOVED_IN_TIME : BETWEEN;
  for (let round = 0; ; round++) {
    const factors = tooFar(before, shotFor(drawn), closeness, groups, step);
    if (!factors) return drawn;
    const { start, share } = factors;
    const leastOf = (from: number, to: number) => {
      let least = 1;
      for (let f = Math.max(0, Math.floor(from) - start); f <= Math.min(share.length - 1, Math.ceil(to) - start); f++)
        least = Math.min(least, share[f]);
      return least;
    };
    drawn = drawn.map((one, v) => {
      const { times, runIn, runOut } = movables[variables.curve[v]].curve;
      const key = variables.key[v];
      const last = times.length - 1;
      let least = leastOf(times[Math.max(0, key - 1)], times[Math.min(last, key + 1)]);
      // Beyond the keys the end has a say, and where they repeat every one of them.
      if (key === 0 || repeats(runIn)) least = Math.min(least, leastOf(start, times[0]));
      if (key === last || repeats(runOut)) least = Math.min(least, leastOf(times[last], start + share.length - 1));
      return least === 1 ? one : round < ROUNDS ? one * least * TIGHTER : 0;
    });
    if (round > 2 * ROUNDS) return x.map(() => 0);
  }
}

interface Group {
  readonly closer: number;
  readonly controls: readonly string[];
}

/** Controls by how much closer they stay than the others. */
function groupsOf({ rig }: Shot, { parts }: Closeness): Group[] {
  const groups = new Map<number, string[]>();
  for (const { id, part } of figureControls(rig)) {
    const closer = parts[id] ?? (part ? (parts[part] ?? 1) : 1);
    groups.set(closer, [...(groups.get(closer) ?? []), id]);
  }
  return [...groups].map(([closer, controls]) => ({ closer, controls }));
}

/** By frame the share of its way that what moves it may go; null when all stay on their leashes. */
function tooFar(
  before: Shot,
  after: Shot,
  closeness: Closeness,
  groups: readonly Group[],
  step: number,
): { start: number; share: Float64Array } | null {
  let found: { start: number; share: Float64Array } | null = null;
  const size = sizeOf(before.rig);
  for (const { closer, controls } of groups) {
    if (closer === 0) continue;
    const { turnPerFrame, placePerFrame, start } = measureDrift(before, after, before.range, { controls, step });
    turnPerFrame.forEach((turn, f) => {
      const leash = leashAt(closeness, start + f) / closer;
      // Turns add up along a limb: where its end goes is bound as well.
      const share = Math.min((SHORTER * leash) / turn, (SHORTER * placeLeash(size, leash)) / placePerFrame[f]);
      if (!(share < 1)) return;
      found ??= { start, share: new Float64Array(turnPerFrame.length).fill(1) };
      found.share[f] = Math.min(found.share[f], share);
    });
  }
  return found;
}
