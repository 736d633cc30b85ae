import type { Action } from "../../model/action.ts";
import { sameCurve } from "../../curve/sameCurve.ts";
import { freshId } from "../../model/freshId.ts";
import type { Shot } from "../../model/shot.ts";

/**
 * The shot with its own copy of an action, and the id by which passes play it. One that it carries already with the same
 * keys is used again, so that what is changed in it changes wherever it plays.
 */
export function withCarried(shot: Shot, action: Action): { shot: Shot; id: string } {
  const same = shot.actions.find((one) => one.card.name === action.card.name && sameClip(one, action));
  if (same) return { shot, id: same.card.id };
  const id = shot.actions.some(({ card }) => card.id === action.card.id) ? freshId("action") : action.card.id;
  return { shot: { ...shot, actions: [...shot.actions, { card: { ...action.card, id }, clip: action.clip }] }, id };
}

function sameClip({ clip: a }: Action, { clip: b }: Action): boolean {
  const keys = Object.keys(a.curves);
  return (
    a.length === b.length &&
    a.rate.num * b.rate.den === b.rate.num * a.rate.den &&
    keys.length === Object.keys(b.curves).length &&
    keys.every((key) => b.curves[key] !== undefined && sameCurve(a.curves[key], b.curves[key]))
  );
}
