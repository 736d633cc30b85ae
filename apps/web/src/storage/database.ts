/*
 * The browser's database itself. Other tabs may raise its version, as every update that brings a new store does, or throw
 * it away: a connection that is held is closed by that. Here each piece of work opens its own.
 */

export const DATABASE = "kneader";
/** All stores there should be, filled as they are named. */
export const storeNames: string[] = [];

const missing = (database: IDBDatabase) => storeNames.filter((name) => !database.objectStoreNames.contains(name));

function opened(version?: number): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const request = indexedDB.open(DATABASE, version);
    request.onupgradeneeded = () => {
      for (const name of missing(request.result)) request.result.createObjectStore(name);
    };
    request.onsuccess = () => {
      // Whoever wants to change the database need not wait for what is being done here.
      request.result.onversionchange = () => request.result.close();
      resolve(request.result);
    };
    request.onerror = () => reject(request.error);
    request.onblocked = () => reject(new Error("another tab holds the database"));
  });
}

/**
 * Make all stores at once where some are missing, as on a first visit or after an update: made one by one, each would
 * wait for the database to be opened anew.
 */
export async function makeStores(): Promise<void> {
  const database = await opened();
  const { version } = database;
  const isComplete = missing(database).length === 0;
  database.close();
  if (!isComplete) (await opened(version + 1)).close();
}

/** All keys or values of a store in one request: gone through one by one, thousands take seconds. */
export async function atOnce<Value>(name: string, what: "getAll" | "getAllKeys"): Promise<Value[]> {
  const database = await opened();
  try {
    if (!database.objectStoreNames.contains(name)) return [];
    return await new Promise<Value[]>((resolve, reject) => {
      const request = database.transaction(name).objectStore(name)[what]();
      request.onsuccess = () => resolve(request.result as Value[]);
      request.onerror = () => reject(request.error);
    });
  } finally {
    database.close();
  }
}

/** Put values by their keys, all in one transaction: all are there afterwards, or none. Errors: the transaction's, as when the store is full. */
export async function putAll(name: string, values: Readonly<Record<string, unknown>>): Promise<void> {
  let database = await opened();
  if (!database.objectStoreNames.contains(name)) {
    database.close();
    await makeStores();
    database = await opened();
  }
  try {
    await new Promise<void>((resolve, reject) => {
      const transaction = database.transaction(name, "readwrite");
      transaction.oncomplete = () => resolve();
      transaction.onabort = () => reject(transaction.error);
      const store = transaction.objectStore(name);
      for (const [key, value] of Object.entries(values)) store.put(value, key);
    });
  } finally {
    database.close();
  }
}

/**
 * Hear when all that was kept is gone: another tab has thrown the database away, or the browser has. The stores are made
 * anew before `emptied` is called. An update by another tab is let through without a word.
 */
export async function watchDatabase(emptied: () => void): Promise<void> {
  const database = await opened();
  const again = async (isGone: boolean) => {
    database.close();
    if (isGone) {
      await makeStores();
      emptied();
    }
    await watchDatabase(emptied);
  };
  // What cannot be opened anew is said by the next save.
  database.onversionchange = ({ newVersion }) => void again(newVersion === null).catch(() => undefined);
  database.onclose = () => void again(true).catch(() => undefined);
}
