import type { Action, ActionCard } from "@kneader/core";
import { pantry } from "../storage/pantry.ts";
import { thumbnailStore } from "../storage/stores.ts";
import { actionShot } from "./actionShot.ts";

/** Pictures wait until nothing was typed, pressed or scrolled for so long (milliseconds): they must be in nobody's way. */
const REST = 220;
let stirred = 0;
for (const event of ["keydown", "input", "wheel", "pointerdown", "pointermove"])
  window.addEventListener(event, () => (stirred = performance.now()), { capture: true, passive: true });

const rested = async () => {
  for (let left = 1; left > 0; ) {
    left = stirred + REST - performance.now();
    if (left > 0) await new Promise((resolve) => setTimeout(resolve, left));
  }
};

let queue: Promise<unknown> = Promise.resolve();
const known = new Map<string, string>();

const keyOf = ({ id, savedAt }: ActionCard) => `action ${id} ${savedAt}`;

/** The picture that is known already. */
export const knownPicture = (card: ActionCard): string | undefined => known.get(keyOf(card));

/**
 * A few moments of an action side by side, kept in this browser for each state of it, so that it is drawn once. One is
 * drawn after the other, while nothing else goes on; `wanted` is asked before any work.
 */
export async function pictureOf(card: ActionCard, wanted: () => boolean): Promise<string | null> {
  const key = keyOf(card);
  const kept = known.get(key) ?? (await thumbnailStore.getItem<string>(key).catch(() => null));
  if (kept) {
    known.set(key, kept);
    return kept;
  }
  const turn = queue.then(async () => {
    await rested();
    if (!wanted()) return null;
    const action = await pantry.get(card.id).catch(() => null);
    return action ? draw(action, key) : null;
  });
  queue = turn.catch(() => undefined);
  return turn;
}

async function draw(action: Action, key: string): Promise<string | null> {
  const { drawStrip } = await import("../bench/view/strip.ts");
  const drawn = await drawStrip(actionShot(action), 210, 110, action.clip.length > 0 ? 3 : 1);
  if (!drawn) return null;
  known.set(key, drawn);
  // Where there is no room it is drawn again the next time.
  await thumbnailStore.setItem(key, drawn).catch(() => undefined);
  return drawn;
}

/** The picture of an action at hand, which may be in no shelf. */
export async function drawPictureOf(action: Action): Promise<string | null> {
  return known.get(keyOf(action.card)) ?? draw(action, keyOf(action.card));
}
