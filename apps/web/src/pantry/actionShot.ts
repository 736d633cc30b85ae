import type { Action, Shot } from "@kneader/core";

const shots = new WeakMap<Action, Shot>();

/** An action as a shot of its own, so that it can be drawn and played by itself. */
export function actionShot(action: Action): Shot {
  let shot = shots.get(action);
  if (!shot) {
    shot = {
      id: action.id,
      name: action.name,
      rig: { id: `rig-${action.id}`, name: action.name, controls: action.controls, figure: action.figure },
      rate: action.rate,
      range: { start: 0, end: action.length },
      unitMetres: null,
      set: null,
      base: action.curves,
      passes: [],
      follows: [],
    };
    shots.set(action, shot);
  }
  return shot;
}
