/** One sampler of an animation, its seconds turned into frames. */
export interface Track {
  readonly kind: "STEP" | "LINEAR" | "CUBICSPLINE";
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly fps: number;
}
