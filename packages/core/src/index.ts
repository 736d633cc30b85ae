export { type Fitted, fitClip } from "./actions/fitClip.ts";
export type { HandMap, Match, Pair } from "./actions/matchControls.ts";
export { withAbout } from "./model/action.ts";
export { upperBody } from "./figure/anatomy/halves.ts";
export { skeletonOf } from "./figure/anatomy/skeleton.ts";
export { relabelled } from "./actions/labels.ts";
export { newestFirst, type Shelf } from "./actions/shelf.ts";
export * from "./curve/curve.ts";
export * from "./curve/edit.ts";
export { isSameCurve } from "./curve/same.ts";
export { type FitInput, type FitOptions, type FitResult, fitSteps } from "./curve/fit/fitSamples.ts";
export type { Fitter, FitWatch } from "./curve/fit/fitter.ts";
export { type Ghost, ghostTimes } from "./curve/ghostTimes.ts";
export * from "./curve/make.ts";
export { copyKeys, rippleKeys, keyMapper, type KeyMap, mapKeys, mapTime, moveKeys, NO_MAP } from "./curve/mapKeys.ts";
export { placesOf, unionOfTimes, wholeFramesOf } from "./curve/timeRows.ts";
export { constantCurve } from "./curve/make.ts";
export { sampleCurve, sampleInto } from "./curve/track.ts";
export * from "./evaluate/drift.ts";
export { KneaderError, sayError } from "./errors.ts";
export { inPieces } from "./inPieces.ts";
export { endMotion } from "./evaluate/contacts.ts";
export { activeConstraints } from "./constraints/activeConstraints.ts";
export { constraintKind } from "./constraints/kinds.ts";
export { missingOf, tiesOf } from "./constraints/ledControls.ts";
export type { Contact, PlantSettings } from "./constraints/plant.ts";
export { spaceConstraint, spaceOf, type Switch, switchesOf, withSwitches } from "./constraints/spaces.ts";
export { contactAt } from "./operations/spaces/contactAt.ts";
export { IN_PARENT, IN_WORLD, spaceName } from "./operations/spaces/spaceSetting.ts";
export { switchFollow } from "./evaluate/switchFollow.ts";
export { addMembers, fillFromResult } from "./evaluate/fillPass.ts";
export { readPose } from "./evaluate/readPose.ts";
export { makeMirrorer, type PoseValues } from "./figure/mirror.ts";
export { bodyOf } from "./figure/body/bodyOf.ts";
export type { BodySurface, FigureBody } from "./figure/body/figureBody.ts";
export type { Flesh } from "./figure/body/flesh.ts";
export { growSkin } from "./figure/body/growSkin.ts";
export { layoutOf } from "./figure/rigLayout.ts";
export { worldMatrices } from "./figure/standing.ts";
export { linearColour } from "./figure/body/linearColour.ts";
export { makePlayer, type Player } from "./evaluate/makePlayer.ts";
export { type Grip, type Place, type PullBy, pullTo } from "./figure/pull.ts";
export { playedFrames } from "./evaluate/timeNode.ts";
export { activePasses } from "./passes/active.ts";
export { invertAffine, multiplyAffine } from "./maths/matrix.ts";
export {
  DEG,
  eulerFromMatrix,
  eulerFromQuat,
  matrixFromQuat,
  nearestEuler,
  quatFromEuler,
  quatMultiply,
  type RotationOrder,
} from "./maths/rotation.ts";
export { curveFromBytes, curveToBytes } from "./formats/curveBytes.ts";
export type { AnimationListed, Exported, FilesBeside, Format, Imported, ReadChoices, WriteChoices } from "./formats/format.ts";
export { checkFileSize, formatOf, formats, type NamedFile, readShot, recognise } from "./formats/formats.ts";
export { pathOfUri } from "./formats/gltf/gate.ts";
export { drawable } from "./formats/gltf/skins.ts";
export { originFile } from "./formats/originFile.ts";
export { sayIssue } from "./formats/sayIssue.ts";
export { captureClip } from "./actions/captureClip.ts";
export { readAction, writeAction } from "./formats/kneaderJson.ts";
export { checkVersion, migrate, SCHEMA_VERSION } from "./formats/migrate.ts";
export { shotFromRecord } from "./formats/schema.ts";
export * from "./operations/history.ts";
export { clipFromText, clipToText } from "./formats/clipText.ts";
export { type Clip, controlsFor } from "./model/clip.ts";
export type { Action, ActionCard } from "./model/action.ts";
export { freshId, idsFrom } from "./model/freshId.ts";
export { findPartners, type SideWords, withoutPartner } from "./figure/partners.ts";
export { restWorlds } from "./figure/restPlace.ts";
export { partnersByPlace } from "./figure/partnersByPlace.ts";
export { type MirrorProof, proveMirror } from "./figure/proveMirror.ts";
export { type Bend, bendsOf, worstBend } from "./figure/bends.ts";
export { type Ends, limbEnds } from "./figure/limbEnds.ts";
export { pullPose, twistBy } from "./figure/pullPose.ts";
export { sideOf } from "./figure/partners.ts";
export { gripFor, leaderOf } from "./constraints/gripFor.ts";
export { arcGrip } from "./figure/arcGrip.ts";
export { changedSpan } from "./evaluate/changedSpan.ts";
export { type ArcPath, arcPaths } from "./evaluate/arcPaths.ts";
export { likelyFlips } from "./figure/mirrorSlots.ts";
export { findSides, sidesOf, sizeOf } from "./figure/sides.ts";
export * from "./model/rig.ts";
export { learnRanges } from "./tune/learnRanges.ts";
export * from "./model/shot.ts";
export * from "./model/rate.ts";
export { allCurves, emptyShot, makePass, mapCurves } from "./model/shotFields.ts";
export { envelope } from "./passes/envelope.ts";
export { checkPasses } from "./passes/checkPasses.ts";
export { computedKind, passKind, passKinds, timedKind } from "./passes/kinds.ts";
export type { PassKind } from "./passes/passKind.ts";
export {
  duplicatePass,
  emptyPasses,
  freeName,
  removeMembers,
  splitPass,
  strangeMembers,
} from "./passes/editPasses.ts";
export { playedAction, playOf, playPass, stretchOf } from "./passes/play.ts";
export { bandsBeside } from "./passes/rows.ts";
export { passMembers } from "./passes/members.ts";
export { layerControls, ownControl } from "./evaluate/ownControl.ts";
export { fieldPass, type FieldPose, type PoseField } from "./passes/field.ts";
export { spotWeights } from "./figure/poseBlend.ts";
export { steppingPass } from "./passes/stepping.ts";
export { inVersion, keepVersion, presentVersion, removeVersion } from "./passes/versions.ts";
export { WARP_FRAME, warpOver, warpPass } from "./passes/warp.ts";
export { catalogue, checkSettings, operationById, operations, settingsSchema } from "./operations/catalogue.ts";
export { liftKeys, liftPoses } from "./operations/timing/liftKeys.ts";
export { type Cycle, cycleOf } from "./operations/loops/cycleOf.ts";
export { placeOnField, poseOfClip, poseOfFrame } from "./operations/passes/poseField.ts";
export { keyChannels } from "./operations/shared/keyChannels.ts";
export * from "./operations/operation.ts";
export { sayTiming, timingOf } from "./operations/timing/timingList.ts";
export { holdLength } from "./operations/poses/gapAt.ts";
export { findPoses, type KeyPose, keyTimes } from "./operations/poses/poses.ts";
export { type Beyond, keysBeyond } from "./operations/shared/keysBeyond.ts";
export { channelsMeant, controlsMeant, curvesInScope, isWhole, scopedKeys } from "./operations/shared/scope.ts";
export { countedWord, listed, willBe } from "./words.ts";
export { checkResult } from "./operations/shared/checkScope.ts";
export type { HandOperation } from "./operations/hand/handOperation.ts";
export { type Carry, carrier } from "./operations/hand/moveKeys.ts";
export { editKeys, pickedCount } from "./operations/hand/pickedKeys.ts";
export { missingFor } from "./operations/needs.ts";
export { suiting } from "./operations/suits.ts";
export { isNudge, type LiveResult, liveResult } from "./operations/shared/keyResult.ts";
export { runByHand, runOperation } from "./operations/runOperation.ts";
export { simplified } from "./operations/clean/simplify.ts";
export { findFlights } from "./evaluate/findFlights.ts";
export { standingPlace } from "./figure/anatomy/feet.ts";
export { STANDARD_GRAVITY } from "./model/gravity.ts";
export { belowOf, chosenFlight, withFlights } from "./operations/physics/fly.ts";
export { flightPlan, type FlightPlan } from "./passes/flight/flight.ts";
export { type Flight, flightOver, type FlightSettings, flightSettings } from "./passes/flight/flightSettings.ts";
export { frameBelow, type PlannedFlight, placeOn, settled } from "./passes/flight/planFlights.ts";
export { type FlightNumbers, numbersOf, topForFrames, topForGravity, topForSpeed } from "./passes/flight/typedFlight.ts";
export { type Join, lastFrame, type Take } from "./model/take.ts";
export { recordedIn, type RecordSettings } from "./operations/performance/record.ts";
export { LEASH, leashAt, placeLeash, type PaintedSpan } from "./tune/closeness.ts";
export type { Cost } from "./tune/cost.ts";
export { costs } from "./tune/costs/costs.ts";
export { type Judged, judgedBy, motionOf } from "./tune/judged.ts";
export { withRoomFor } from "./evaluate/liveLayer.ts";
export { type InShot, poseOfFrame as poseOfCapture, takeOfCapture } from "./capture/captureTake.ts";
export { isDropped, sentAt } from "./capture/faults.ts";
export {
  type CaptureFrame,
  encodeFrame,
  type HeaderMessage,
  keysOfHeader,
  readText,
  type StartMessage,
  startMessage,
} from "./capture/messages.ts";
export { makePerformer, type Performer } from "./capture/performer.ts";
export { type Gap, Receiver } from "./capture/receiver.ts";
export { type Recipe, type RecipeStep, recipeToText } from "./operations/recipes/recipe.ts";
export { PLAIN_RUN, type RecipeRun } from "./operations/recipes/runRecipe.ts";
export { shippedRecipes } from "./operations/recipes/shipped.ts";
export { sayWhen } from "./operations/recipes/when.ts";
export { sayWho } from "./operations/recipes/who.ts";
export { readRecipe, recipeFromSteps, runRecipe } from "./recipe/recipes.ts";
