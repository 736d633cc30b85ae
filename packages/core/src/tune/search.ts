import type { Curve } from "../curve/curve.ts";
import { type Box, descend } from "../maths/quasiNewton.ts";
import type { Rig } from "../model/rig.ts";
import { boundsOf } from "./bounds.ts";
import { type Closeness, LEASH } from "./closeness.ts";
import type { Movable } from "./keyVariables.ts";
import type { Objective } from "./objective.ts";

/** Moving every variable as far as it may go is as bad as so much of the strain there was. */
const PULL = 0.5;
const pullOf = (strain: number | undefined): number | null => (strain === undefined ? null : PULL * strain);
/** What a free variable is pulled by: as if its leash were this long (degrees). */
const FREE = 4 * LEASH;
/** A leash that is drawn in takes what is beyond it along by so much a step, so that nothing jumps. */
const DRAWN = 0.75;

/** What a search is told, and may be told anew while it goes. */
export interface SearchSettings {
  readonly closeness: Closeness;
  /** In the order of the costs. */
  readonly weights: readonly number[];
  /** The strain there was that moving is measured by, where it is not that of the objective itself. */
  readonly strained?: number;
}

/** A search for curves with less strain, step by step. */
export interface Search {
  readonly x: Float64Array;
  readonly curves: readonly Curve[];
  /** The strain, each cost by its weight, and a little for having moved. */
  readonly value: number;
  /** How often the strain was worked out. */
  readonly evaluations: number;
  /** One step; false when there is nothing more to gain. In pieces: yields before and while the strain is worked out. */
  step(): Generator<number, boolean>;
  /** Weights or closeness have changed: it goes on from where it is. What is farther than it now may be is drawn back step by step. */
  steer(settings: SearchSettings): void;
  /** Is there anything that may move? */
  canMove(): boolean;
  /** How many variables are as far as they may go. */
  atBounds(): number;
}

/** Begins at `start`, where it is given, and where nothing has moved otherwise. */
export function makeSearch(
  objective: Objective,
  movables: readonly Movable[],
  rig: Rig,
  settings: SearchSettings,
  start?: Float64Array,
): Search {
  const { variables } = objective;
  const still = new Float64Array(variables.length);
  let { weights, strained } = settings;
  let wanted = boundsOf(movables, variables, settings.closeness, rig);
  let box = start ? drawnIn(start) : wanted;
  let leash = leashes();
  /** Null until it is worked out. */
  let pull = pullOf(strained);
  const descent = descend(strainAndPull, start ?? still, box, { memory: 12, tolerance: 1e-7 });

  /** By variable, how far it may go, but not farther than what is free counts as. */
  function leashes(): Float64Array {
    return wanted.high.map((high, v) => Math.min(FREE, Math.max(high, -wanted.low[v])) || FREE);
  }

  /** The strain, and what it costs to have moved: each variable's way as a share of its leash, squared, meant. */
  function* strainAndPull(x: Float64Array, slope: Float64Array): Generator<number, number> {
    let value = yield* objective.strain(x, weights, slope);
    // The first place that is asked for is mostly where nothing has moved.
    pull ??= pullOf(x.every((one) => one === 0) ? value : yield* objective.strain(still, weights, null)) ?? 0;
    const each = pull / variables.length;
    for (let v = 0; v < variables.length; v++) {
      const share = x[v] / leash[v];
      value += each * share * share;
      slope[v] += (2 * each * share) / leash[v];
    }
    return value;
  }

  /** The bounds as they are wanted, or as near to them as what is beyond them is drawn in one step. */
  function drawnIn(x: Float64Array): Box {
    let isThere = true;
    const near = (one: number, bound: number) => {
      if (Math.abs(one * DRAWN - bound) < 1e-3 * Math.abs(bound) + 1e-6) return bound;
      isThere = false;
      return one * DRAWN;
    };
    const low = wanted.low.map((one, v) => (x[v] < one ? near(x[v], one) : one));
    const high = wanted.high.map((one, v) => (x[v] > one ? near(x[v], one) : one));
    return isThere ? wanted : { low, high };
  }

  return {
    get x() {
      return descent.x;
    },
    get curves() {
      return objective.curvesFor(descent.x);
    },
    get value() {
      return descent.value;
    },
    get evaluations() {
      return descent.evaluations;
    },
    *step() {
      const isDrawn = box !== wanted;
      if (isDrawn) {
        box = drawnIn(descent.x);
        descent.changed(box);
      }
      return (yield* descent.step()) || isDrawn;
    },
    steer(next) {
      ({ weights, strained } = next);
      wanted = boundsOf(movables, variables, next.closeness, rig);
      leash = leashes();
      pull = pullOf(strained);
      box = drawnIn(descent.x);
      descent.changed(box);
    },
    canMove: () => wanted.high.some((high, v) => high > wanted.low[v]),
    atBounds: () => {
      const { x } = descent;
      let count = 0;
      for (let v = 0; v < x.length; v++) if (x[v] !== 0 && (x[v] <= wanted.low[v] || x[v] >= wanted.high[v])) count++;
      return count;
    },
  };
}
