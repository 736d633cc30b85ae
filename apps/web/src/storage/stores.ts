import localforage from "localforage";
import { extendPrototype } from "localforage-setitems";

/** A place for values by key. */
export interface Store {
  getItem<Value>(key: string): Promise<Value | null>;
  setItem(key: string, value: unknown): Promise<unknown>;
  /** All of them in one transaction: all are there afterwards, or none. */
  setItems(values: Readonly<Record<string, unknown>>): Promise<unknown>;
  removeItem(key: string): Promise<void>;
  keys(): Promise<string[]>;
  /** All values by their keys, in one go. */
  all<Value>(): Promise<Map<string, Value>>;
}

/** Values that live as long as the tab. */
export function memoryStore(): Store {
  const values = new Map<string, unknown>();
  return {
    getItem: async <Value>(key: string) => (values.get(key) as Value | undefined) ?? null,
    setItem: async (key, value) => values.set(key, value),
    setItems: async (many) => {
      for (const [key, value] of Object.entries(many)) values.set(key, value);
    },
    removeItem: async (key) => void values.delete(key),
    keys: async () => [...values.keys()],
    all: async <Value>() => new Map(values) as Map<string, Value>,
  };
}

let inMemory = false;

/** From now on nothing is kept in the browser: what was kept is neither read nor changed. */
export function workInMemory(): void {
  inMemory = true;
}

extendPrototype(localforage);

const DATABASE = "kneader";
const names: string[] = [];

/**
 * Make all stores at once where some are missing, as on a first visit or after an update: made one by one, each would
 * wait for the database to be opened anew. Where that fails, they are made one by one after all.
 */
export async function makeStores(): Promise<void> {
  const missing = (database: IDBDatabase) => names.filter((name) => !database.objectStoreNames.contains(name));
  const opened = (version?: number) =>
    new Promise<IDBDatabase>((resolve, reject) => {
      const request = indexedDB.open(DATABASE, version);
      request.onupgradeneeded = () => {
        for (const name of missing(request.result)) request.result.createObjectStore(name);
      };
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error);
      request.onblocked = () => reject(new Error("another tab holds the database"));
    });
  const database = await opened();
  const { version } = database;
  const isComplete = missing(database).length === 0;
  database.close();
  if (!isComplete) (await opened(version + 1)).close();
}

/** All keys or values of a store in one request: gone through one by one, thousands take seconds. */
function atOnce<Value>(name: string, what: "getAll" | "getAllKeys"): Promise<Value[]> {
  return new Promise((resolve, reject) => {
    const opening = indexedDB.open(DATABASE);
    opening.onerror = () => reject(opening.error);
    opening.onsuccess = () => {
      const database = opening.result;
      const done = () => database.close();
      if (!database.objectStoreNames.contains(name)) {
        done();
        resolve([]);
        return;
      }
      const request = database.transaction(name).objectStore(name)[what]();
      request.onsuccess = () => {
        done();
        resolve(request.result as Value[]);
      };
      request.onerror = () => {
        done();
        reject(request.error);
      };
    };
  });
}

/** A store in this browser, or in memory where the browser has none. */
function store(name: string): Store {
  names.push(name);
  const forage = localforage.createInstance({ name: DATABASE, storeName: name });
  const kept: Store = Object.assign(forage as unknown as Omit<Store, "all" | "keys">, {
    async all<Value>() {
      const [keys, values] = await Promise.all([atOnce<string>(name, "getAllKeys"), atOnce<Value>(name, "getAll")]);
      return new Map(keys.map((key, i) => [key, values[i]]));
    },
    keys: () => atOnce<string>(name, "getAllKeys"),
  });
  const memory = memoryStore();
  const now = () => (inMemory ? memory : kept);
  return {
    getItem: (key) => now().getItem(key),
    setItem: (key, value) => now().setItem(key, value),
    setItems: (values) => now().setItems(values),
    removeItem: (key) => now().removeItem(key),
    keys: () => now().keys(),
    all: () => now().all(),
  };
}

/** Small records of shots; they name the curves they need. */
export const shotStore = store("shots");
/** Curves as bytes, by `shotId/number`. */
export const curveStore = store("curves");
export const thumbnailStore = store("thumbnails");
export const actionStore = store("actions");
/** What the pantry lists of each action, so that it need not be read whole. */
export const cardStore = store("action-cards");
/** What actions were before others were saved over them. */
export const earlierStore = store("earlier-actions");
/** Who takes whose motion, by pair of figures. */
export const mapStore = store("maps");
/** Recipes as text, by name. */
export const recipeStore = store("recipes");
/** Files that characters came from, by hash. */
export const assetStore = store("assets");
export const preferencesStore = store("preferences");
/** Undo steps, by shot, and how large they are. */
export const historyStores = { steps: store("histories"), sizes: store("history-sizes") };
/** Records that could not be read, kept as they were found. */
export const asideStore = store("aside");
