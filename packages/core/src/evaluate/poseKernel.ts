import { blockAt, rowAt, sampleSet } from "../curve/trackSet.ts";
import { after, type KernelMemory, onlyOne, openKernel } from "../maths/kernelMemory.ts";
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

/** Numbers of a pass's power. */
const POWER = 27;

/**
 * Turns and places of figures, worked out in WebAssembly: what goes in is written to its memory and what comes out is read
 * from it. Between two frames only what figures have at rest stays there, behind room for what comes and goes.
 */
class PoseKernel {
  private readonly exports: Exports;
  private readonly memory: KernelMemory;

  constructor() {
    const { exports, memory } = openKernel<Exports>(poseKernelCode);
    this.exports = exports;
    this.memory = memory;
  }

  /** The turns of a stack's controls at a frame, into the stage's; false where they cannot be worked out here. */
  stack({ passes, turns }: Stage, { set, angles, orders, controls, layers }: TurnStack, time: number): boolean {
    const { exports, memory } = this;
    const here = memory.first;
    const next = after(here, angles.length);
    const mixed = after(next, angles.length);
    const powers = after(mixed, angles.length);
    const out = after(powers, layers.length * POWER);
    const orderBytes = after(out, controls.length * 4);
    if (!memory.hasRoom(after(orderBytes, controls.length))) return false;
    const { numbers, bytes } = memory;
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
    const figure = stage.placed?.places === this.memory.places ? stage.placed : this.settle(stage);
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
    const ordersAt = after(0, order.length / 2);
    const parents = after(ordersAt, orders.length / 8);
    const turnedAt = after(parents, orders.length / 2);
    const restTurnsAt = after(turnedAt, orders.length / 8);
    const restMovesAt = after(restTurnsAt, restTurns.length);
    const valuesAt = after(restMovesAt, restMoves.length);
    const turnsAt = after(valuesAt, values.length);
    const worldsAt = after(turnsAt, turns.length);
    const first = this.memory.place(after(worldsAt, worlds.length));
    if (first < 0) return null;
    const { integers, bytes, numbers, places } = this.memory;
    const placed: PlacedFigure = {
      places,
      order: first,
      orders: first + ordersAt,
      parents: first + parents,
      restTurned: first + turnedAt,
      restTurns: first + restTurnsAt,
      restMoves: first + restMovesAt,
      values: first + valuesAt,
      turns: first + turnsAt,
      worlds: first + worldsAt,
      allTurns: numbers.subarray(first + turnsAt, first + turnsAt + turns.length),
      allWorlds: numbers.subarray(first + worldsAt, first + worldsAt + worlds.length),
    };
    integers.set(order, placed.order * 2);
    bytes.set(orders, placed.orders * 8);
    integers.set(standing.parents, placed.parents * 2);
    bytes.set(restTurned, placed.restTurned * 8);
    numbers.set(restTurns, placed.restTurns);
    numbers.set(restMoves, placed.restMoves);
    // Controls that are not in its order keep what they have.
    placed.allTurns.set(turns);
    placed.allWorlds.set(worlds);
    stage.placed = placed;
    return placed;
  }
}

/** The one of this thread, if there can be one. */
export const poseKernel = onlyOne(() => new PoseKernel());
