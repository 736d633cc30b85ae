/** What a key hands on is value and slope, in tolerances and tolerances a `UNIT` of frames. */
export const UNIT = 4;

/** Half the side of the square that stands for a point: far below what is left of the tolerance. */
const DOT = 1e-8;

/** Corners of a rectangle around a state that nothing leads to (see `StatePath`). */
function around(value: number, slope: number, valueReach: number, slopeReach: number): Float64Array {
  const corner = (v: number, s: number) => [value + v * valueReach, slope + s * slopeReach, value, slope];
  return Float64Array.of(...corner(-1, -1), ...corner(1, -1), ...corner(1, 1), ...corner(-1, 1));
}

/** One value, with any slope up to a limit. */
export const anySlope = (value: number, steepest: number): Float64Array => around(value, 0, DOT, steepest);

/** One state, as wide as a dot. */
export const oneState = (value: number, slope: number): Float64Array => around(value, slope, DOT, DOT);
