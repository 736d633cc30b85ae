import type { Clip } from "./clip.ts";

/** What a shelf shows of an action before it is taken down. */
export interface ActionCard {
  readonly id: string;
  readonly name: string;
  readonly notes: string;
  readonly tags: readonly string[];
  readonly folder: string;
  /** Milliseconds since 1970. */
  readonly savedAt: number;
}

/** Saved motion (or, of one frame, a pose) that can be laid on other shots. */
export interface Action {
  readonly card: ActionCard;
  readonly clip: Clip;
}
