import { type Action, emptyShot, type Shot } from "@kneader/core";
import { standingFerryman } from "@kneader/demo";

const shots = new WeakMap<Action, Shot>();
let ferryman: Shot | null = null;

/** What an action is shown on: the drawn figure it was made for, or else the controls it was taken from. */
function stageFor({ card, clip }: Action): Shot {
  ferryman ??= standingFerryman();
  if (clip.figure === ferryman.rig.figure) return ferryman;
  const rig = { id: `rig-${card.id}`, name: card.name, controls: clip.controls, figure: clip.figure };
  return emptyShot({ id: card.id, name: card.name, rig });
}

/** An action as a shot of its own, so that it can be drawn and played by itself. */
export function actionShot(action: Action): Shot {
  let shot = shots.get(action);
  if (!shot) {
    const { rig, base, constraints } = stageFor(action);
    const { id, name } = action.card;
    const { rate, length, curves } = action.clip;
    shot = emptyShot({ id, name, rig, rate, range: { start: 0, end: length }, base: { ...base, ...curves }, constraints });
    shots.set(action, shot);
  }
  return shot;
}
