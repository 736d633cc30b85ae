import { type LinePlace, searchLine } from "./lineSearch.ts";

/**
 * A function of several numbers: answers its value and writes how it changes with each of them into `slope`. One that takes
 * long is worked out in pieces.
 */
export type Valued = (x: Float64Array, slope: Float64Array) => number | Generator<number, number>;

/** Between what each number must stay; infinite where it is free. */
export interface Box {
  readonly low: Float64Array;
  readonly high: Float64Array;
}

export interface DescentOptions {
  /** How many steps it remembers. */
  readonly memory?: number;
  /** It has arrived where no number's slope, as far as its bounds let it go, is steeper. */
  readonly tolerance?: number;
}

/** A search for the lowest place of a function, step by step. */
export interface Descent {
  readonly x: Float64Array;
  /** Infinite before the first step. */
  readonly value: number;
  /** How often the function was asked. */
  readonly evaluations: number;
  /** One step down; false when there is none to be had. In pieces: yields each time before the function is asked, and within it. */
  step(): Generator<number, boolean>;
  /** The function has changed, or the bounds have: it goes on from where it is, within them. */
  changed(box: Box): void;
}

interface Place extends LinePlace {
  readonly x: Float64Array;
  readonly gradient: Float64Array;
}

/** A step taken and what it did to the slopes. */
interface Pair {
  readonly s: Float64Array;
  readonly y: Float64Array;
}

/**
 * Limited-memory quasi-Newton (L-BFGS, Nocedal 1980) within bounds: numbers at a bound whose slope pushes them outward
 * stand still, the others go along the two-loop direction, bent at the bounds they meet (gradient projection, Bertsekas
 * 1982). Numbers in `start` outside their bounds are brought within. The function must be finite there.
 */
export function descend(ask: Valued, start: Float64Array, given: Box, { memory = 10, tolerance = 1e-10 }: DescentOptions = {}): Descent {
  const size = start.length;
  let box = given;
  let pairs: Pair[] = [];
  let evaluations = 0;
  let x = within(start, box);
  let gradient = new Float64Array(size);
  let value = Number.POSITIVE_INFINITY;
  /** Are value and gradient those of x? */
  let isKnown = false;

  function* asked(at: Float64Array, out: Float64Array): Generator<number, number> {
    evaluations++;
    const found = ask(at, out);
    return typeof found === "number" ? found : yield* found;
  }
  const isHeld = (i: number) => (x[i] <= box.low[i] && gradient[i] > 0) || (x[i] >= box.high[i] && gradient[i] < 0);

  function* step(): Generator<number, boolean> {
    if (!isKnown) value = yield* asked(x, gradient);
    isKnown = true;
    const free = new Uint8Array(size);
    for (let i = 0; i < size; i++) free[i] = isHeld(i) ? 0 : 1;
    if (steepest(x, gradient, box) <= tolerance) return false;
    for (;;) {
      const direction = twoLoops(gradient, pairs, free);
      const found = pairs.length === 0 || dot(direction, gradient) < 0 ? yield* along(direction) : null;
      if (found) {
        remember(found);
        return true;
      }
      if (pairs.length === 0) return false;
      // What is remembered misleads: once more from the slope alone.
      pairs = [];
    }
  }

  function* along(direction: Float64Array): Generator<number, Place | null> {
    const start = { along: 0, value, slope: dot(direction, gradient), x, gradient };
    if (!(start.slope < 0)) return null;
    const length = Math.sqrt(dot(direction, direction));
    const first = pairs.length === 0 ? Math.min(1, 1 / length) : 1;
    return yield* searchLine<Place>(start, first, reach(x, direction, box), function* (far) {
      const there = new Float64Array(size);
      for (let i = 0; i < size; i++) there[i] = Math.min(box.high[i], Math.max(box.low[i], x[i] + far * direction[i]));
      const slopes = new Float64Array(size);
      const found = yield* asked(there, slopes);
      let slope = 0;
      for (let i = 0; i < size; i++) if (there[i] > box.low[i] && there[i] < box.high[i]) slope += slopes[i] * direction[i];
      return {
        along: far,
        value: Number.isFinite(found) ? found : Number.POSITIVE_INFINITY,
        slope,
        x: there,
        gradient: slopes,
      };
    });
  }

  function remember(found: Place): void {
    const s = new Float64Array(size);
    const y = new Float64Array(size);
    for (let i = 0; i < size; i++) {
      s[i] = found.x[i] - x[i];
      y[i] = found.gradient[i] - gradient[i];
    }
    if (dot(s, y) > 1e-12 * dot(y, y)) pairs = [...pairs, { s, y }].slice(-memory);
    ({ x, gradient, value } = found as { x: Float64Array<ArrayBuffer>; gradient: Float64Array<ArrayBuffer>; value: number });
  }

  return {
    get x() {
      return x;
    },
    get value() {
      return value;
    },
    get evaluations() {
      return evaluations;
    },
    step,
    changed(next) {
      box = next;
      x = within(x, box);
      pairs = [];
      gradient = new Float64Array(size);
      isKnown = false;
    },
  };
}

function within(x: Float64Array, { low, high }: Box): Float64Array<ArrayBuffer> {
  const kept = new Float64Array(x.length);
  for (let i = 0; i < x.length; i++) kept[i] = Math.min(high[i], Math.max(low[i], x[i]));
  return kept;
}

/** The steepest slope along which there is room. */
function steepest(x: Float64Array, gradient: Float64Array, { low, high }: Box): number {
  let most = 0;
  for (let i = 0; i < x.length; i++) most = Math.max(most, Math.abs(Math.min(high[i], Math.max(low[i], x[i] - gradient[i])) - x[i]));
  return most;
}

/** Beyond so far along a direction everything that moves is at a bound. */
function reach(x: Float64Array, direction: Float64Array, { low, high }: Box): number {
  let most = 0;
  for (let i = 0; i < x.length; i++)
    if (direction[i] !== 0) most = Math.max(most, ((direction[i] > 0 ? high[i] : low[i]) - x[i]) / direction[i]);
  return Math.min(most, 1e10);
}

/** Where to go, of the free numbers: Nocedal 1980, Nocedal & Wright 2006, algorithm 7.4. */
function twoLoops(gradient: Float64Array, pairs: readonly Pair[], free: Uint8Array): Float64Array {
  const q = new Float64Array(gradient.length);
  for (let i = 0; i < q.length; i++) q[i] = free[i] === 1 ? -gradient[i] : 0;
  const used = pairs.flatMap(({ s, y }) => {
    const [sy, yy] = [dotOf(s, y, free), dotOf(y, y, free)];
    return sy > 1e-12 * yy ? [{ s, y, sy, yy, alpha: 0 }] : [];
  });
  for (const pair of used.toReversed()) {
    pair.alpha = dotOf(pair.s, q, free) / pair.sy;
    for (let i = 0; i < q.length; i++) if (free[i] === 1) q[i] -= pair.alpha * pair.y[i];
  }
  const last = used[used.length - 1];
  if (last) for (let i = 0; i < q.length; i++) q[i] *= last.sy / last.yy;
  for (const pair of used) {
    const beta = dotOf(pair.y, q, free) / pair.sy;
    for (let i = 0; i < q.length; i++) if (free[i] === 1) q[i] += (pair.alpha - beta) * pair.s[i];
  }
  return q;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

function dotOf(a: Float64Array, b: Float64Array, free: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) if (free[i] === 1) sum += a[i] * b[i];
  return sum;
}
