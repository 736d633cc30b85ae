/*
 * A body thrown up and left to gravity: y(t) = up·t − g·t²/2, in any unit of length, seconds, and g above 0 (any
 * mechanics text). Heights are above the place of take-off; `rise` is how much higher the landing is than that.
 */

/** The height after some seconds. */
export const thrownHeight = (seconds: number, up: number, gravity: number): number => (up - (gravity * seconds) / 2) * seconds;

/** The speed upward with which a landing is reached in so many seconds. */
export const speedFor = (rise: number, seconds: number, gravity: number): number => rise / seconds + (gravity * seconds) / 2;

/** How high the top is, and after how many seconds: that of take-off where it only falls. */
export function topOf(up: number, gravity: number): { height: number; seconds: number } {
  const seconds = Math.max(0, up / gravity);
  return { height: thrownHeight(seconds, up, gravity), seconds };
}

/** Seconds from take-off over a top to a landing that is not above it. */
export function secondsOver(top: number, rise: number, gravity: number): number {
  return Math.sqrt((2 * top) / gravity) + Math.sqrt((2 * (top - rise)) / gravity);
}

/** The gravity with which a flight over a top takes so many seconds. The landing is not above the top. */
export function gravityFor(top: number, rise: number, seconds: number): number {
  const ways = (Math.sqrt(2 * top) + Math.sqrt(2 * (top - rise))) / seconds;
  return ways * ways;
}
