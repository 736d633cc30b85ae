import type { Clip } from "./clip.ts";
import { splitChannelKey } from "./rig.ts";

/** What a shelf shows of an action before it is taken down. */
export interface ActionCard {
  readonly id: string;
  readonly name: string;
  readonly notes: string;
  readonly tags: readonly string[];
  readonly folder: string;
  /** Milliseconds since 1970. */
  readonly savedAt: number;
  /** What is in the clip, so that it can be listed and looked for unread; cards of before have none. */
  readonly about?: ClipAbout;
}

/** A clip in short. */
interface ClipAbout {
  /** Frames of its own rate; 0 for a pose. */
  readonly frames: number;
  readonly curves: number;
  /** Names of the controls it moves. */
  readonly moves: readonly string[];
}

/** A card with what is in its clip. */
export function withAbout({ card, clip }: Action): Action {
  const moved = new Set(Object.keys(clip.curves).map((key) => splitChannelKey(key).control));
  const moves = clip.controls.filter(({ id }) => moved.has(id)).map(({ name }) => name);
  return { card: { ...card, about: { frames: clip.length, curves: Object.keys(clip.curves).length, moves } }, clip };
}

/** Saved motion (or, of one frame, a pose) that can be laid on other shots. */
export interface Action {
  readonly card: ActionCard;
  readonly clip: Clip;
}
