/** A place on a line: how far along, the function there, and its slope along the line. */
export interface LinePlace {
  readonly along: number;
  readonly value: number;
  readonly slope: number;
}

/** What is at a place, worked out in pieces. */
type LookAt<Place> = (along: number) => Generator<number, Place>;

/** Sufficient decrease, and the share of the first slope that may be left (Nocedal & Wright 2006, chapter 3). */
const DECREASE = 1e-4;
const CURVATURE = 0.9;
const TRIES = 20;

/**
 * A step along a line that goes down, after which the function is enough lower and its slope enough flatter: the strong
 * Wolfe conditions (Wolfe 1969), found by widening, then by narrowing with cubics (Nocedal & Wright 2006, algorithms 3.5
 * and 3.6). Where they cannot be had, the lowest place found; null when none is lower. `most` is where the line ends. In
 * pieces: yields before each place that is looked at how far along it is, and what `at` yields.
 */
export function* searchLine<Place extends LinePlace>(
  start: Place,
  first: number,
  most: number,
  at: LookAt<Place>,
): Generator<number, Place | null> {
  const isLower = (place: LinePlace) => place.value <= start.value + DECREASE * place.along * start.slope;
  const isFlat = (place: LinePlace) => Math.abs(place.slope) <= -CURVATURE * start.slope;
  let low = start;
  let along = Math.min(first, most);
  for (let tries = 0; tries < TRIES; tries++) {
    yield along;
    const place = yield* at(along);
    if (!isLower(place) || (tries > 0 && place.value >= low.value)) return yield* narrowed(start, low, place, at, isLower, isFlat);
    if (isFlat(place) || along >= most) return place;
    if (place.slope >= 0) return yield* narrowed(start, place, low, at, isLower, isFlat);
    const next = cubicMinimum(low, place);
    low = place;
    along = Math.min(most, Number.isFinite(next) ? Math.min(10 * along, Math.max(1.5 * along, next)) : 4 * along);
  }
  return low.along > 0 ? low : null;
}

function* narrowed<Place extends LinePlace>(
  start: Place,
  from: Place,
  to: Place,
  at: LookAt<Place>,
  isLower: (place: LinePlace) => boolean,
  isFlat: (place: LinePlace) => boolean,
): Generator<number, Place | null> {
  let [low, high] = [from, to];
  for (let tries = 0; tries < TRIES && low.along !== high.along; tries++) {
    const along = between(low, high);
    yield along;
    const place = yield* at(along);
    if (!isLower(place) || place.value >= low.value) high = place;
    else {
      if (isFlat(place)) return place;
      if (place.slope * (high.along - low.along) >= 0) high = low;
      low = place;
    }
  }
  return low.along > 0 && low.value < start.value ? low : null;
}

/** Where the cubic through both places is lowest, kept off both ends; half-way where there is none. */
function between(a: LinePlace, b: LinePlace): number {
  const width = b.along - a.along;
  const share = (cubicMinimum(a, b) - a.along) / width;
  return a.along + width * (Number.isFinite(share) ? Math.min(0.9, Math.max(0.1, share)) : 0.5);
}

/** Nocedal & Wright 2006, equation 3.59. NaN where the cubic has no lowest place. */
function cubicMinimum(a: LinePlace, b: LinePlace): number {
  const d1 = a.slope + b.slope - (3 * (a.value - b.value)) / (a.along - b.along);
  const d2 = Math.sign(b.along - a.along) * Math.sqrt(d1 * d1 - a.slope * b.slope);
  return b.along - ((b.along - a.along) * (b.slope + d2 - d1)) / (b.slope - a.slope + 2 * d2);
}
