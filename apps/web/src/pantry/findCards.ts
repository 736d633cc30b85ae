import type { ActionCard } from "@kneader/core";

export type CardOrder = "new" | "name" | "length";

export interface Wanted {
  readonly words: string;
  /** With all folders in it; null: everywhere. */
  readonly folder: string | null;
  readonly tag: string | null;
  readonly order: CardOrder;
}

const texts = new WeakMap<ActionCard, string>();

/** All of a card that is searched: name, tags, notes, the controls it moves, its folder. */
function textOf(card: ActionCard): string {
  let text = texts.get(card);
  if (text === undefined) {
    text = [card.name, ...card.tags, card.notes, ...(card.about?.moves ?? []), card.folder].join(" ").toLowerCase();
    texts.set(card, text);
  }
  return text;
}

/** Is a folder another one, or in it? Folders in folders are told apart by a slash. */
export const isWithin = (folder: string, other: string): boolean => folder === other || folder.startsWith(`${other}/`);

const orders: Readonly<Record<CardOrder, (a: ActionCard, b: ActionCard) => number>> = {
  new: (a, b) => b.savedAt - a.savedAt || a.name.localeCompare(b.name),
  name: (a, b) => a.name.localeCompare(b.name),
  length: (a, b) => (a.about?.frames ?? 0) - (b.about?.frames ?? 0) || a.name.localeCompare(b.name),
};

/** The cards that are wanted, in order. Every word must be somewhere on a card. */
export function findCards(cards: readonly ActionCard[], { words, folder, tag, order }: Wanted): ActionCard[] {
  const parts = words.toLowerCase().split(/\s+/).filter(Boolean);
  return cards
    .filter(
      (card) =>
        (folder === null || isWithin(card.folder, folder)) &&
        (tag === null || card.tags.includes(tag)) &&
        parts.every((part) => textOf(card).includes(part)),
    )
    .sort(orders[order]);
}

/** A folder among others, with how many cards are in it and all in it. */
export interface FolderLine {
  readonly path: string;
  readonly name: string;
  readonly depth: number;
  readonly count: number;
}

/** All folders as a tree, by name; folders that only hold folders among them. */
export function folderLines(cards: readonly ActionCard[], empty: readonly string[] = []): FolderLine[] {
  const counts = new Map<string, number>();
  const add = (folder: string, count: number) => {
    const names = folder.split("/");
    for (let n = 1; n <= names.length; n++) {
      const path = names.slice(0, n).join("/");
      counts.set(path, (counts.get(path) ?? 0) + count);
    }
  };
  for (const { folder } of cards) add(folder, 1);
  for (const folder of empty) add(folder, 0);
  const order = (a: string, b: string) => {
    const [x, y] = [a.split("/"), b.split("/")];
    for (let n = 0; n < Math.min(x.length, y.length); n++) if (x[n] !== y[n]) return x[n].localeCompare(y[n]);
    return x.length - y.length;
  };
  return [...counts]
    .sort(([a], [b]) => order(a, b))
    .map(([path, count]) => ({ path, name: path.slice(path.lastIndexOf("/") + 1), depth: path.split("/").length - 1, count }));
}

/** "24 frames · 5 curves", "Pose · 12 curves" */
export function sayAbout({ about }: ActionCard): string {
  if (!about) return " ";
  const curves = `${about.curves} ${about.curves === 1 ? "curve" : "curves"}`;
  const frames = Math.round(about.frames * 100) / 100;
  return `${about.frames > 0 ? `${frames} ${frames === 1 ? "frame" : "frames"}` : "Pose"} · ${curves}`;
}
