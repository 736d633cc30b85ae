/** What a tab needs to know of other tabs: the part of the browser's lock manager that is used here. */
export type Locks = Pick<LockManager, "request">;

/** That this tab, and no other, may change a shot. */
export interface Hold {
  release(): void;
}

const nameOf = (id: string) => `kneader-shot-${id}`;

/** A lock is held as long as its callback's promise is open. */
function held(resolve: (hold: Hold) => void): Promise<void> {
  return new Promise<void>((done) => resolve({ release: () => done() }));
}

/** Take a shot for this tab, or null when another one has it. Where tabs cannot know of each other this one has it. */
export async function takeShot(locks: Locks | undefined, id: string): Promise<Hold | null> {
  if (!locks) return { release: () => undefined };
  return new Promise<Hold | null>((resolve, reject) => {
    locks
      .request(nameOf(id), { ifAvailable: true }, (lock) => {
        if (lock !== null) return held(resolve);
        resolve(null);
        return undefined;
      })
      .catch(reject);
  });
}

/** Take it once the tab that has it lets go; given up with the signal, and never answered then. */
export async function awaitShot(locks: Locks, id: string, signal: AbortSignal): Promise<Hold> {
  return new Promise<Hold>((resolve) => {
    locks.request(nameOf(id), { signal }, () => held(resolve)).catch(() => undefined);
  });
}
