import type { Shelf } from "@kneader/core";
import { demoActions } from "@kneader/demo";
import { browserShelf } from "./browserShelf.ts";
import { actionStore, cardStore, earlierStore, preferencesStore } from "./stores.ts";

const shelf = browserShelf(actionStore, cardStore, earlierStore);

/** The pantry of this browser; the demo's actions are put there once. */
export const pantry: Shelf = {
  ...shelf,
  async list() {
    if (!(await preferencesStore.getItem("pantry-filled"))) {
      for (const action of demoActions()) await shelf.put(action);
      await preferencesStore.setItem("pantry-filled", true);
    }
    return shelf.list();
  },
};
