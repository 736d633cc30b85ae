/** A frame at which a path turns harder than it does beside it. */
export interface Bend {
  /** Its number among the places. */
  readonly at: number;
  /** How far the way changes there, degrees. */
  readonly turn: number;
  /** How much more that is than on the frames beside it, degrees: its size. */
  readonly size: number;
}

/** So many frames on each side say how a path turns beside one. */
const BESIDE = 2;
/** A turn smaller than this beyond its neighbours (degrees), or less than so many times theirs, is none. */
const LEAST = 10;
const TIMES = 1.6;
/** Steps shorter than this share of the longest have no way to speak of. */
const STILL = 0.04;

/**
 * How far a path changes its way at each of its places, degrees; 0 at its ends and where it hardly moves. Places are given
 * one after another, `size` numbers each (2 in a picture, 3 in space).
 */
export function turnsOf(places: ArrayLike<number>, size: 2 | 3): Float64Array {
  const count = places.length / size;
  const steps = Array.from({ length: Math.max(0, count - 1) }, (_, i) =>
    Array.from({ length: size }, (_, k) => places[(i + 1) * size + k] - places[i * size + k]),
  );
  const lengths = steps.map((step) => Math.hypot(...step));
  const still = STILL * lengths.reduce((most, length) => Math.max(most, length), 0);
  const turns = new Float64Array(count);
  for (let i = 1; i + 1 < count; i++) {
    if (!(lengths[i - 1] > still) || !(lengths[i] > still)) continue;
    const along = steps[i].reduce((sum, v, k) => sum + v * steps[i - 1][k], 0) / (lengths[i - 1] * lengths[i]);
    turns[i] = (Math.acos(Math.min(1, Math.max(-1, along))) * 180) / Math.PI;
  }
  return turns;
}

/** The bends of a path, in order: places where it turns harder than on the frames beside them. */
export function bendsOf(places: ArrayLike<number>, size: 2 | 3): Bend[] {
  const turns = turnsOf(places, size);
  const bends: Bend[] = [];
  turns.forEach((turn, at) => {
    if (turn < LEAST) return;
    const beside: number[] = [];
    for (let k = at - BESIDE; k <= at + BESIDE; k++) if (k !== at && k > 0 && k < turns.length - 1) beside.push(turns[k]);
    if (beside.length === 0) return;
    const around = beside.reduce((sum, one) => sum + one, 0) / beside.length;
    const size = turn - around;
    if (size >= LEAST && turn >= TIMES * around && beside.every((one) => one <= turn)) bends.push({ at, turn, size });
  });
  return bends;
}

/** The size of the worst bend of a path, degrees; 0 where it has none. */
export function worstBend(places: ArrayLike<number>, size: 2 | 3): { at: number; size: number } {
  return bendsOf(places, size).reduce((worst, { at, size: one }) => (one > worst.size ? { at, size: one } : worst), { at: -1, size: 0 });
}
