import { KneaderError, type Shot } from "@kneader/core";
import type { Kept, ShotRecords } from "./shotRecords.ts";
import { awaitShot, type Hold, type Locks, takeShot } from "./tabLock.ts";

/** A shot that is open in this tab. */
export interface ShotHandle {
  readonly id: string;
  /** May it be changed here? Another tab may have it. */
  readonly writable: boolean;
  /** Errors: what the store raises; nothing of the saved shot is lost then. */
  save(shot: Shot): Promise<void>;
  /** Let other tabs have it. The handle is of no use any more. */
  release(): void;
}

/** What becomes of a shot that is read only here once the other tab lets go of it: null when it is no longer there. */
export type OnFree = (found: { shot: Shot; handle: ShotHandle } | null) => void;

/**
 * The one door to the shots in this browser. Who comes in has the shot's lock from the first moment, or may only
 * read, and lets go of it on every way out.
 */
export class ShotDoor {
  private readonly records: ShotRecords;
  private readonly locks: Locks | undefined;
  /** What is open in this tab. */
  private readonly handles = new Map<string, ShotHandle>();
  /** Hear that nothing is kept any more of what was. */
  private readonly forgetters = new Map<ShotHandle, () => void>();

  constructor(records: ShotRecords, locks: Locks | undefined) {
    this.records = records;
    this.locks = locks;
  }

  /** The handle of a shot that is open in this tab. */
  handleOf(id: string): ShotHandle | undefined {
    return this.handles.get(id);
  }

  /**
   * Open a kept shot, or one that `make` makes when none is kept; null when there is neither. Where another tab has
   * it, it may only be read, and `onFree` hears when that ends.
   */
  async open(id: string, make: () => Promise<Shot | null>, onFree: OnFree): Promise<{ shot: Shot; handle: ShotHandle } | null> {
    const hold = await takeShot(this.locks, id);
    if (hold) return this.enter(id, hold, make);
    const found = await this.records.load(id);
    const shot = found?.shot ?? (await make());
    if (!shot) return null;
    const handle = this.reader(id, make, onFree);
    return { shot, handle };
  }

  /** What was kept is gone from the store: of what is open here the next save puts everything there anew. */
  forgetKept(): void {
    for (const forget of this.forgetters.values()) forget();
  }

  /** A shot that is new in this browser. */
  async adopt(shot: Shot): Promise<ShotHandle> {
    const hold = await takeShot(this.locks, shot.id);
    if (!hold) throw inUse(shot.name);
    return this.writer(shot.id, hold, this.records.fresh());
  }

  /** Do something to a kept shot that only who has it may do. Errors: `in-use` when another tab has it. */
  async alone<Result>(id: string, name: string, work: () => Promise<Result>): Promise<Result> {
    if (this.handles.get(id)?.writable) return work();
    if (this.handles.has(id)) throw inUse(name);
    const hold = await takeShot(this.locks, id);
    if (!hold) throw inUse(name);
    try {
      return await work();
    } finally {
      hold.release();
    }
  }

  /** The same for what can wait: nothing is done, and false answered, when any tab has the shot open. */
  async whenFree(id: string, work: () => Promise<unknown>): Promise<boolean> {
    if (this.handles.has(id)) return false;
    const hold = await takeShot(this.locks, id);
    if (!hold) return false;
    try {
      await work();
      return true;
    } finally {
      hold.release();
    }
  }

  private async enter(id: string, hold: Hold, make: () => Promise<Shot | null>): Promise<{ shot: Shot; handle: ShotHandle } | null> {
    try {
      const found = await this.records.load(id);
      const shot = found?.shot ?? (await make());
      if (shot) return { shot, handle: this.writer(id, hold, found?.kept ?? this.records.fresh()) };
    } catch (error) {
      hold.release();
      throw error;
    }
    hold.release();
    return null;
  }

  private writer(id: string, hold: Hold, found: Kept): ShotHandle {
    let kept = found;
    let released = false;
    const handle: ShotHandle = {
      id,
      writable: true,
      save: async (shot) => {
        if (released) throw new Error("the shot was let go of");
        await this.records.save(shot, kept);
      },
      release: () => {
        released = true;
        this.forgetters.delete(handle);
        if (this.handles.get(id) === handle) this.handles.delete(id);
        hold.release();
      },
    };
    this.handles.set(id, handle);
    this.forgetters.set(handle, () => {
      kept = this.records.fresh();
    });
    return handle;
  }

  private reader(id: string, make: () => Promise<Shot | null>, onFree: OnFree): ShotHandle {
    const waiting = new AbortController();
    const handle: ShotHandle = {
      id,
      writable: false,
      save: () => Promise.reject(inUse(id)),
      release: () => {
        waiting.abort();
        if (this.handles.get(id) === handle) this.handles.delete(id);
      },
    };
    this.handles.set(id, handle);
    if (this.locks)
      void awaitShot(this.locks, id, waiting.signal).then(async (hold) => {
        if (waiting.signal.aborted) return hold.release();
        this.handles.delete(id);
        onFree(await this.enter(id, hold, make).catch(() => null));
      });
    return handle;
  }
}

function inUse(name: string): KneaderError {
  return new KneaderError("in-use", `"${name}" is open in another tab.`, "Close it there first.");
}
