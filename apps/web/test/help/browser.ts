import { memoryStore, type Store } from "../../src/storage/stores.ts";
import type { ShotStores } from "../../src/storage/shotRecords.ts";

/** What happens to writes: each is asked before it is done, and may throw. */
export type Fault = (write: number) => void;

const tick = () => new Promise<void>((resolve) => setImmediate(resolve));

/** The stores of a browser, which outlive its tabs. */
export function browserStores(): ShotStores {
  return { shots: memoryStore(), curves: memoryStore(), aside: memoryStore(), thumbnails: memoryStore() };
}

/** The stores as one tab sees them: its writes may fail, and once it is killed it does nothing any more. */
export class Tab {
  private writes = 0;
  private killed = false;
  private readonly fault: Fault;
  readonly stores: ShotStores;

  constructor(browser: ShotStores, fault: Fault = () => undefined) {
    this.fault = fault;
    this.stores = {
      shots: this.seen(browser.shots),
      curves: this.seen(browser.curves),
      aside: this.seen(browser.aside),
      thumbnails: this.seen(browser.thumbnails),
    };
  }

  get written(): number {
    return this.writes;
  }

  kill(): void {
    this.killed = true;
  }

  private async live(): Promise<void> {
    await tick();
    if (this.killed) await new Promise(() => undefined);
  }

  private seen(store: Store): Store {
    const write = async (work: () => Promise<unknown>) => {
      await this.live();
      this.fault(++this.writes);
      if (this.killed) await new Promise(() => undefined);
      await work();
    };
    return {
      getItem: async (key) => {
        await this.live();
        const value = await store.getItem(key);
        // A database answers with copies.
        return (value === null ? null : structuredClone(value)) as never;
      },
      setItem: (key, value) => write(() => store.setItem(key, structuredClone(value))),
      setItems: (values) => write(() => store.setItems(structuredClone(values))),
      removeItem: (key) => write(() => store.removeItem(key)),
      keys: async () => {
        await this.live();
        return store.keys();
      },
      all: async () => {
        await this.live();
        return structuredClone(await store.all());
      },
    };
  }
}

interface Waiting {
  readonly owner: object;
  readonly start: () => void;
}

/** The locks of a browser, which all its tabs share; those of a killed tab are let go of. */
export class BrowserLocks {
  private readonly held = new Map<string, object>();
  private readonly waiting = new Map<string, Waiting[]>();
  private readonly gone = new WeakSet<object>();

  isHeld(name: string): boolean {
    return this.held.has(name);
  }

  /** The lock manager as a tab has it. */
  of(owner: object): Pick<LockManager, "request"> {
    const request = async (name: string, options: LockOptions, work: (lock: Lock | null) => Promise<unknown> | unknown) => {
      await tick();
      // Nobody hears any more of what a tab asked for as it went.
      if (this.gone.has(owner)) return new Promise(() => undefined);
      const run = async () => {
        this.held.set(name, owner);
        try {
          return await work({ name, mode: "exclusive" } as Lock);
        } finally {
          if (this.held.get(name) === owner) this.free(name);
        }
      };
      if (!this.held.has(name)) return run();
      if (options.ifAvailable) return work(null);
      return new Promise((resolve, reject) => {
        const entry = { owner, start: () => void run().then(resolve, reject) };
        this.waiting.set(name, [...(this.waiting.get(name) ?? []), entry]);
        options.signal?.addEventListener("abort", () => {
          this.waiting.set(
            name,
            (this.waiting.get(name) ?? []).filter((one) => one !== entry),
          );
          reject(new Error("aborted"));
        });
      });
    };
    return { request } as unknown as Pick<LockManager, "request">;
  }

  /** What the browser does when a tab is gone. */
  drop(owner: object): void {
    this.gone.add(owner);
    for (const [name, list] of this.waiting)
      this.waiting.set(
        name,
        list.filter((one) => one.owner !== owner),
      );
    for (const [name, who] of [...this.held]) if (who === owner) this.free(name);
  }

  private free(name: string): void {
    this.held.delete(name);
    const [next, ...rest] = this.waiting.get(name) ?? [];
    this.waiting.set(name, rest);
    next?.start();
  }
}
