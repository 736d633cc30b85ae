import type { Curve } from "../curve/curve.ts";
import type { ChannelKey } from "../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../model/shot.ts";
import type { Closeness } from "./closeness.ts";
import type { Judged } from "./judged.ts";
import type { KeyParts, Movable } from "./keyVariables.ts";
import { makeObjective } from "./objective.ts";
import { onLeash } from "./onLeash.ts";
import { makeSearch } from "./search.ts";

/** What a tuning is told, and may be told anew while it goes. */
export interface Told {
  readonly closeness: Closeness;
  /** By the id of a cost. */
  readonly weights: Readonly<Record<string, number>>;
  /** So many steps at the most, counted anew when it is told otherwise. */
  readonly steps: number;
  /** The strain there was at first by these weights, where more is strained than what is tuned: moving is measured by it. */
  readonly strained?: number;
}

/** What is tuned: curves of a layer of a shot, and which of their keys. */
export interface Tuned {
  readonly shot: Shot;
  /** What the leash holds it to, where that is another: the shot as it was at first. */
  readonly before?: Shot;
  readonly layer: string;
  readonly movables: readonly Movable[];
  readonly parts: KeyParts;
}

/** A motion that gets better step by step. */
export interface Tuning {
  /** One step; false when there is nothing more to gain, or all steps are done. In pieces. */
  step(): Generator<number, boolean>;
  /** The share (0..1) of its steps that were done. */
  readonly share: number;
  /** Weights or closeness have changed: it goes on from where it is. */
  steer(told: Told): void;
  /** Is there anything that may move? */
  canMove(): boolean;
  /** How many numbers are as far as they may go. */
  atBounds(): number;
  /** The curves of the movables, in their order, as far as it has come, each on its leash. */
  held(): readonly Curve[];
  /** What has not been looked at so far, in a sentence; null when all has. */
  left(): string | null;
}

/** It has arrived when so many steps together bring less than so large a share. */
const PATIENCE = 12;
const LITTLE = 2e-3;

/** Counts the steps of a tuning and sees when more of them bring next to nothing. */
export class Progress {
  private taken = 0;
  private values: number[] = [];
  private hasArrived = false;

  get isDone(): boolean {
    return this.hasArrived;
  }

  /** The share of so many steps. */
  shareOf(steps: number): number {
    return this.hasArrived ? 1 : this.taken / steps;
  }

  /** A step was taken, down to a value. */
  took(value: number, steps: number): void {
    this.taken++;
    this.values.push(value);
    const then = this.values[this.values.length - 1 - PATIENCE];
    if (this.taken >= steps || (then !== undefined && then - value < LITTLE * then)) this.hasArrived = true;
  }

  arrived(): void {
    this.hasArrived = true;
  }

  again(): void {
    this.taken = 0;
    this.values = [];
    this.hasArrived = false;
  }
}

/** The shot with other curves of the movables, in their order. */
export function withMoved(shot: Shot, layer: string, movables: readonly Movable[], curves: readonly Curve[]): Shot {
  const moved = movables.flatMap(({ key, curve }, n): [ChannelKey, Curve][] => (curves[n] === curve ? [] : [[key, curves[n]]]));
  return moved.length === 0 ? shot : withLayerCurves(shot, layer, { ...layerCurves(shot, layer), ...Object.fromEntries(moved) });
}

/** A tuning, and the numbers it has found. */
export interface Searching extends Tuning {
  readonly x: Float64Array;
}

/** Tunes a shot as a whole, judged over the frames of `judged`; goes on from `start`, where it is given, with what was counted so far. */
export function makeTuning(tuned: Tuned, judged: Judged, told: Told, progress = new Progress(), start?: Float64Array): Searching {
  const { shot, before = shot, layer, movables, parts } = tuned;
  const objective = makeObjective(shot, layer, movables, judged, parts);
  let { closeness, steps } = told;
  const settings = ({ closeness, weights, strained }: Told) => ({
    closeness,
    weights: judged.costs.map(({ id }) => weights[id] ?? 0),
    strained,
  });
  const search = makeSearch(objective, movables, shot.rig, settings(told), start);
  const shotFor = (x: Float64Array) => withMoved(shot, layer, movables, objective.curvesFor(x));
  return {
    get x() {
      return search.x;
    },
    get share() {
      return progress.shareOf(steps);
    },
    *step() {
      if (progress.isDone) return false;
      const isLower = yield* search.step();
      if (isLower) progress.took(search.value, steps);
      else progress.arrived();
      return isLower;
    },
    steer(next) {
      ({ closeness, steps } = next);
      search.steer(settings(next));
      progress.again();
    },
    canMove: () => search.canMove(),
    atBounds: () => search.atBounds(),
    held: () => objective.curvesFor(onLeash(before, movables, objective.variables, search.x, closeness, shotFor)),
    left: () => null,
  };
}
