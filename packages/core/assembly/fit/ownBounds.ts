/**
 * The bounds of a vertex's own rows, by where they stand: they are met wherever it goes, and are put out of reach while the
 * next row is looked for.
 */
export class OwnBounds {
  private readonly places: StaticArray<usize> = new StaticArray<usize>(4);
  private readonly beyond: StaticArray<f64> = new StaticArray<f64>(4);
  private readonly aside: StaticArray<f64> = new StaticArray<f64>(4);
  private readonly nowhere: StaticArray<f64> = new StaticArray<f64>(1);

  /** Row i's bound stands at `place` (0: nowhere); `beyond` is out of reach. */
  @inline
  note(i: i32, place: usize, beyond: f64): void {
    unchecked((this.places[i] = place > 0 ? place : changetype<usize>(this.nowhere)));
    unchecked((this.beyond[i] = beyond));
  }

  @inline
  setAside(): void {
    for (let i = 0; i < 4; i++) {
      const at = unchecked(this.places[i]);
      unchecked((this.aside[i] = load<f64>(at)));
      store<f64>(at, unchecked(this.beyond[i]));
    }
  }

  @inline
  putBack(): void {
    for (let i = 0; i < 4; i++) store<f64>(unchecked(this.places[i]), unchecked(this.aside[i]));
  }
}
