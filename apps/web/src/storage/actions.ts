import { type Action, readAction, writeAction } from "@kneader/core";
import { demoActions } from "@kneader/demo";
import { actionStore, preferencesStore } from "./stores.ts";

/** Every action of this browser's pantry; the demo's are put there once. */
export async function listActions(): Promise<Action[]> {
  if (!(await preferencesStore.getItem("pantry-filled"))) {
    for (const action of demoActions()) await keepAction(action);
    await preferencesStore.setItem("pantry-filled", true);
  }
  const actions: Action[] = [];
  for (const id of await actionStore.keys()) {
    const bytes = await actionStore.getItem<Uint8Array>(id);
    // An action that cannot be read stays where it is; the others are shown all the same.
    try {
      if (bytes) actions.push({ ...readAction(bytes), id });
    } catch (error) {
      console.warn(`Action ${id} cannot be read`, error);
    }
  }
  return actions.sort((a, b) => b.savedAt - a.savedAt || a.name.localeCompare(b.name));
}

export async function keepAction(action: Action): Promise<void> {
  await actionStore.setItem(action.id, writeAction(action));
}

export async function dropAction(id: string): Promise<void> {
  await actionStore.removeItem(id);
}
