/** Where a figure's numbers stand in the memory of `poseKernel.ts`, as long as figures have their places there. */
export interface PlacedFigure {
  /** Those of the kernel when it got its own. */
  readonly places: object;
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
