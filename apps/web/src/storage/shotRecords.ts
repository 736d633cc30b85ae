import {
  checkVersion,
  type Curve,
  curveFromBytes,
  curveToBytes,
  KneaderError,
  mapCurves,
  sayError,
  SCHEMA_VERSION,
  type Shot,
} from "@kneader/core";
import { asideStore, curveStore, shotStore, thumbnailStore } from "./stores.ts";

/** What stands on the shelf for a shot kept in this browser. */
export interface ShotRecord {
  readonly version: number;
  readonly id: string;
  readonly name: string;
  readonly savedAt: number;
  /** Set while a deleted shot can still be brought back. */
  readonly deletedAt: number | null;
  readonly bytes: number;
  /** The shot, each curve replaced by its key in the curve store. */
  readonly shot: unknown;
  readonly curveKeys: readonly string[];
}

/** A record that could not be read, kept for download. */
export interface AsideRecord {
  readonly id: string;
  readonly name: string;
  readonly problem: string;
  /** The record as it was found, with the bytes of its curves as far as they are there. */
  readonly raw: unknown;
  /** It still stands in its own place: a newer Kneader made it and can open it. */
  readonly stays?: boolean;
}

interface Saved {
  keys: WeakMap<Curve, string>;
  sizes: Map<string, number>;
  next: number;
  used: Set<string>;
}

const saved = new Map<string, Saved>();

function savedFor(id: string): Saved {
  let entry = saved.get(id);
  if (!entry) {
    entry = { keys: new WeakMap(), sizes: new Map(), next: 1, used: new Set() };
    saved.set(id, entry);
  }
  return entry;
}

/**
 * Save a shot: first the curves that are new, then the small record that names all of them, then the
 * curves nobody needs any more are removed. A crash in between leaves the record before whole.
 */
export async function saveShot(shot: Shot, now = Date.now()): Promise<void> {
  const entry = savedFor(shot.id);
  const fresh: Promise<unknown>[] = [];
  const used = new Set<string>();
  const packed = mapCurves(shot, (curve) => {
    let key = entry.keys.get(curve);
    if (key === undefined) {
      key = `${shot.id}/${now.toString(36)}-${entry.next++}`;
      const bytes = curveToBytes(curve);
      entry.keys.set(curve, key);
      entry.sizes.set(key, bytes.byteLength);
      fresh.push(curveStore.setItem(key, bytes));
    }
    used.add(key);
    return key as unknown as Curve;
  });
  try {
    await Promise.all(fresh);
    let bytes = 0;
    for (const key of used) bytes += entry.sizes.get(key) ?? 0;
    const record: ShotRecord = {
      version: SCHEMA_VERSION,
      id: shot.id,
      name: shot.name,
      savedAt: now,
      deletedAt: null,
      bytes,
      shot: packed,
      curveKeys: [...used],
    };
    await shotStore.setItem(shot.id, record);
  } catch (error) {
    // Nothing of this save counts; the next one writes its curves again.
    saved.delete(shot.id);
    throw error;
  }
  const gone = [...entry.used].filter((key) => !used.has(key));
  entry.used = used;
  await Promise.all(gone.map((key) => curveStore.removeItem(key)));
  for (const key of gone) entry.sizes.delete(key);
  // Curves that undo may bring back were just removed from the store, so they must be written again then.
  const forgotten = new Set(gone);
  if (forgotten.size > 0) entry.keys = keepOnly(entry.keys, shot);
}

function keepOnly(keys: WeakMap<Curve, string>, shot: Shot): WeakMap<Curve, string> {
  const kept = new WeakMap<Curve, string>();
  mapCurves(shot, (curve) => {
    const key = keys.get(curve);
    if (key !== undefined) kept.set(curve, key);
    return curve;
  });
  return kept;
}

/** Read a shot back; throws a message for the user when something of it is missing or damaged. */
export async function loadShot(id: string): Promise<Shot | null> {
  const record = await shotStore.getItem<ShotRecord>(id);
  if (record === null || record.deletedAt) return null;
  checkRecord(record);
  const buffers = new Map<string, Curve>();
  const entry = savedFor(id);
  await Promise.all(
    record.curveKeys.map(async (key) => {
      const bytes = await curveStore.getItem<ArrayBuffer>(key);
      if (!bytes) throw new KneaderError("not-found", `"${record.name}" names a curve (${key}) that is not in this browser's storage.`);
      const curve = curveFromBytes(bytes);
      buffers.set(key, curve);
      entry.keys.set(curve, key);
      entry.sizes.set(key, bytes.byteLength);
    }),
  );
  entry.used = new Set(record.curveKeys);
  return mapCurves(completed(record.shot as Shot), (key) => {
    const curve = buffers.get(key as unknown as string);
    if (!curve) throw new KneaderError("not-found", `"${record.name}" names a curve that it does not list.`);
    return curve;
  });
}

/** Shots kept before these were known have none of them; what is there keeps its place. */
function completed(shot: Shot): Shot {
  return {
    ...shot,
    locked: shot.locked ?? [],
    sets: shot.sets ?? [],
    poseMarks: shot.poseMarks ?? [],
    cyclic: shot.cyclic ?? false,
    versions: shot.versions ?? [],
    passes: shot.passes.map((pass) => ({
      ...pass,
      members: pass.members ?? null,
      settings: pass.settings ?? {},
      locked: pass.locked ?? false,
      colour: pass.colour ?? null,
    })),
  };
}

function checkRecord(record: ShotRecord): void {
  const shot = record.shot as Shot | undefined;
  checkVersion(record.version);
  if (
    !shot ||
    !Array.isArray(shot.rig?.controls) ||
    typeof shot.base !== "object" ||
    !Array.isArray(shot.passes) ||
    !Array.isArray(record.curveKeys)
  )
    throw new KneaderError("json-syntax", `The saved record of "${record.name ?? record.id}" is damaged.`);
}

/**
 * All shots kept here, newest first. A record that cannot be read is moved aside, so that the shelf
 * always opens; a record of a newer version stays where it is and is only reported.
 */
export async function listShots(): Promise<{ shots: ShotRecord[]; aside: AsideRecord[] }> {
  const shots: ShotRecord[] = [];
  const aside: AsideRecord[] = [];
  for (const id of await shotStore.keys()) {
    const record = await shotStore.getItem<ShotRecord>(id);
    try {
      if (record === null || typeof record !== "object") throw new KneaderError("json-syntax", `The saved record "${id}" is damaged.`);
      checkRecord(record);
      if (!record.deletedAt) shots.push(record);
    } catch (error) {
      if (error instanceof KneaderError && error.code === "newer-version")
        aside.push({ id, name: record?.name ?? id, problem: sayError(error), raw: await withCurves(record), stays: true });
      else await setAside(id, record, sayError(error));
    }
  }
  for (const id of await asideStore.keys()) {
    const record = await asideStore.getItem<AsideRecord>(id);
    if (record) aside.push(record);
  }
  return { shots: shots.sort((a, b) => b.savedAt - a.savedAt), aside };
}

/** Move a record that cannot be read out of the way, its curves with it, for download. */
export async function setAside(id: string, raw: unknown, problem: string): Promise<void> {
  const name = (raw as { name?: string } | null)?.name ?? id;
  await asideStore.setItem(id, { id, name, problem, raw: await withCurves(raw) } satisfies AsideRecord);
  await shotStore.removeItem(id);
}

/** A record together with the curves it names, as base64, so that a download of it holds everything there is. */
async function withCurves(raw: unknown): Promise<unknown> {
  const keys = (raw as Partial<ShotRecord> | null)?.curveKeys;
  if (!Array.isArray(keys)) return { record: raw, curves: {} };
  const curves: Record<string, string | null> = {};
  for (const key of keys) {
    const bytes = await curveStore.getItem<ArrayBuffer>(String(key)).catch(() => null);
    curves[String(key)] = bytes ? btoa(Array.from(new Uint8Array(bytes), (byte) => String.fromCharCode(byte)).join("")) : null;
  }
  return { record: raw, curves };
}

export async function removeAside(id: string): Promise<void> {
  await asideStore.removeItem(id);
}

/** Change a few fields of a record without touching its curves. */
async function patch(id: string, change: (record: ShotRecord) => ShotRecord): Promise<void> {
  const record = await shotStore.getItem<ShotRecord>(id);
  if (record) await shotStore.setItem(id, change(record));
}

export function markDeleted(id: string, deleted: boolean): Promise<void> {
  return patch(id, (record) => ({ ...record, deletedAt: deleted ? Date.now() : null }));
}

export function renameShot(id: string, name: string): Promise<void> {
  return patch(id, (record) => ({ ...record, name, shot: { ...(record.shot as object), name } }));
}

/** Remove for good what was deleted in an earlier visit. */
export async function purgeDeleted(before: number): Promise<void> {
  for (const id of await shotStore.keys()) {
    const record = await shotStore.getItem<ShotRecord>(id);
    if (!record?.deletedAt || record.deletedAt > before) continue;
    await Promise.all((record.curveKeys ?? []).map((key) => curveStore.removeItem(key)));
    await thumbnailStore.removeItem(id);
    await shotStore.removeItem(id);
    saved.delete(id);
  }
}

/** What to tell the user when saving failed. */
export function saySaveError(error: unknown): string {
  const name = (error as { name?: string } | null)?.name ?? "";
  if (/quota/i.test(name) || /quota/i.test(String(error)))
    return "This browser's storage is full, so the last change is not saved. Export the shot, or delete shots you no longer need.";
  return `The last change could not be saved (${String((error as Error)?.message ?? error)}). Export the shot to keep it.`;
}
