import { newestFirst, type Shelf } from "@kneader/core";
import { demoActions } from "@kneader/demo";
import { browserShelf } from "./browserShelf.ts";
import {
  getShared,
  isShared,
  isSharedFolder,
  lookAtShared,
  postShared,
  putShared,
  relabelShared,
  removeShared,
  sharedCards,
} from "./sharedShelf.ts";
import { actionStore, cardStore, earlierStore, preferencesStore } from "./stores.ts";

const own = browserShelf(actionStore, cardStore, earlierStore);
/** So long (milliseconds) the first look at the shared shelf is waited for. */
const PATIENCE = 600;
let looked: Promise<unknown> | null = null;

/** The pantry: what is in this browser, where the demo's actions are put once, and the shared shelf where there is one. */
export const pantry: Shelf = {
  async list() {
    if (!(await preferencesStore.getItem("pantry-filled"))) {
      for (const action of demoActions()) await own.put(action);
      await preferencesStore.setItem("pantry-filled", true);
    }
    looked ??= lookAtShared();
    // A server that is slow to answer keeps nobody from what is here; its cards come when they come.
    const enough = new Promise((resolve) => setTimeout(resolve, PATIENCE));
    const [cards] = await Promise.all([own.list(), Promise.race([looked, enough])]);
    return newestFirst([...cards, ...sharedCards()]);
  },
  get: (id) => (isShared(id) ? getShared(id) : own.get(id)),
  put(action) {
    if (isShared(action.card.id)) return putShared(action);
    return isSharedFolder(action.card.folder) ? postShared(action) : own.put(action);
  },
  relabel: (card, seen) => (isShared(card.id) ? relabelShared(card, seen) : own.relabel(card, seen)),
  earlier: async (id) => (isShared(id) ? [] : own.earlier(id)),
  remove: (id) => (isShared(id) ? removeShared(id) : own.remove(id)),
};
