import {
  checkVersion,
  type Curve,
  curveFromBytes,
  curveToBytes,
  KneaderError,
  mapCurves,
  migrate,
  sayError,
  SCHEMA_VERSION,
  type Shot,
  shotFromRecord,
} from "@kneader/core";
import { addAsset } from "./assetOf.ts";
import type { Store } from "./stores.ts";

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
  /** It still stands in its own place: a newer Kneader made it, or another tab has it. */
  readonly stays?: "newer" | "in-use";
}

/** Which curves of a shot are in the store, under which keys. It holds only while this tab has the shot. */
export interface Kept {
  keys: WeakMap<Curve, string>;
  readonly sizes: Map<string, number>;
  /** Every key of the shot that may be in the store. */
  readonly stored: Set<string>;
  next: number;
}

export interface ShotStores {
  readonly shots: Store;
  readonly curves: Store;
  readonly aside: Store;
  readonly thumbnails: Store;
}

const nothingKept = (): Kept => ({ keys: new WeakMap(), sizes: new Map(), stored: new Set(), next: 1 });

/** Can a record not be decoded (as against: could it not be fetched just now)? */
export function isUndecodable(error: unknown): boolean {
  return error instanceof KneaderError && ["json-syntax", "shot-data", "not-found"].includes(error.code);
}

/** Times a record is read anew when another tab saves it meanwhile. */
const ATTEMPTS = 6;

/**
 * Shots in a browser's stores. Whoever writes must have the shot's lock (see `shotDoor.ts`, the one door through which
 * the application comes here).
 */
export class ShotRecords {
  private readonly stores: ShotStores;

  constructor(stores: ShotStores) {
    this.stores = stores;
  }

  /**
   * Save a shot: first the curves that are new, in one transaction, then the small record that names all of them, then
   * the curves nobody needs any more are removed. A crash in between leaves the record before whole; after a failure
   * the next save writes only what is missing.
   */
  async save(shot: Shot, kept: Kept, now = Date.now()): Promise<void> {
    const fresh: Record<string, ArrayBuffer> = {};
    const made: [Curve, string][] = [];
    const used = new Set<string>();
    const newKeys = new Map<Curve, string>();
    const packed = mapCurves(shot, (curve) => {
      let key = kept.keys.get(curve) ?? newKeys.get(curve);
      if (key === undefined) {
        key = `${shot.id}/${now.toString(36)}-${kept.next++}`;
        const bytes = curveToBytes(curve);
        newKeys.set(curve, key);
        made.push([curve, key]);
        kept.sizes.set(key, bytes.byteLength);
        fresh[key] = bytes;
      }
      used.add(key);
      return key as unknown as Curve;
    });
    // Whatever becomes of this save, these may be in the store, and are removed when nobody names them.
    for (const [, key] of made) kept.stored.add(key);
    if (made.length > 0) await this.stores.curves.setItems(fresh);
    for (const [curve, key] of made) kept.keys.set(curve, key);
    let bytes = 0;
    for (const key of used) bytes += kept.sizes.get(key) ?? 0;
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
    await this.stores.shots.setItem(shot.id, record);
    await this.removeUnused(shot, kept, used);
  }

  /** What the record that was just written does not name goes; what cannot be removed now is swept later. */
  private async removeUnused(shot: Shot, kept: Kept, used: ReadonlySet<string>): Promise<void> {
    const gone = [...kept.stored].filter((key) => !used.has(key));
    if (gone.length === 0) return;
    // Undo may bring back curves that are removed here: they must be written again then.
    const keys = new WeakMap<Curve, string>();
    mapCurves(shot, (curve) => {
      const key = kept.keys.get(curve);
      if (key !== undefined) keys.set(curve, key);
      return curve;
    });
    kept.keys = keys;
    await Promise.all(
      gone.map(async (key) => {
        await this.stores.curves.removeItem(key).catch(() => undefined);
        kept.stored.delete(key);
        kept.sizes.delete(key);
      }),
    );
  }

  /**
   * Read a shot back, or null when there is none. Errors: a KneaderError when it cannot be decoded (see
   * `isUndecodable`) or is of a newer version; what the store raises when it cannot be fetched.
   */
  async load(id: string): Promise<{ shot: Shot; kept: Kept } | null> {
    for (let attempt = 1; ; attempt++) {
      const record = await this.stores.shots.getItem<ShotRecord>(id);
      if (record === null || record.deletedAt) return null;
      checkRecord(record, id);
      const kept = nothingKept();
      const curves = new Map<string, Curve>();
      let missing: string | null = null;
      await Promise.all(
        record.curveKeys.map(async (key) => {
          const bytes = await this.stores.curves.getItem<ArrayBuffer>(key);
          if (!bytes) {
            missing = key;
            return;
          }
          const curve = curveOf(bytes, record, key);
          curves.set(key, curve);
          kept.keys.set(curve, key);
          kept.sizes.set(key, bytes.byteLength);
          kept.stored.add(key);
        }),
      );
      if (missing === null) return { shot: decoded(record, curves), kept };
      // Another tab that saves meanwhile removes curves once its new record is there.
      const again = await this.stores.shots.getItem<ShotRecord>(id);
      if (again?.savedAt === record.savedAt || attempt === ATTEMPTS)
        throw new KneaderError("not-found", `"${record.name}" names a curve (${missing}) that is not in this browser's storage.`);
    }
  }

  /** What is kept of a shot that was never saved: nothing. */
  readonly fresh = nothingKept;

  /** All records, newest first, and those that cannot be read; nothing is changed. */
  async list(): Promise<{
    shots: ShotRecord[];
    broken: { id: string; raw: unknown; problem: string; newer: boolean }[];
    aside: AsideRecord[];
  }> {
    const shots: ShotRecord[] = [];
    const broken: { id: string; raw: unknown; problem: string; newer: boolean }[] = [];
    for (const id of await this.stores.shots.keys()) {
      const record = await this.stores.shots.getItem<ShotRecord>(id);
      if (record === null) continue;
      try {
        checkRecord(record, id);
        if (!record.deletedAt) shots.push(record);
      } catch (error) {
        broken.push({ id, raw: record, problem: sayError(error), newer: error instanceof KneaderError && error.code === "newer-version" });
      }
    }
    const aside: AsideRecord[] = [];
    for (const id of await this.stores.aside.keys()) {
      const record = await this.stores.aside.getItem<AsideRecord>(id);
      if (record) aside.push(record);
    }
    return { shots: shots.sort((a, b) => b.savedAt - a.savedAt), broken, aside };
  }

  /** Move a record that cannot be read out of the way, its curves with it, for download. */
  async setAside(id: string, problem: string): Promise<void> {
    const raw = await this.stores.shots.getItem<unknown>(id);
    if (raw === null) return;
    const name = (raw as { name?: string }).name ?? id;
    await this.stores.aside.setItem(id, { id, name, problem, raw: await this.withCurves(raw) } satisfies AsideRecord);
    await this.stores.shots.removeItem(id);
  }

  /** A record together with the curves it names, as base64, so that a download of it holds everything there is. */
  async withCurves(raw: unknown): Promise<unknown> {
    const keys = (raw as Partial<ShotRecord> | null)?.curveKeys;
    if (!Array.isArray(keys)) return { record: raw, curves: {} };
    const curves: Record<string, string | null> = {};
    for (const key of keys) {
      const bytes = await this.stores.curves.getItem<ArrayBuffer>(String(key)).catch(() => null);
      curves[String(key)] = bytes ? btoa(Array.from(new Uint8Array(bytes), (byte) => String.fromCharCode(byte)).join("")) : null;
    }
    return { record: raw, curves };
  }

  async removeAside(id: string): Promise<void> {
    await this.stores.aside.removeItem(id);
  }

  /** Change a few fields of a record without touching its curves. */
  private async patch(id: string, change: (record: ShotRecord) => ShotRecord): Promise<void> {
    const record = await this.stores.shots.getItem<ShotRecord>(id);
    if (record) await this.stores.shots.setItem(id, change(record));
  }

  markDeleted(id: string, deleted: boolean): Promise<void> {
    return this.patch(id, (record) => ({ ...record, deletedAt: deleted ? Date.now() : null }));
  }

  rename(id: string, name: string): Promise<void> {
    return this.patch(id, (record) => ({ ...record, name, savedAt: Date.now(), shot: { ...(record.shot as object), name } }));
  }

  /** Ids of shots that were deleted before a time. */
  async deletedBefore(before: number): Promise<string[]> {
    const ids: string[] = [];
    for (const id of await this.stores.shots.keys()) {
      const record = await this.stores.shots.getItem<ShotRecord>(id);
      if (record?.deletedAt && record.deletedAt <= before) ids.push(id);
    }
    return ids;
  }

  /** Remove a deleted shot for good; one that was brought back meanwhile stays. */
  async purge(id: string): Promise<void> {
    const record = await this.stores.shots.getItem<ShotRecord>(id);
    if (!record?.deletedAt) return;
    await this.stores.shots.removeItem(id);
    await this.stores.thumbnails.removeItem(id);
    await Promise.all((Array.isArray(record.curveKeys) ? record.curveKeys : []).map((key) => this.stores.curves.removeItem(key)));
  }

  /** Hashes of the files that any record names, also of shots that can be brought back and of those set aside. */
  async namedAssets(): Promise<Set<string>> {
    const named = new Set<string>();
    for (const id of await this.stores.shots.keys()) addAsset(await this.stores.shots.getItem(id), named);
    for (const id of await this.stores.aside.keys()) {
      const aside = await this.stores.aside.getItem<AsideRecord>(id);
      addAsset((aside?.raw as { record?: unknown } | undefined)?.record, named);
    }
    return named;
  }

  /** Ids of shots of which there are curves. */
  async idsOfCurves(): Promise<Map<string, string[]>> {
    const ids = new Map<string, string[]>();
    for (const key of await this.stores.curves.keys()) {
      const id = key.slice(0, key.lastIndexOf("/"));
      const keys = ids.get(id) ?? [];
      ids.set(id, keys);
      keys.push(key);
    }
    return ids;
  }

  /** Remove the curves of a shot that its record does not name; answers how many there were. */
  async sweep(id: string, keys: readonly string[]): Promise<number> {
    const record = await this.stores.shots.getItem<ShotRecord>(id);
    // What a record of another shape may need is not known.
    if (record !== null && !Array.isArray(record.curveKeys)) return 0;
    const named = new Set(record?.curveKeys ?? []);
    const gone = keys.filter((key) => !named.has(key));
    for (const key of gone) await this.stores.curves.removeItem(key);
    return gone.length;
  }
}

function damaged(record: { name?: unknown } | null, id: string, how = ""): KneaderError {
  const name = typeof record?.name === "string" && record.name !== "" ? record.name : id;
  return new KneaderError("json-syntax", `The saved record of "${name}" is damaged${how ? `: ${how}` : ""}.`);
}

function checkRecord(record: ShotRecord, id: string): void {
  if (typeof record !== "object") throw damaged(null, id);
  checkVersion(record.version);
  const shot = record.shot as Shot | undefined;
  if (!shot || !Array.isArray(shot.rig?.controls) || typeof shot.base !== "object" || !Array.isArray(shot.passes))
    throw damaged(record, id);
  if (!Array.isArray(record.curveKeys)) throw damaged(record, id);
}

function curveOf(bytes: ArrayBuffer, record: ShotRecord, key: string): Curve {
  try {
    return curveFromBytes(bytes);
  } catch (error) {
    throw damaged(record, record.id, `its curve ${key} cannot be read (${sayError(error)})`);
  }
}

/** The shot with its curves in their places, looked at whole. */
function decoded(record: ShotRecord, curves: ReadonlyMap<string, Curve>): Shot {
  let packed: unknown;
  try {
    packed = mapCurves(migrate("shot", record.version, record.shot) as Shot, (key) => {
      const curve = curves.get(key as unknown as string);
      if (!curve) throw new KneaderError("not-found", `"${record.name}" names a curve that it does not list.`);
      return curve;
    });
  } catch (error) {
    // What has not the shape of a shot fails in many ways.
    if (error instanceof KneaderError) throw error;
    throw damaged(record, record.id, sayError(error));
  }
  return shotFromRecord(packed);
}

/** What to tell the user when saving failed. */
export function saySaveError(error: unknown): string {
  const name = (error as { name?: string } | null)?.name ?? "";
  if (/quota/i.test(name) || /quota/i.test(String(error)))
    return "This browser's storage is full, so the last change is not saved. Export the shot, or delete shots you no longer need.";
  return `The last change could not be saved (${String((error as Error)?.message ?? error)}). Export the shot to keep it.`;
}
