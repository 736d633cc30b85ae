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
  const count = Math.floor(places.length / size);
  const turns = new Float64Array(count);
  const lengths = new Float64Array(Math.max(0, count - 1));
  let longest = 0;
  for (let i = 0; i + 1 < count; i++) {
    let sum = 0;
    for (let k = 0; k < size; k++) sum += (places[(i + 1) * size + k] - places[i * size + k]) ** 2;
    lengths[i] = Math.sqrt(sum);
    if (lengths[i] > longest) longest = lengths[i];
  }
  const still = STILL * longest;
  for (let i = 1; i + 1 < count; i++) {
    if (!(lengths[i - 1] > still) || !(lengths[i] > still)) continue;
    let along = 0;
    for (let k = 0; k < size; k++)
      along += (places[i * size + k] - places[(i - 1) * size + k]) * (places[(i + 1) * size + k] - places[i * size + k]);
    turns[i] = (Math.acos(Math.min(1, Math.max(-1, along / (lengths[i - 1] * lengths[i])))) * 180) / Math.PI;
  }
  return turns;
}

/** The bends of a path, in order: places where it turns harder than on the frames beside them. */
export function bendsOf(places: ArrayLike<number>, size: 2 | 3): Bend[] {
  const turns = turnsOf(places, size);
  const bends: Bend[] = [];
  for (let at = 0; at < turns.length; at++) {
    const turn = turns[at];
    if (turn < LEAST) continue;
    let sum = 0;
    let count = 0;
    let isHardest = true;
    for (let k = Math.max(1, at - BESIDE); k <= Math.min(turns.length - 2, at + BESIDE); k++) {
      if (k === at) continue;
      sum += turns[k];
      count++;
      if (turns[k] > turn) isHardest = false;
    }
    if (count === 0 || !isHardest) continue;
    const around = sum / count;
    if (turn - around >= LEAST && turn >= TIMES * around) bends.push({ at, turn, size: turn - around });
  }
  return bends;
}

/** The size of the worst bend of a path, degrees; 0 where it has none. */
export function worstBend(places: ArrayLike<number>, size: 2 | 3): { at: number; size: number } {
  return bendsOf(places, size).reduce((worst, { at, size: one }) => (one > worst.size ? { at, size: one } : worst), { at: -1, size: 0 });
}
