import type { Store } from "./stores.ts";

/** A file that characters came from, with the time at which it was kept. */
interface KeptFile {
  readonly bytes: Uint8Array;
  /** Milliseconds since 1970. */
  readonly keptAt: number;
}

/** A file that no shot names yet may belong to one that is only now being saved, here or in another tab. */
const GRACE = 15 * 60 * 1000;

/** As many files are held in memory, the latest ones: a shot that is opened is drawn at once. */
const MOST_HELD = 2;

/** The files that characters came from: each once, by its hash, however many shots share it. */
export class Assets {
  private readonly store: Store;
  private readonly held = new Map<string, Uint8Array>();

  constructor(store: Store) {
    this.store = store;
  }

  /**
   * Keep a file. Errors: what the store raises, as when it is full; the file is at hand in this tab all the same.
   */
  async keep(hash: string, bytes: Uint8Array): Promise<void> {
    this.hold(hash, bytes);
    if ((await this.store.keys()).includes(hash)) return;
    await this.store.setItem(hash, { bytes, keptAt: Date.now() } satisfies KeptFile);
  }

  /** Its bytes, or null when it is not there. */
  async get(hash: string): Promise<Uint8Array | null> {
    const known = this.held.get(hash);
    if (known) return known;
    const file = await this.store.getItem<KeptFile>(hash);
    if (!file?.bytes) return null;
    this.hold(hash, file.bytes);
    return file.bytes;
  }

  /** Remove what nobody names; answers how many there were. */
  async sweep(named: ReadonlySet<string>, now = Date.now()): Promise<number> {
    let gone = 0;
    for (const hash of await this.store.keys()) {
      if (named.has(hash)) continue;
      const file = await this.store.getItem<KeptFile>(hash);
      if (file && now - file.keptAt < GRACE) continue;
      await this.store.removeItem(hash);
      gone++;
    }
    return gone;
  }

  /** Put the files at hand in this tab into the store again, after that was emptied. Errors: what the store raises. */
  async keepHeld(): Promise<void> {
    for (const [hash, bytes] of this.held) await this.keep(hash, bytes);
  }

  private hold(hash: string, bytes: Uint8Array): void {
    this.held.delete(hash);
    this.held.set(hash, bytes);
    const [oldest] = this.held.keys();
    if (this.held.size > MOST_HELD) this.held.delete(oldest);
  }
}
