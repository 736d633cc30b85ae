import type { Action, Shot } from "@kneader/core";
import { standingFerryman } from "@kneader/demo";

const shots = new WeakMap<Action, Shot>();
let ferryman: Shot | null = null;

/** What an action is shown on: the drawn figure it was made for, or else the controls it was taken from. */
function stageFor(action: Action): Pick<Shot, "rig" | "base" | "follows"> {
  ferryman ??= standingFerryman();
  if (action.figure === ferryman.rig.figure) return ferryman;
  return { rig: { id: `rig-${action.id}`, name: action.name, controls: action.controls, figure: action.figure }, base: {}, follows: [] };
}

/** An action as a shot of its own, so that it can be drawn and played by itself. */
export function actionShot(action: Action): Shot {
  let shot = shots.get(action);
  if (!shot) {
    const { rig, base, follows } = stageFor(action);
    shot = {
      id: action.id,
      name: action.name,
      rig,
      rate: action.rate,
      range: { start: 0, end: action.length },
      cyclic: false,
      unitMetres: null,
      set: null,
      base: { ...base, ...action.curves },
      passes: [],
      follows,
      locked: [],
      sets: [],
      poseMarks: [],
      versions: [],
    };
    shots.set(action, shot);
  }
  return shot;
}
