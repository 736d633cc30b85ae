import { EVERYTHING, findPoses, type KeyPose, type Scope, type Shot, timingOf, WHOLE_FIGURE } from "@kneader/core";
import { usePreferences } from "../app/preferences.ts";
import { Latest } from "./latest.ts";
import { useSelection } from "./selection.ts";

const known = new Latest<object, Map<string, KeyPose[]>>(12);

/** The key poses of base motion, found once for each state of its curves whoever asks. */
export function keyPoses(shot: Shot, share: number, scope: Scope = WHOLE_FIGURE): readonly KeyPose[] {
  let kept = known.get(shot.base);
  if (!kept) {
    kept = new Map();
    known.set(shot.base, kept);
  }
  const name = `${share} ${scope.everything ?? ""} ${scope.controls?.join() ?? ""} ${scope.channels?.join() ?? ""}`;
  let poses = kept.get(name);
  if (!poses) {
    poses = findPoses(shot, scope, share);
    kept.set(name, poses);
  }
  return poses;
}

/** What poses and gaps are about: the figure as a whole, or what is picked when that was chosen. */
export function usePoseScope(): Scope {
  const whole = usePreferences((state) => state.wholePoses);
  const controls = useSelection((state) => state.controls);
  const channels = useSelection((state) => state.channels);
  const everything = useSelection((state) => state.everything);
  return scopeFor(whole, controls, channels, everything);
}

export function poseScope(): Scope {
  const { controls, channels, everything } = useSelection.getState();
  return scopeFor(usePreferences.getState().wholePoses, controls, channels, everything);
}

let narrowed: Scope = WHOLE_FIGURE;
function scopeFor(whole: boolean, controls: readonly string[], channels: readonly string[], everything: boolean): Scope {
  if (everything && controls.length === 0) return EVERYTHING;
  if (whole || controls.length === 0) return WHOLE_FIGURE;
  const next = channels.length > 0 ? channels : null;
  // One object as long as the same is picked, so that what is worked out from it is kept.
  if (narrowed.controls !== controls || narrowed.channels !== next) narrowed = { ...WHOLE_FIGURE, controls, channels: next };
  return narrowed;
}

/** More poses than this have no room to show which gaps are holds. */
const MOST_HOLDS = 200;

/** Frames of the poses after which nothing moves until the next one. */
export function holdsAfter(shot: Shot, share: number, scope: Scope): ReadonlySet<number> {
  if (keyPoses(shot, share, scope).length > MOST_HOLDS) return new Set();
  const { poses, steps } = timingOf(shot, scope, share);
  return new Set(poses.filter((_, i) => steps[i]?.hold));
}
