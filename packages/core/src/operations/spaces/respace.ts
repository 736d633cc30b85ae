import { spaceFrame } from "../../constraints/space.ts";
import { type Switch, spaceOf, switchesOf, tidied, withSwitches } from "../../constraints/spaces.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { channelKey, transformChannels } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { carryKeys } from "./carryKeys.ts";

/** What becomes of a control's keys where it lives elsewhere: told anew on their own frames, on every frame, or left as they are. */
export type CarryKeys = "own" | "every" | "values";

/**
 * Let a control live in other spaces over time so that it stands where it stood: at every key of the spans that change, at
 * the switches and one frame before them, where its old space still rules. Yields the share done. Errors: `not-found`,
 * `cycle`, `bad-setting` where a pass leaves its base motion no say.
 */
export function* respace(shot: Shot, control: string, given: readonly Switch[], how: CarryKeys): Generator<number, Shot> {
  const [was, will] = [switchesOf(shot, control), tidied(given)];
  const after = withSwitches(shot, control, will);
  if (how === "values") return after;
  const keyed = transformChannels.flatMap((channel) => shot.base[channelKey(control, channel)] ?? []);
  const first = Math.min(shot.range.start, ...keyed.map(({ times }) => times[0]));
  const changes = (frame: number) => spaceOf(was, frame) !== spaceOf(will, frame);
  const framesOf = (list: readonly Switch[]) => list.slice(1).map(({ frame }) => frame);
  // Before the first frame there is nothing whose pose could be held.
  const begun = framesOf(will).filter((frame) => frame > first + 1e-6);
  const held = new Set(begun.map((frame) => Math.max(first, frame - 1)));
  const gone = framesOf(was).filter((frame) => !framesOf(will).some((other) => Math.abs(other - frame) < 1e-6));
  const keyedAt = [first, ...begun, ...held, ...gone.flatMap((frame) => [frame - 1, frame]).filter((frame) => frame >= first)];
  if (how === "every") for (let frame = Math.ceil(first); frame <= shot.range.end; frame++) if (changes(frame)) keyedAt.push(frame);
  const frames = new Map(will.map(({ space }) => [space, spaceFrame(shot.rig, control, space)]));
  return yield* carryKeys(shot, after, {
    control,
    changes,
    frameAt: (out, worlds, frame) => frames.get(spaceOf(will, frame))?.(out, worlds),
    keyed: [...unionOfTimes([Float64Array.from(new Set(keyedAt)).sort()])],
    held,
    jumps: new Set(framesOf(was)),
    freed: new Set(gone.map((frame) => frame - 1)),
    linear: how === "every",
  });
}
