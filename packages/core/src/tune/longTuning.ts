import type { Curve } from "../curve/curve.ts";
import { costs } from "./costs/costs.ts";
import { type Judged, judgedBy, type Strain } from "./judged.ts";
import { type CutShot, cutOut, putBack, type Stretch } from "./stretches.ts";
import { makeTuning, Progress, type Searching, type Told, type Tuned, type Tuning } from "./tuning.ts";

/** So many steps are taken in a stretch before the next one has its turn: all of a long shot gets better soon. */
const TURN = 20;

/** How far a stretch has come. */
interface Part {
  readonly stretch: Stretch;
  readonly progress: Progress;
  /** Null until it is looked at, and again when it is told otherwise. */
  judged: Judged | null;
  /** What its search has found; nothing until it had its first turn. */
  x?: Float64Array;
  bounds: number;
}

/** The part that has its turn. */
interface Turn {
  readonly part: Part;
  readonly cut: CutShot;
  readonly tuning: Searching;
  steps: number;
}

/**
 * Tunes a long shot stretch by stretch, each as a shot by itself beside the others as they are by then, turn about until none
 * gets better. `whole` is the shot as it was at first, with its strain by the number of a cost: what is learned from a shot
 * is learned from all of it, and what is worth a move is measured by all of its strain.
 */
export function makeLongTuning(
  tuned: Tuned,
  stretches: readonly Stretch[],
  whole: Judged,
  strainAtFirst: (n: number) => Strain,
  given: Told,
): Tuning {
  const { shot, layer, movables, parts } = tuned;
  const first = movables.map(({ curve }) => curve);
  const all = stretches.map((stretch): Part => ({ stretch, progress: new Progress(), judged: null, bounds: 0 }));
  const measured = (told: Told): Told => ({
    ...told,
    strained: whole.costs.reduce((sum, { id }, n) => sum + (told.weights[id] > 0 ? told.weights[id] * strainAtFirst(n).value : 0), 0),
  });
  let told = measured(given);
  /** The movables' curves as they are by now, but for the part that has its turn. */
  let curves: readonly Curve[] = first;
  let at = 0;
  let turn: Turn | null = null;

  /** Its turn, where there is anything in it to move and to judge. */
  function begin(part: Part): Turn | null {
    const { stretch, progress } = part;
    const { start, end } = stretch.seen;
    const before = cutOut(shot, layer, movables, first, stretch);
    const wanted = costs.filter(({ id }) => told.weights[id] > 0);
    part.judged ??= judgedBy(before.shot, wanted, start, end - start + 1, whole);
    if (before.movables.length === 0 || part.judged.costs.length === 0) {
      progress.arrived();
      return null;
    }
    const cut = cutOut(shot, layer, movables, curves, stretch);
    const own = { shot: cut.shot, before: before.shot, layer, movables: cut.movables, parts };
    return { part, cut, tuning: makeTuning(own, part.judged, told, progress, part.x), steps: 0 };
  }

  const held = ({ cut, tuning }: Turn) => putBack(first, curves, cut, tuning.held());

  function end(ended: Turn): void {
    curves = held(ended);
    ended.part.x = ended.tuning.x;
    ended.part.bounds = ended.tuning.atBounds();
    turn = null;
  }

  /** The part whose turn it is: the one at which it stands, or the next that has not arrived. */
  function next(): Part | null {
    for (let n = 0; n < all.length; n++) {
      const part = all[(at + n) % all.length];
      if (part.progress.isDone) continue;
      at = (at + n) % all.length;
      return part;
    }
    return null;
  }

  const share = () => all.reduce((sum, { progress }) => sum + progress.shareOf(told.steps), 0) / all.length;

  return {
    get share() {
      return share();
    },
    *step() {
      for (;;) {
        if (!turn) {
          const part = next();
          if (!part) return false;
          yield share();
          turn = begin(part);
          if (!turn) continue;
        }
        const isLower: boolean = yield* turn.tuning.step();
        if (isLower && ++turn.steps < TURN) return true;
        end(turn);
        at++;
        if (isLower) return true;
      }
    },
    steer(now) {
      told = measured(now);
      if (turn) end(turn);
      for (const part of all) {
        part.progress.again();
        part.judged = null;
      }
    },
    canMove() {
      for (const [n, part] of all.entries()) {
        at = n;
        turn = begin(part);
        if (turn?.tuning.canMove()) return true;
        part.progress.arrived();
      }
      turn = null;
      return false;
    },
    atBounds: () => all.reduce((sum, part) => sum + (part === turn?.part ? turn.tuning.atBounds() : part.bounds), 0),
    held: () => (turn ? held(turn) : curves),
    left() {
      const count = all.filter((part) => part.x === undefined && part !== turn?.part && !part.progress.isDone).length;
      return count === 0
        ? null
        : `So long a shot is tuned in stretches of frames, one after the other: ${count} of ${all.length} ${count === 1 ? "has" : "have"} not had a turn so far.`;
    },
  };
}
