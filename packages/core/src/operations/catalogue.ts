import { z } from "zod";
import { KneaderError } from "../errors.ts";
import { addCarrier } from "./spaces/addCarrier.ts";
import { aimAt } from "./spaces/aimAt.ts";
import { bakeDown } from "./spaces/bakeDown.ts";
import { followTarget } from "./spaces/followTarget.ts";
import { matchReach } from "./spaces/matchReach.ts";
import { plantEnds } from "./spaces/plantEnds.ts";
import { reachFor } from "./spaces/reachFor.ts";
import { switchSpace } from "./spaces/switchSpace.ts";
import { cleanCapture } from "./performance/cleanCapture.ts";
import { record } from "./performance/record.ts";
import { recipeOperation } from "./recipes/recipeOperation.ts";
import { tune } from "./tune/tune.ts";
import { fly } from "./physics/fly.ts";
import { layAction } from "./actions/layAction.ts";
import { closeAction, openAction } from "./actions/openAction.ts";
import { ownAction } from "./actions/ownAction.ts";
import { playBand } from "./actions/playBand.ts";
import { playToKeys } from "./actions/playToKeys.ts";
import { bakeLoop } from "./loops/bakeLoop.ts";
import { bakePasses } from "./passes/bakePasses.ts";
import { despike } from "./clean/despike.ts";
import { evenGaps } from "./timing/evenGaps.ts";
import { lockEnds } from "./passes/lockEnds.ts";
import { overlap } from "./passes/overlap.ts";
import { insertFrames } from "./timing/insertFrames.ts";
import { insertHold } from "./timing/insertHold.ts";
import { scaleTime } from "./timing/scaleTime.ts";
import { snapFrames } from "./timing/snapFrames.ts";
import { stagger } from "./timing/stagger.ts";
import { favour } from "./values/favour.ts";
import { fitValues } from "./values/fitValues.ts";
import { keyMissing } from "./clean/keyMissing.ts";
import { matchEnds } from "./values/matchEnds.ts";
import type { Operation } from "./operation.ts";
import { movePose } from "./timing/movePose.ts";
import { pasteKeys } from "./timing/pasteKeys.ts";
import { passOperations } from "./passes/passOperation.ts";
import { mirrorPose } from "./poses/mirrorPose.ts";
import { mirrorRange } from "./poses/mirrorRange.ts";
import { otherHalf } from "./poses/otherHalf.ts";
import { poseField } from "./passes/poseField.ts";
import { pastePose } from "./poses/pastePose.ts";
import { removePoses } from "./poses/removePoses.ts";
import { reduce } from "./clean/reduce.ts";
import { resample } from "./clean/resample.ts";
import { reverse } from "./timing/reverse.ts";
import { runOn } from "./loops/runOn.ts";
import { saveAction } from "./actions/saveAction.ts";
import { scaleRig } from "./values/scaleRig.ts";
import { scaleValues } from "./values/scaleValues.ts";
import { setGap } from "./timing/setGap.ts";
import { closeCycle } from "./loops/closeCycle.ts";
import { convertBlocking } from "./clean/convertBlocking.ts";
import { setTiming } from "./timing/setTiming.ts";
import { setTangents } from "./clean/setTangents.ts";
import { shiftValues } from "./values/shiftValues.ts";
import { simplify } from "./clean/simplify.ts";
import { smoothArc } from "./clean/smoothArc.ts";
import { smooth } from "./clean/smooth.ts";
import { swapPoses } from "./poses/swapPoses.ts";
import { stepping } from "./timing/stepping.ts";
import { timeWarp } from "./timing/timeWarp.ts";
import { towardRest } from "./values/towardRest.ts";
import { untwist } from "./clean/untwist.ts";

import { moveKeysByHand } from "./hand/moveKeys.ts";
import { removeKeysByHand } from "./hand/removeKeys.ts";
import { cutMotion } from "./hand/cutMotion.ts";
import { keyAsItIs } from "./hand/keyAsItIs.ts";
import { keyValues } from "./hand/keyValues.ts";
import { keyTake } from "./hand/keyTake.ts";
import { keyPulled } from "./hand/keyPulled.ts";
import { dragHandle, insertKeyByHand } from "./hand/shapeKey.ts";
import { changeShot } from "./hand/changeShot.ts";
import { changeRig } from "./hand/changeRig.ts";
import { changeBand } from "./hand/changeBand.ts";
import { changePass } from "./hand/changePass.ts";
import { stackPasses } from "./hand/stackPasses.ts";
import { changeTie } from "./hand/changeTie.ts";
import { moveSwitches } from "./hand/moveSwitches.ts";
import { changeVersion } from "./hand/changeVersion.ts";
import { setGaps } from "./hand/setGaps.ts";
import { takePose } from "./hand/takePose.ts";
import { takeBack } from "./hand/takeBack.ts";

/** The operations that are offered, in the order in which they are listed; those of the kinds of passes stand between. */
const offered = {
  simplify,
  smooth,
  despike,
  smoothArc,
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
  mirrorPose,
  mirrorRange,
  otherHalf,
  swapPoses,
  removePoses,
  overlap,
  poseField,
};

const offeredAfterPasses = {
  lockEnds,
  bakePasses,
  plantEnds,
  switchSpace,
  addCarrier,
  followTarget,
  aimAt,
  reachFor,
  matchReach,
  bakeDown,
  saveAction,
  fly,
  record,
  cleanCapture,
  tune,
  layAction,
  playBand,
  playToKeys,
  openAction,
  closeAction,
  ownAction,
  // Its steps are any of all these.
  runRecipe: recipeOperation((id) => operationById(id)),
};

/** What is done by gestures and menus. */
const byHand = {
  moveKeys: moveKeysByHand,
  removeKeys: removeKeysByHand,
  cutMotion,
  keyAsItIs,
  keyValues,
  keyPulled,
  keyTake,
  dragHandle,
  insertKey: insertKeyByHand,
  changeShot,
  changeRig,
  changePass,
  changeBand,
  takePose,
  stackPasses,
  changeVersion,
  changeTie,
  moveSwitches,
  takeBack,
  setGaps,
};

/** Every operation by its name, with the type of its settings. */
export const operations = { ...offered, ...offeredAfterPasses, ...byHand };

/** The operations that are offered, for lists. */
export const catalogue = [
  ...Object.values(offered),
  ...passOperations(),
  ...Object.values(offeredAfterPasses),
] as unknown as readonly Operation[];

const all = [...catalogue, ...Object.values(byHand)] as unknown as readonly Operation[];

export { checkSettings } from "./checkSettings.ts";

export function operationById(id: string): Operation {
  const found = all.find((operation) => operation.id === id);
  if (!found) throw new KneaderError("not-found", `There is no operation "${id}".`, `Known are: ${catalogue.map((o) => o.id).join(", ")}.`);
  return found;
}

/** An operation's settings as JSON Schema, with titles, units, ranges and help. */
export function settingsSchema(operation: Operation): Record<string, unknown> {
  return z.toJSONSchema(operation.settings, { io: "input", unrepresentable: "any" }) as Record<string, unknown>;
}
