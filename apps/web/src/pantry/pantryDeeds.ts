import { type Action, type ActionCard, emptyShot, formats, freshId, writeAction } from "@kneader/core";
import { download } from "../export/download.ts";
import { isShared, isSharedFolder } from "../storage/sharedShelf.ts";
import { pantry } from "../storage/pantry.ts";
import { isWithin } from "./findCards.ts";
import { pantryChanged } from "./useActions.ts";

/** Change the cards of some actions; what is in their clips stays, and no earlier state is kept of it. */
async function changeCards(cards: readonly ActionCard[], change: (card: ActionCard) => ActionCard): Promise<void> {
  for (const card of cards) await pantry.relabel(change(card), card);
  await pantryChanged();
}

/** Put actions into a folder; into one of the other shelf, a copy. */
export async function moveCards(cards: readonly ActionCard[], folder: string): Promise<void> {
  for (const card of cards) {
    if (isShared(card.id) === isSharedFolder(folder)) await pantry.relabel({ ...card, folder }, card);
    else await copyTo(card, folder);
  }
  await pantryChanged();
}

/** From one shelf to the other an action is copied: where it was it stays. */
async function copyTo({ id }: ActionCard, folder: string): Promise<void> {
  const action = await pantry.get(id);
  if (action) await pantry.put({ ...action, card: { ...action.card, id: freshId("action"), folder } });
}

/** Give actions a tag more. */
export const tagCards = (cards: readonly ActionCard[], tag: string): Promise<void> =>
  changeCards(cards, (card) => ({ ...card, tags: [...new Set([...card.tags, tag])] }));

/** Give a folder another name: all that is in it, and in folders in it, goes along. */
export async function renameFolder(from: string, to: string): Promise<void> {
  const cards = (await pantry.list()).filter(({ folder }) => isWithin(folder, from));
  await changeCards(cards, (card) => ({ ...card, folder: to + card.folder.slice(from.length) }));
}

/** Throw actions away. */
export async function throwAway(cards: readonly ActionCard[]): Promise<void> {
  for (const { id } of cards) await pantry.remove(id);
  await pantryChanged();
}

/** A name as files may have it. */
const plain = (name: string) => name.replace(/[\\/:*?"<>|]/g, "-").trim() || "action";

/** Save an action as one binary glTF file: its figure's bones, moving. What the format cannot say is answered. */
export async function saveGltf({ card, clip }: Action): Promise<readonly string[]> {
  const format = formats.find(({ id }) => id === "glb");
  if (!format) return [];
  const { rate, length, curves } = clip;
  const there = new Set(clip.controls.map(({ id }) => id));
  // An action of a part of a figure may name partners it does not have.
  const controls = clip.controls.map((one) => (one.partner === null || there.has(one.partner) ? one : { ...one, partner: null }));
  const rig = { id: card.id, name: card.name, controls, figure: null };
  const shot = emptyShot({ id: card.id, name: card.name, rig, rate, range: { start: 0, end: length }, base: curves });
  const { bytes, notes } = await format.write(shot);
  download(bytes, `${plain(card.name)}${format.extension}`);
  return notes;
}

/** Save actions as one zip of files, in folders as they lie. */
export async function saveZip(cards: readonly ActionCard[]): Promise<void> {
  const { zipSync } = await import("fflate");
  const files: Record<string, Uint8Array> = {};
  for (const { id } of cards) {
    const action = await pantry.get(id);
    if (action) files[freePath(files, action)] = writeAction(action);
  }
  download(zipSync(files), "actions.zip");
}

function freePath(files: Readonly<Record<string, unknown>>, { card }: Action): string {
  const path = [...card.folder.split("/"), card.name].map(plain).join("/");
  for (let n = 1; ; n++) {
    const free = `${path}${n > 1 ? ` ${n}` : ""}.json`;
    if (!(free in files)) return free;
  }
}
