import { toByteArray } from "base64-js";
import { blockAt, rowAt, sampleSet } from "../curve/trackSet.ts";
import { KernelMemory } from "../maths/kernelMemory.ts";
import type { PlacedFigure } from "./placedFigure.ts";
import { poseKernelCode } from "./poseKernelCode.ts";
import type { Stage } from "./stage.ts";
import type { TurnStack } from "./turnStacks.ts";

/** What `assembly/pose/index.ts` offers, which says what each of them does; places in memory are bytes. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  room(): number;
  between(here: number, next: number, x: number, count: number, out: number): void;
  stack(angles: number, orders: number, count: number, layers: number, powers: number, out: number): number;
  turn(order: number, count: number, orders: number, values: number, turns: number): void;
  place(
    order: number,
    count: number,
    parents: number,
    restTurned: number,
    restTurns: number,
    restMoves: number,
    values: number,
    turns: number,
    worlds: number,
  ): void;
}

/** Memory grows to no more than this (bytes); larger figures are worked out without it. */
const MOST = 8 * 1048576;
/** Figures take up so much of it (numbers) before their places are given to others. */
const FIGURES = 262_144;
/** Numbers of a pass's power. */
const POWER = 27;

/** A place in memory, in numbers of eight bytes, after so many others; always at an even one. */
const after = (at: number, numbers: number) => (at + Math.ceil(numbers) + 1) & ~1;

/**
 * Turns and places of figures, worked out in WebAssembly: what goes in is written to its memory and what comes out is read
 * from it. Between two frames only what figures have at rest stays there, behind room for what comes and goes.
 */
export class PoseKernel {
  private readonly exports: Exports;
  private readonly memory: KernelMemory;
  private readonly first: number;
  /** Where the figures begin, and where the next one goes. */
  private figures: number;
  private free: number;
  /** Another one whenever figures lose their places. */
  private places = {};

  constructor() {
    const module = new WebAssembly.Module(Uint8Array.from(toByteArray(poseKernelCode)));
    this.exports = new WebAssembly.Instance(module).exports as unknown as Exports;
    this.memory = new KernelMemory(this.exports.memory, MOST);
    this.first = this.exports.room() / 8;
    this.figures = this.free = this.first;
  }

  /** No figure has a place. */
  private clear(): void {
    this.places = {};
    this.free = this.figures;
  }

  /** Does memory reach up to a place, or can it be made to? Figures then lose theirs. */
  private reaches(to: number): boolean {
    const { numbers } = this.memory;
    if (!this.memory.reaches(to)) return false;
    if (this.memory.numbers !== numbers) this.clear();
    return true;
  }

  /** Is there room up to a place for what comes and goes, or can it be had? */
  private hasRoom(to: number): boolean {
    if (to <= this.figures) return true;
    if (!this.reaches(to)) return false;
    this.figures = to;
    this.clear();
    return true;
  }

  /** The turns of a stack's controls at a frame, into the stage's; false where they cannot be worked out here. */
  stack({ passes, turns }: Stage, { set, angles, orders, controls, layers }: TurnStack, time: number): boolean {
    const { exports } = this;
    const here = this.first;
    const next = after(here, angles.length);
    const mixed = after(next, angles.length);
    const powers = after(mixed, angles.length);
    const out = after(powers, layers.length * POWER);
    const orderBytes = after(out, controls.length * 4);
    if (!this.hasRoom(after(orderBytes, controls.length))) return false;
    const { numbers, bytes } = this.memory;
    if (set.isWhole && set.keyed.length === 0) {
      const block = blockAt(set, time);
      const row = rowAt(block, time);
      numbers.set(block.rows[row], here);
      numbers.set(block.rows[row + 1], next);
      exports.between(here * 8, next * 8, time - Math.floor(time), angles.length, mixed * 8);
    } else {
      sampleSet(set, time, angles);
      numbers.set(angles, mixed);
    }
    for (let n = 0; n < controls.length; n++) bytes[orderBytes * 8 + n] = orders[n];
    for (let l = 0; l < layers.length; l++) numbers.set(passes[layers[l].slot].power.numbers, powers + l * POWER);
    if (exports.stack(mixed * 8, orderBytes * 8, controls.length, layers.length, powers * 8, out * 8) === 0) return false;
    for (let n = 0; n < controls.length; n++) {
      const o = controls[n] * 4;
      const k = out + n * 4;
      turns[o] = numbers[k];
      turns[o + 1] = numbers[k + 1];
      turns[o + 2] = numbers[k + 2];
      turns[o + 3] = numbers[k + 3];
    }
    return true;
  }

  /**
   * World matrices of a stage's controls, of their turns or (`fromAngles`) their values, in which case the turns are written, too;
   * false where they cannot be worked out here.
   */
  place(stage: Stage, fromAngles: boolean): boolean {
    const { order, values, turns, worlds } = stage;
    const figure = stage.placed?.places === this.places ? stage.placed : this.settle(stage);
    if (figure === null) return false;
    const { exports } = this;
    const { numbers } = this.memory;
    numbers.set(values, figure.values);
    if (fromAngles) {
      exports.turn(figure.order * 8, order.length, figure.orders * 8, figure.values * 8, figure.turns * 8);
      turns.set(figure.allTurns);
    } else numbers.set(turns, figure.turns);
    exports.place(
      figure.order * 8,
      order.length,
      figure.parents * 8,
      figure.restTurned * 8,
      figure.restTurns * 8,
      figure.restMoves * 8,
      figure.values * 8,
      figure.turns * 8,
      figure.worlds * 8,
    );
    worlds.set(figure.allWorlds);
    return true;
  }

  /** Write what a stage's figure has at rest; null where there is no room for it. */
  private settle(stage: Stage): PlacedFigure | null {
    const { order, orders, standing, restTurns, restMoves, restTurned, values, turns, worlds } = stage;
    if (this.free - this.figures > FIGURES) this.clear();
    const first = this.free;
    const ordersAt = after(first, order.length / 2);
    const parents = after(ordersAt, orders.length / 8);
    const turnedAt = after(parents, orders.length / 2);
    const restTurnsAt = after(turnedAt, orders.length / 8);
    const restMovesAt = after(restTurnsAt, restTurns.length);
    const valuesAt = after(restMovesAt, restMoves.length);
    const turnsAt = after(valuesAt, values.length);
    const worldsAt = after(turnsAt, turns.length);
    const end = after(worldsAt, worlds.length);
    if (!this.reaches(end)) return null;
    this.free = end;
    const { integers, bytes, numbers } = this.memory;
    integers.set(order, first * 2);
    bytes.set(orders, ordersAt * 8);
    integers.set(standing.parents, parents * 2);
    bytes.set(restTurned, turnedAt * 8);
    numbers.set(restTurns, restTurnsAt);
    numbers.set(restMoves, restMovesAt);
    // Controls that are not in its order keep what they have.
    numbers.set(turns, turnsAt);
    numbers.set(worlds, worldsAt);
    stage.placed = {
      places: this.places,
      order: first,
      orders: ordersAt,
      parents,
      restTurned: turnedAt,
      restTurns: restTurnsAt,
      restMoves: restMovesAt,
      values: valuesAt,
      turns: turnsAt,
      worlds: worldsAt,
      allTurns: numbers.subarray(turnsAt, turnsAt + turns.length),
      allWorlds: numbers.subarray(worldsAt, worldsAt + worlds.length),
    };
    return stage.placed;
  }
}

let kernel: PoseKernel | null | undefined;

/** The one of this thread; null where there can be none, as in a browser that is told to run no WebAssembly. */
export function poseKernel(): PoseKernel | null {
  if (kernel === undefined)
    try {
      kernel = new PoseKernel();
    } catch {
      kernel = null;
    }
  return kernel;
}
