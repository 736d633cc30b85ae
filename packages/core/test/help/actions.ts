import { captureClip } from "../../src/actions/captureClip.ts";
import type { Action, ActionCard } from "../../src/model/action.ts";
import type { Shot } from "../../src/model/shot.ts";

function cardOf(name: string, more: Partial<ActionCard> = {}): ActionCard {
  return { id: "action", name, notes: "", tags: [], folder: "Mine", savedAt: 0, ...more };
}

/** A shot's base motion over some frames as an action. */
export function actionOf(shot: Shot, start: number, end: number): Action {
  return { card: cardOf("a"), clip: captureClip(shot, Object.keys(shot.base), { start, end }) };
}
