import type { Action, ActionCard } from "../model/action.ts";

/** A place where actions are kept: in this browser, on a server, in a folder. Errors are those of the place. */
export interface Shelf {
  /** What stands there, the newest first; no action is taken down for it. */
  list(): Promise<readonly ActionCard[]>;
  /** The action of a card, or null when it is gone. */
  get(id: string): Promise<Action | null>;
  /** Keep an action in place of the one with its id, if there is one; what that was is kept as an earlier state. */
  put(action: Action): Promise<void>;
  /**
   * Give an action another card: name, folder, tags, notes. Given the card as it was `seen` before the change,
   * only what was changed is written, and what others wrote beside it stays.
   */
  relabel(card: ActionCard, seen?: ActionCard): Promise<void>;
  /** The states an action had before, the latest first. */
  earlier(id: string): Promise<readonly Action[]>;
  remove(id: string): Promise<void>;
}

/** Cards as shelves list them: the newest first, those of one time by name. */
export function newestFirst(cards: readonly ActionCard[]): ActionCard[] {
  return [...cards].sort((a, b) => b.savedAt - a.savedAt || a.name.localeCompare(b.name));
}
