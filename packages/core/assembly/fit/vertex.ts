import { SpanProgram } from "./spanProgram";

/** A vertex of a programme that was found, kept to go on from. */
export class Vertex {
  private readonly rows: StaticArray<i32> = new StaticArray<i32>(4);
  private readonly inverse: StaticArray<f64> = new StaticArray<f64>(16);
  private readonly x: StaticArray<f64> = new StaticArray<f64>(4);
  private readonly weights: StaticArray<f64> = new StaticArray<f64>(4);

  keep(program: SpanProgram, weights: StaticArray<f64>): void {
    copy(this.rows, program.rows);
    copy(this.inverse, program.inverse);
    copy(this.x, program.x);
    copy(this.weights, weights);
  }

  restore(program: SpanProgram, weights: StaticArray<f64>): void {
    copy(program.rows, this.rows);
    copy(program.inverse, this.inverse);
    copy(program.x, this.x);
    copy(weights, this.weights);
    program.notePlaces();
  }

  /** Does a programme stand where the same rows are met? */
  isOf(program: SpanProgram): bool {
    for (let i = 0; i < 4; i++) if (unchecked(this.rows[i]) != unchecked(program.rows[i])) return false;
    return true;
  }
}

function copy<T>(to: StaticArray<T>, from: StaticArray<T>): void {
  memory.copy(changetype<usize>(to), changetype<usize>(from), <usize>to.length * sizeof<T>());
}
