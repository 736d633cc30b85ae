import localforage from "localforage";
import { atOnce, DATABASE, putAll, storeNames } from "./database.ts";

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

/** A store in this browser, or in memory where the browser has none. */
function store(name: string): Store {
  storeNames.push(name);
  const forage = localforage.createInstance({ name: DATABASE, storeName: name });
  const kept: Store = Object.assign(forage as unknown as Omit<Store, "all" | "keys" | "setItems">, {
    async all<Value>() {
      const [keys, values] = await Promise.all([atOnce<string>(name, "getAllKeys"), atOnce<Value>(name, "getAll")]);
      return new Map(keys.map((key, i) => [key, values[i]]));
    },
    keys: () => atOnce<string>(name, "getAllKeys"),
    setItems: (values: Readonly<Record<string, unknown>>) => putAll(name, values),
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
