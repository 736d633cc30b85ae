import { Tangent } from "../curve/curve.ts";
import { setKey } from "../curve/edit.ts";
import { curveFrom } from "../curve/make.ts";
import { KneaderError } from "../errors.ts";
import { controlById } from "../model/rig.ts";
import type { Follow, Shot } from "../model/shot.ts";
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

/** Add a follow; refuses one that would make a control follow itself, directly or by way of others. */
export function addFollow(shot: Shot, follow: Follow): Shot {
  for (const id of [follow.control, follow.target])
    if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `The shot has no control "${id}".`);
  const above = (id: string, seen: Set<string>): boolean => {
    if (id === follow.control) return true;
    if (seen.has(id)) return false;
    seen.add(id);
    const parent = controlById(shot.rig, id)?.parent;
    if (parent && above(parent, seen)) return true;
    return shot.follows.some((f) => f.control === id && above(f.target, seen));
  };
  if (above(follow.target, new Set()))
    throw new KneaderError(
      "cycle",
      `"${follow.control}" cannot follow "${follow.target}", which itself moves with it.`,
      "Choose a target that does not hang on the follower.",
    );
  return { ...shot, follows: [...shot.follows, follow] };
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
  parts: Pick<Follow, "position" | "rotation"> = { position: true, rotation: true },
): Shot {
  const offset = followOffset(shot, control, target, frame);
  const ended = shot.follows.map((follow) =>
    follow.control === control && follow.on ? { ...follow, strength: setKey(follow.strength, frame, 0, Tangent.stepped) } : follow,
  );
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
  const id = `follow-${control}-${target}-${frame}`;
  return addFollow({ ...shot, follows: ended }, { id, control, target, ...parts, strength, offset, on: true });
}
