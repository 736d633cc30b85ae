import {
  allCurves,
  type Curve,
  currentShot,
  type History,
  historyBytes,
  mapCurves,
  SCHEMA_VERSION,
  type Shot,
  type Step,
} from "@kneader/core";
import type { Store } from "./stores.ts";

/*
 * The undo steps of a shot, kept so that they are there again after a reload. They are good only for the very shot
 * they led to; whatever else was saved meanwhile, they are not used.
 */

/** At most so many steps and bytes of curves are kept, and the histories of so many shots. */
const MOST_STEPS = 60;
const MOST_BYTES = 16 * 1024 * 1024;
const MOST_SHOTS = 4;

interface KeptHistory extends History {
  readonly version: number;
  readonly keptAt: number;
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

/** Keep the steps of a shot. Curves shared between them are stored once, as a structured clone keeps what is shared. */
export async function keepHistory(store: Store, id: string, history: History, now = Date.now()): Promise<void> {
  const around = within(history);
  // One step alone is the shot itself, which is saved anyway.
  if (around.steps.length < 2) return store.removeItem(id);
  const kept: KeptHistory = { version: SCHEMA_VERSION, keptAt: now, ...around };
  await store.setItem(id, kept);
  const others = (await store.keys()).filter((key) => key !== id);
  if (others.length < MOST_SHOTS) return;
  const ages = await Promise.all(others.map(async (key) => ({ key, at: (await store.getItem<KeptHistory>(key))?.keptAt ?? 0 })));
  ages.sort((a, b) => b.at - a.at);
  await Promise.all(ages.slice(MOST_SHOTS - 1).map(({ key }) => store.removeItem(key)));
}

/** The kept steps that led to this very shot, with itself as the present one; null where there are none. */
export async function keptHistory(store: Store, shot: Shot): Promise<History | null> {
  const kept = await store.getItem<KeptHistory>(shot.id).catch(() => null);
  if (!kept || kept.version !== SCHEMA_VERSION || !Array.isArray(kept.steps) || kept.steps[kept.present] === undefined) return null;
  if (!isSameShot(currentShot(kept), shot)) return null;
  const steps: Step[] = kept.steps.map((step, i) => (i === kept.present ? { ...step, shot } : step));
  return { steps, present: kept.present };
}

/** Do two shots say the same, to the bit? */
function isSameShot(a: Shot, b: Shot): boolean {
  const [first, second] = [allCurves(a), allCurves(b)];
  if (first.length !== second.length) return false;
  return first.every(([where, curve], i) => where === second[i][0] && isSameCurve(curve, second[i][1])) && bare(a) === bare(b);
}

const bare = (shot: Shot) => JSON.stringify(mapCurves(shot, () => 0 as unknown as Curve));

function isSameCurve(a: Curve, b: Curve): boolean {
  if (a === b) return true;
  return (Object.keys(a) as (keyof Curve)[]).every((name) => {
    const [one, other] = [a[name], b[name]];
    if (!ArrayBuffer.isView(one) || !ArrayBuffer.isView(other)) return JSON.stringify(one) === JSON.stringify(other);
    const [x, y] = [one as Float64Array, other as Float64Array];
    return x.length === y.length && x.every((value, i) => Object.is(value, y[i]));
  });
}
