/**
 * One kind of keyed pass: how its own value joins what is below it. A new kind is one file like
 * `adds.ts` and one line in `kinds.ts`.
 */
export interface PassKind {
  readonly id: string;
  readonly title: string;
  /** A sentence for the user. */
  readonly help: string;
  /** One channel: `below` is the value so far, `own` the pass's, `weight` 1 at 100 %. */
  channel(below: number, own: number, weight: number): number;
  /** One rotation: q (in place, at `o`) becomes the joined quaternion; `own` at `p`. */
  rotation(q: Float64Array, o: number, own: Float64Array, p: number, weight: number): void;
  /** The own value that changes nothing above a channel that has `below`. */
  neutral(below: number): number;
}
