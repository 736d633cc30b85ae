import { type Action, type ActionCard, newestFirst, readAction, type Shelf, writeAction } from "@kneader/core";
import type { Store } from "./stores.ts";

/** A shelf of actions in a browser's stores: the actions as files, and beside them their cards. */
export function browserShelf(actions: Store, cards: Store): Shelf {
  const read = async (id: string): Promise<Action | null> => {
    const bytes = await actions.getItem<Uint8Array>(id);
    if (!bytes) return null;
    const { card, clip } = readAction(bytes);
    return { card: { ...card, id }, clip };
  };
  /** The card of an action that was kept without one is read from the action. */
  const cardOf = async (id: string): Promise<ActionCard | null> => {
    const known = await cards.getItem<ActionCard>(id);
    if (known) return known;
    // An action that cannot be read stays where it is; the others are shown all the same.
    try {
      const action = await read(id);
      if (action) await cards.setItem(id, action.card);
      return action?.card ?? null;
    } catch (error) {
      console.warn(`Action ${id} cannot be read`, error);
      return null;
    }
  };
  return {
    async list() {
      const found = await Promise.all((await actions.keys()).map(cardOf));
      return newestFirst(found.filter((card) => card !== null));
    },
    get: read,
    async put(action) {
      await actions.setItem(action.card.id, writeAction(action));
      await cards.setItem(action.card.id, action.card);
    },
    async remove(id) {
      await actions.removeItem(id);
      await cards.removeItem(id);
    },
  };
}
