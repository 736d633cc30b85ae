/**
 * One kind of keyed pass: how its own value joins what is below it. A new kind is one file like
 * `adds.ts` and one line in `kinds.ts`.
 */
export interface PassKind {
  readonly id: string;
  readonly title: string;
  /** A sentence for the user. */
  readonly help: string;
  /** Channels: values[at[n]], so far, is joined in place with the pass's own[n]; `weight` is 1 at 100 %. */
  channels(values: Float64Array, at: Int32Array, own: Float64Array, weight: number): void;
  /** Rotations: the quaternion turns[4·at[n]…] is joined in place with the pass's own[4n…]. */
  rotations(turns: Float64Array, at: Int32Array, own: Float64Array, weight: number): void;
  /** The own value that changes nothing above a channel that has `below`. */
  neutral(below: number): number;
}
