import { Tangent } from "../curve/curve.ts";
import { setKey } from "../curve/edit.ts";
import { curveFrom } from "../curve/make.ts";
import { KneaderError } from "../errors.ts";
import { addConstraint } from "../constraints/addConstraint.ts";
import { type FollowSettings, follow, makeFollow } from "../constraints/follow.ts";
import { tiesOf } from "../constraints/ledControls.ts";
import { channelKey, controlById } from "../model/rig.ts";
import type { Constraint, Shot } from "../model/shot.ts";
import { readLocal } from "../figure/localMatrix.ts";
import { makePlayer } from "./makePlayer.ts";

/** The offset at which a follow changes nothing at `frame`: the control's place in the target's frame. */
export function followOffset(shot: Shot, control: string, target: string, frame: number): number[] {
  const player = makePlayer(shot);
  const c = player.controlIndex.get(control);
  const t = player.controlIndex.get(target);
  if (c === undefined || t === undefined)
    throw new KneaderError("not-found", `The shot has no control "${c === undefined ? control : target}".`);
  player.pose(frame);
  const offset = new Float64Array(16);
  readLocal(offset, 0, player.worlds, c, t);
  return [...offset];
}

/**
 * From `frame` on the control follows `target` instead of whatever it followed before, with the place and
 * turn it has at that frame: no pop. Strengths are stepped, so the hand-over is between two frames.
 */
export function switchFollow(
  shot: Shot,
  control: string,
  target: string,
  frame: number,
  parts: Pick<FollowSettings, "position" | "rotation"> = { position: true, rotation: true },
): Shot {
  const offset = followOffset(shot, control, target, frame);
  const ended = shot.constraints.map((constraint): Constraint => {
    const key = channelKey(constraint.id, "strength");
    const isOurs = constraint.kind === follow.id && constraint.on && tiesOf(constraint).writes.includes(control);
    return isOurs
      ? { ...constraint, curves: { ...constraint.curves, [key]: setKey(constraint.curves[key], frame, 0, Tangent.stepped) } }
      : constraint;
  });
  const start = Math.min(frame, shot.range.start);
  const strength = curveFrom(
    start < frame
      ? [
          [start, 0],
          [frame, 1],
        ]
      : [[frame, 1]],
    Tangent.stepped,
  );
  const id = `follow-${control}-${target}-${String(frame).replace(".", "_")}`;
  const nameOf = (of: string) => controlById(shot.rig, of)?.name ?? of;
  const made = makeFollow(id, { control, target, ...parts, offset }, strength, `${nameOf(control)} follows ${nameOf(target)}`);
  return addConstraint({ ...shot, constraints: ended }, made);
}
