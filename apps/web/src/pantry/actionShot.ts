import { type Action, emptyShot, type Shot } from "@kneader/core";
import { standingFerryman } from "@kneader/demo";

const shots = new WeakMap<Action, Shot>();
let ferryman: Shot | null = null;

/** What an action is shown on: the drawn figure it was made for, or else the controls it was taken from. */
function stageFor(action: Action): Shot {
  ferryman ??= standingFerryman();
  if (action.figure === ferryman.rig.figure) return ferryman;
  const rig = { id: `rig-${action.id}`, name: action.name, controls: action.controls, figure: action.figure };
  return emptyShot({ id: action.id, name: action.name, rig });
}

/** An action as a shot of its own, so that it can be drawn and played by itself. */
export function actionShot(action: Action): Shot {
  let shot = shots.get(action);
  if (!shot) {
    const { rig, base, constraints } = stageFor(action);
    const { id, name, rate, length, curves } = action;
    shot = emptyShot({ id, name, rig, rate, range: { start: 0, end: length }, base: { ...base, ...curves }, constraints });
    shots.set(action, shot);
  }
  return shot;
}
