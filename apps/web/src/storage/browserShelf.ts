import {
  type Action,
  type ActionCard,
  KneaderError,
  newestFirst,
  readAction,
  relabelled,
  type Shelf,
  withAbout,
  writeAction,
} from "@kneader/core";
import type { Store } from "./stores.ts";

/** So many states before are kept of an action. */
const EARLIER = 5;

/** A shelf of actions in a browser's stores: the actions as files, beside them their cards, and what they were before. */
export function browserShelf(actions: Store, cards: Store, before: Store): Shelf {
  const read = async (id: string): Promise<Action | null> => {
    const bytes = await actions.getItem<Uint8Array>(id);
    if (!bytes) return null;
    const { card, clip } = readAction(bytes);
    return { card: { ...card, id }, clip };
  };
  /** The card of an action that was kept without one, or without what is in it, is read from the action. */
  const cardOf = async (id: string): Promise<ActionCard | null> => {
    const known = await cards.getItem<ActionCard>(id);
    if (known?.about) return known;
    // An action that cannot be read stays where it is; the others are shown all the same.
    try {
      const action = await read(id);
      if (!action) return null;
      const { card } = withAbout({ ...action, card: known ?? action.card });
      await cards.setItem(id, card);
      return card;
    } catch (error) {
      console.warn(`Action ${id} cannot be read`, error);
      return null;
    }
  };
  const keep = async (action: Action): Promise<void> => {
    const { card, clip } = withAbout(action);
    await actions.setItem(card.id, writeAction({ card, clip }));
    await cards.setItem(card.id, card);
  };
  return {
    async list() {
      const known = await cards.all<ActionCard>();
      const found = await Promise.all(
        (await actions.keys()).map((id) => (known.get(id)?.about ? (known.get(id) as ActionCard) : cardOf(id))),
      );
      return newestFirst(found.filter((card) => card !== null));
    },
    get: read,
    async put(action) {
      const { id } = action.card;
      const bytes = await actions.getItem<Uint8Array>(id);
      // What was is kept before it is overwritten.
      if (bytes) await before.setItem(id, [bytes, ...((await before.getItem<Uint8Array[]>(id)) ?? [])].slice(0, EARLIER));
      await keep(action);
    },
    async relabel(card, seen) {
      const action = await read(card.id);
      if (!action) throw new KneaderError("not-found", `"${card.name}" is not in the pantry any more.`);
      await keep({ card: seen ? relabelled(action.card, card, seen).card : card, clip: action.clip });
    },
    async earlier(id) {
      return ((await before.getItem<Uint8Array[]>(id)) ?? []).map((bytes) => readAction(bytes));
    },
    async remove(id) {
      await actions.removeItem(id);
      await cards.removeItem(id);
      await before.removeItem(id);
    },
  };
}
