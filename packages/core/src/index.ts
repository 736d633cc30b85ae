export { matchAction } from "./actions/match.ts";
export * from "./curve/curve.ts";
export * from "./curve/edit.ts";
export { type Ghost, ghostTimes } from "./curve/ghostTimes.ts";
export * from "./curve/make.ts";
export { copyKeys, rippleKeys, keyMapper, type KeyMap, mapKeys, mapTime, moveKeys, NO_MAP } from "./curve/mapKeys.ts";
export { placesOf, unionOfTimes } from "./curve/timeRows.ts";
export { sampleCurve, sampleInto } from "./curve/track.ts";
export * from "./drift.ts";
export { KneaderError, sayError } from "./errors.ts";
export { switchFollow } from "./figure/attach.ts";
export { mirrorPose, type PoseValues, readPose } from "./figure/mirror.ts";
export { makePlayer, type Player } from "./figure/player.ts";
export { type Grip, type Place, type PullBy, pullTo } from "./figure/pull.ts";
export { playedFrames } from "./figure/timeNode.ts";
export { activePasses } from "./passes/active.ts";
export { invertAffine, multiplyAffine } from "./figure/matrix.ts";
export {
  DEG,
  eulerFromMatrix,
  eulerFromQuat,
  matrixFromQuat,
  nearestEuler,
  quatFromEuler,
  quatMultiply,
  type RotationOrder,
} from "./figure/rotation.ts";
export { curveFromBytes, curveToBytes } from "./formats/curveBytes.ts";
export { checkFileSize, type Format, formatOf, formats, readShot } from "./formats/formats.ts";
export { readAction, writeAction } from "./formats/kneaderJson.ts";
export { checkVersion, SCHEMA_VERSION, shotFromRecord } from "./formats/schema.ts";
export * from "./history.ts";
export { clipFromText, clipToText } from "./formats/clipText.ts";
export type { Clip } from "./model/clip.ts";
export type { Action } from "./model/action.ts";
export { freshId } from "./model/freshId.ts";
export { findPartners } from "./model/partners.ts";
export * from "./model/rig.ts";
export * from "./model/shot.ts";
export { envelope } from "./passes/envelope.ts";
export { checkPasses } from "./passes/checkPasses.ts";
export { computedKind, passKind, passKinds, timedKind } from "./passes/kinds.ts";
export type { PassKind } from "./passes/passKind.ts";
export {
  addMembers,
  duplicatePass,
  emptyPasses,
  fillFromResult,
  freeName,
  removeMembers,
  splitPass,
  strangeMembers,
} from "./passes/editPasses.ts";
export { passMembers } from "./passes/members.ts";
export { layerControls, ownControl } from "./passes/ownControl.ts";
export { steppingPass } from "./passes/stepping.ts";
export { inVersion, keepVersion, presentVersion, removeVersion } from "./passes/versions.ts";
export { WARP_FRAME, warpOver, warpPass } from "./passes/warp.ts";
export { presentStepping } from "./rework/stepping.ts";
export { catalogue, checkSettings, operationById, settingsSchema } from "./rework/catalogue.ts";
export { liftKeys, liftPoses } from "./rework/liftKeys.ts";
export { type Cycle, cycleOf } from "./rework/cycleOf.ts";
export { isNudge, keyResult } from "./rework/keyResult.ts";
export { keyChannels } from "./rework/keyChannels.ts";
export * from "./rework/operation.ts";
export { sayTiming, timingOf } from "./rework/timingList.ts";
export { findPoses, type KeyPose, keyTimes } from "./rework/poses.ts";
export { curvesInScope, scopedKeys } from "./rework/scope.ts";
export { checkResult } from "./rework/checkScope.ts";
export { runRework } from "./rework/runRework.ts";
export { simplified } from "./rework/simplify.ts";
