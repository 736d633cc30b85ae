import { Edges } from "./edges";

/**
 * A curve in tolerances: between which values it may run, and in which states it must end.
 *
 * Its walls stand in pairs, as two are looked at at a time: for each sample k but the first, low(k − ½), low(k), high(k − ½)
 * and high(k). At the first a curve begins in a set of states.
 */
export class CurveWalls {
  samples: i32 = 0;
  walls: StaticArray<f64> = new StaticArray<f64>(0);
  /** None where it may end in any state. */
  readonly end: Edges = new Edges();

  begin(samples: i32): void {
    this.samples = samples;
    this.end.count = 0;
    const wanted = 4 * (samples - 1);
    // What is left behind is never given back: at least twice as much room keeps that small.
    if (this.walls.length < wanted) this.walls = new StaticArray<f64>(max(wanted, 2 * this.walls.length));
  }
}
