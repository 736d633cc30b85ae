import { z } from "zod";
import { KneaderError } from "../errors.ts";
import { sayIssue } from "../formats/sayIssue.ts";
import { applyAction } from "./applyAction.ts";
import { bakeFollow } from "./bakeFollow.ts";
import { bakeLoop } from "./bakeLoop.ts";
import { bakePasses } from "./bakePasses.ts";
import { despike } from "./despike.ts";
import { evenGaps } from "./evenGaps.ts";
import { lockEnds } from "./lockEnds.ts";
import { overlap } from "./overlap.ts";
import { followThroughPass } from "../passes/followThrough.ts";
import { lagPass } from "../passes/lag.ts";
import { smoothPass } from "../passes/smooth.ts";
import { stretchPass } from "../passes/stretch.ts";
import { tremorPass } from "../passes/tremor.ts";
import { insertFrames } from "./insertFrames.ts";
import { insertHold } from "./insertHold.ts";
import { scaleTime } from "./scaleTime.ts";
import { snapFrames } from "./snapFrames.ts";
import { stagger } from "./stagger.ts";
import { favour } from "./favour.ts";
import { fitValues } from "./fitValues.ts";
import { keyMissing } from "./keyMissing.ts";
import { matchEnds } from "./matchEnds.ts";
import type { Operation } from "./operation.ts";
import { movePose } from "./movePose.ts";
import { pasteKeys } from "./pasteKeys.ts";
import { passOperation } from "./passOperation.ts";
import { pastePose } from "./pastePose.ts";
import { removePoses } from "./removePoses.ts";
import { reduce } from "./reduce.ts";
import { resample } from "./resample.ts";
import { reverse } from "./reverse.ts";
import { runOn } from "./runOn.ts";
import { saveAction } from "./saveAction.ts";
import { scaleRig } from "./scaleRig.ts";
import { scaleValues } from "./scaleValues.ts";
import { setGap } from "./setGap.ts";
import { closeCycle } from "./closeCycle.ts";
import { convertBlocking } from "./convertBlocking.ts";
import { setTiming } from "./setTiming.ts";
import { setTangents } from "./setTangents.ts";
import { shiftValues } from "./shiftValues.ts";
import { simplify } from "./simplify.ts";
import { smooth } from "./smooth.ts";
import { swapPoses } from "./swapPoses.ts";
import { stepping } from "./stepping.ts";
import { timeWarp } from "./timeWarp.ts";
import { towardRest } from "./towardRest.ts";
import { untwist } from "./untwist.ts";

/** Every rework operation, in the order in which they are listed. */
export const catalogue: readonly Operation[] = [
  simplify,
  smooth,
  despike,
  untwist,
  reduce,
  resample,
  setTangents,
  convertBlocking,
  keyMissing,
  scaleValues,
  shiftValues,
  fitValues,
  favour,
  towardRest,
  matchEnds,
  scaleRig,
  setGap,
  setTiming,
  movePose,
  insertHold,
  insertFrames,
  evenGaps,
  scaleTime,
  stagger,
  snapFrames,
  reverse,
  timeWarp,
  stepping,
  pasteKeys,
  closeCycle,
  runOn,
  bakeLoop,
  pastePose,
  swapPoses,
  removePoses,
  overlap,
  passOperation(followThroughPass, { words: "spring drag overlap swing chain tail", picked: true }),
  passOperation(lagPass, { words: "delay late offset stagger successive" }),
  passOperation(stretchPass, { words: "slow quick scale time longer" }),
  passOperation(tremorPass, { words: "noise shake jitter shiver camera handheld" }),
  passOperation(smoothPass, { words: "filter jitter soft" }),
  lockEnds,
  bakePasses,
  bakeFollow,
  saveAction,
  applyAction,
] as unknown as readonly Operation[];

export function operationById(id: string): Operation {
  const found = catalogue.find((operation) => operation.id === id);
  if (!found) throw new KneaderError("not-found", `There is no operation "${id}".`, `Known are: ${catalogue.map((o) => o.id).join(", ")}.`);
  return found;
}

/** The settings of an operation, checked; a wrong one is named in the error. */
export function checkSettings(operation: Operation, given: unknown): unknown {
  const result = operation.settings.safeParse(given);
  if (result.success) return result.data;
  throw new KneaderError("bad-setting", `${operation.title}: setting ${sayIssue(result.error, "", "list")}.`);
}

/** An operation's settings as JSON Schema, with titles, units, ranges and help. */
export function settingsSchema(operation: Operation): Record<string, unknown> {
  return z.toJSONSchema(operation.settings, { io: "input", unrepresentable: "any" }) as Record<string, unknown>;
}
