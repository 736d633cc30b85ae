import { type ChannelKey, controlById, isScenery, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord, listed } from "../../words.ts";
import type { Scope } from "../operation.ts";
import { isWhole } from "./scope.ts";

/** The channels that stay out because nothing is picked and set and camera are not meant then. */
export function sceneryAmong(shot: Shot, scope: Scope, keys: readonly ChannelKey[]): ChannelKey[] {
  if (!isWhole(scope) || scope.everything) return [];
  return keys.filter((key) => {
    const control = controlById(shot.rig, splitChannelKey(key).control);
    return control !== undefined && isScenery(control);
  });
}

/** The warning that says so; none where nothing stays out. */
export function sayScenery(shot: Shot, scope: Scope, keys: readonly ChannelKey[]): string[] {
  const left = sceneryAmong(shot, scope, keys);
  if (left.length === 0) return [];
  const names = [...new Set(left.map((key) => controlById(shot.rig, splitChannelKey(key).control)?.name ?? key))];
  return [
    `${countedWord(left.length, "curve")} of ${listed(names)} left out, as the whole figure is in scope: choose everything in the shot to take set and camera along.`,
  ];
}
