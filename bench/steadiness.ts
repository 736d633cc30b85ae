import { Worker } from "node:worker_threads";

/*
 * How steady the machine is: a fixed piece of arithmetic, timed beside everything that is measured. Where it takes longer than
 * at its quickest the machine had something else to do, or was slowed down, and that time says little. It is done on a thread
 * of its own, as what else a process has loaded can make arithmetic slower.
 */

/** The arithmetic takes at the most so many times its quickest on a quiet machine. */
const QUIET = 1.2;
/** Of so many tries the median counts. */
const TRIES = 5;

/** Cubics looked at row by row for the nearest of two walls: it fills what a processor can do at once, as curves do. */
function arithmetic(): number {
  let nearest = 0;
  for (let n = 0; n < 5000; n++) {
    let near = 1e9;
    const bend = 0.01 * (n % 7);
    for (let k = 1; k <= 40; k++) {
      const t = k * 0.25;
      const rate = ((bend * t + 0.3) * t - 0.2) * t + 1;
      const off = ((0.001 * t + 0.3) * t + 2) * t + 1 - ((n * 7 + k * 13) % 40);
      const room = rate > 0 ? 1 - off : 1 + off;
      const size = Math.abs(rate);
      if (room < near * size && size > 1e-12) near = room / size;
    }
    nearest += near;
  }
  return nearest;
}

/** The thread's program: whenever it is woken it does the arithmetic and says how long that took. */
const program = `
const { workerData } = require("node:worker_threads");
const arithmetic = ${arithmetic.toString()};
let kept = 0;
for (;;) {
  Atomics.wait(workerData.woken, 0, 0);
  workerData.woken[0] = 0;
  const times = [];
  for (let n = 0; n < ${TRIES}; n++) {
    const start = performance.now();
    kept += arithmetic();
    times.push(performance.now() - start);
  }
  workerData.took[0] = Number.isFinite(kept) ? times.sort((a, b) => a - b)[${TRIES >> 1}] : NaN;
  Atomics.store(workerData.done, 0, 1);
  Atomics.notify(workerData.done, 0);
}`;

const flag = () => new Int32Array(new SharedArrayBuffer(4));
const shared = { woken: flag(), done: flag(), took: new Float64Array(new SharedArrayBuffer(8)) };
let thread: Worker | null = null;

function pulse(): number {
  if (!thread) {
    thread = new Worker(program, { eval: true, workerData: shared });
    thread.unref();
    // The first times warm its engine.
    for (let n = 0; n < 20; n++) once();
  }
  return once();
}

function once(): number {
  Atomics.store(shared.done, 0, 0);
  Atomics.store(shared.woken, 0, 1);
  Atomics.notify(shared.woken, 0);
  Atomics.wait(shared.done, 0, 0);
  return shared.took[0];
}

/** The quickest there was, here or in a process that handed it on (milliseconds). */
let quickest = Number.POSITIVE_INFINITY;

export function quickestSoFar(): number {
  return quickest;
}

/** Take over what another process found. */
export function knowQuickest(ms: number): void {
  quickest = Math.min(quickest, ms);
}

/** Is the machine quiet just now? */
function isQuietNow(): boolean {
  const now = pulse();
  knowQuickest(now);
  return now <= QUIET * quickest;
}

/** Look for the quickest for a while: a machine that is slowed down for seconds is not known to be by one look. */
export function calibrate(ms: number): void {
  for (const start = performance.now(); performance.now() - start < ms; ) knowQuickest(pulse());
}

/** What was measured since it was last asked: how much of it on a quiet machine, and whether too little to be sure. */
const since = { quiet: 0, all: 0, isUnsure: false };

/** So many times as many rounds as are wanted are made at the most for quiet ones. */
const PATIENCE = 4;

/**
 * What is found in so many rounds of something, in which the machine was quiet before and after; where there are too few of
 * those, in all there were, and what they are for is unsure.
 */
export async function quietRounds<Found>(count: number, round: () => Promise<Found>): Promise<Found[]> {
  const quiet: Found[] = [];
  const all: Found[] = [];
  while (all.length < PATIENCE * count && quiet.length < count) {
    const before = isQuietNow();
    const found = await round();
    all.push(found);
    if (isQuietNow() && before) quiet.push(found);
  }
  since.quiet += quiet.length;
  since.all += all.length;
  if (2 * quiet.length > count) return quiet;
  since.isUnsure = true;
  return all;
}

/** Was too little of what was measured since this was last asked measured on a quiet machine? */
export function takeUnsure(): boolean {
  const { isUnsure } = since;
  since.isUnsure = false;
  return isUnsure;
}

/** Share of the rounds that were made on a quiet machine. */
export const quietShare = (): number => (since.all > 0 ? since.quiet / since.all : 1);
