import {
  allCurves,
  type Curve,
  currentShot,
  type History,
  historyBytes,
  isSameCurve,
  mapCurves,
  migrate,
  SCHEMA_VERSION,
  type Shot,
  type Step,
} from "@kneader/core";
import type { Store } from "./stores.ts";

/*
 * The undo steps of a shot, kept so that they are there again after a reload. They are good only for the very shot
 * they led to; whatever else was saved meanwhile, they are not used.
 */

/** At most so many steps and bytes of curves are kept of a shot, and so many bytes of all of them. */
const MOST_STEPS = 60;
const MOST_BYTES = 16 * 1024 * 1024;
const MOST_BYTES_OF_ALL = 128 * 1024 * 1024;

/** Where the steps are, and beside them how large they are, so that none has to be read to know. */
export interface HistoryStores {
  readonly steps: Store;
  readonly sizes: Store;
}

interface Size {
  readonly at: number;
  readonly bytes: number;
}

interface KeptHistory extends History {
  readonly version: number;
}

/** The steps around the present one that there is room for. */
function within(history: History): History {
  let { steps, present } = history;
  while (steps.length > 1 && (steps.length > MOST_STEPS || historyBytes(steps) > MOST_BYTES)) {
    if (present > 0) {
      steps = steps.slice(1);
      present--;
    } else steps = steps.slice(0, -1);
  }
  return { steps, present };
}

/**
 * Keep the steps of a shot. Curves shared between them are stored once, as a structured clone keeps what is shared.
 * Answers whether the step before is among those there was room for.
 */
export async function keepHistory({ steps, sizes }: HistoryStores, id: string, history: History, now = Date.now()): Promise<boolean> {
  const around = within(history);
  // One step alone is the shot itself, which is saved anyway.
  if (around.steps.length < 2) {
    await forgetHistory({ steps, sizes }, id);
    return false;
  }
  const kept: KeptHistory = { version: SCHEMA_VERSION, ...around };
  await steps.setItem(id, kept);
  await sizes.setItem(id, { at: now, bytes: historyBytes(around.steps) } satisfies Size);
  await makeRoom({ steps, sizes }, id);
  return around.present > 0;
}

/** Of the shots worked on longest ago the steps go. */
async function makeRoom(stores: HistoryStores, present: string): Promise<void> {
  const sizes = await stores.sizes.all<Size>();
  const sizeOf = (id: string): Size => sizes.get(id) ?? { at: 0, bytes: MOST_BYTES };
  const newest = (await stores.steps.keys()).filter((id) => id !== present).sort((a, b) => sizeOf(b).at - sizeOf(a).at);
  let left = MOST_BYTES_OF_ALL - sizeOf(present).bytes;
  for (const id of newest) {
    left -= sizeOf(id).bytes;
    if (left < 0) await forgetHistory(stores, id);
  }
}

export async function forgetHistory({ steps, sizes }: HistoryStores, id: string): Promise<void> {
  await steps.removeItem(id);
  await sizes.removeItem(id);
}

/** The kept steps that led to this very shot, with itself as the present one; null where there are none. */
export async function keptHistory({ steps: store }: HistoryStores, shot: Shot): Promise<History | null> {
  const kept = await store.getItem<KeptHistory>(shot.id).catch(() => null);
  if (!kept || !isKnown(kept.version) || !Array.isArray(kept.steps) || kept.steps[kept.present] === undefined) return null;
  const asToday = (step: Step): Step =>
    kept.version === SCHEMA_VERSION ? step : { ...step, shot: migrate("shot", kept.version, step.shot) as Shot };
  const told = { ...kept, steps: kept.steps.map(asToday) };
  if (!isSameShot(currentShot(told), shot)) return null;
  const steps: Step[] = told.steps.map((step, i) => (i === kept.present ? { ...step, shot } : step));
  return { steps, present: kept.present };
}

/** Steps have been kept as today since this version: what an older one says is told anew like a shot's own record. */
const OLDEST = 4;
const isKnown = (version: unknown): boolean => typeof version === "number" && version >= OLDEST && version <= SCHEMA_VERSION;

/** Do two shots say the same, to the bit? */
function isSameShot(a: Shot, b: Shot): boolean {
  const [first, second] = [allCurves(a), allCurves(b)];
  if (first.length !== second.length) return false;
  return first.every(([where, curve], i) => where === second[i][0] && isSameCurve(curve, second[i][1])) && bare(a) === bare(b);
}

const bare = (shot: Shot) => JSON.stringify(mapCurves(shot, () => 0 as unknown as Curve));
