import type { Curve } from "../../src/curve/curve.ts";
import { addConstraint } from "../../src/constraints/addConstraint.ts";
import { type FollowSettings, makeFollow } from "../../src/constraints/follow.ts";
import type { Shot } from "../../src/model/shot.ts";

export { followOffset } from "../../src/evaluate/switchFollow.ts";

/** A follow told in one breath. */
export interface Follow extends FollowSettings {
  readonly id: string;
  readonly strength: Curve;
  readonly on: boolean;
}

export function followOf({ id, strength, on, ...settings }: Follow) {
  return { ...makeFollow(id, settings, strength), on };
}

export function addFollow(shot: Shot, follow: Follow): Shot {
  return addConstraint(shot, followOf(follow));
}
