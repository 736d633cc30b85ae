/** Where a figure's numbers stand in the memory of `poseKernel.ts`, as long as that memory is what it was. */
export interface PlacedFigure {
  readonly memory: object;
  readonly order: number;
  readonly orders: number;
  readonly parents: number;
  readonly restTurned: number;
  readonly restTurns: number;
  readonly restMoves: number;
  readonly values: number;
  readonly turns: number;
  readonly worlds: number;
  /** What is at `turns` and `worlds`. */
  readonly allTurns: Float64Array;
  readonly allWorlds: Float64Array;
}
