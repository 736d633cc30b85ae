import { holdLength, madeBy, noContext, type Operation, operations, type Report, runOperation, type Shot } from "@kneader/core";
import { usePreferences } from "../../../app/preferences.ts";
import { currentDocument, useDocuments } from "../../documents.ts";
import { tell } from "../../notices.ts";
import { keyPoses, poseScope } from "../../keyPoses.ts";
import { performOrTell } from "../../perform.ts";
import { useSelection } from "../../selection.ts";

/** Edits made in the pose tray, by the operations of the catalogue. Each raises what its operation raises. */

export interface GapChange {
  readonly from: number;
  readonly to: number;
  readonly frames: number;
}

async function run<Settings>(operation: Operation<Settings>, shot: Shot, settings: Settings): Promise<{ shot: Shot; report: Report }> {
  return runOperation(operation, shot, poseScope(), settings, noContext);
}

/** Frames of a hold where there is no gap to go by. */
const USUAL = 8;

/** How long a hold of a pose is made: as long as the gap after it; its own gap then says it and can be typed over. */
export function holdOf(pose: number): number {
  const shot = currentDocument();
  const poses = shot ? keyPoses(shot, usePreferences.getState().poseShare, poseScope()).map(({ frame }) => frame) : [];
  return holdLength(poses, pose, USUAL);
}

const gapSettings = (changes: readonly GapChange[], ripple: boolean) => ({
  gaps: changes.map(({ from, to, frames }) => ({ from, to, gap: frames })),
  ripple,
});

/** Several gaps changed. */
export const withGaps = (shot: Shot, changes: readonly GapChange[], ripple: boolean) =>
  run(operations.setGaps, shot, gapSettings(changes, ripple));

/** Take a shot over as one step; picked poses and gaps stay those they were, by their order. */
function keep<Settings>(before: Shot, after: Shot, name: string, operation: Operation<Settings>, settings: Settings): string[] {
  useDocuments.getState().setPreview(null);
  if (after === before) return [];
  const { poseShare } = usePreferences.getState();
  const scope = poseScope();
  const [from, to] = [keyPoses(before, poseShare, scope), keyPoses(after, poseShare, scope)];
  const moved = (frames: readonly number[]) =>
    from.length === to.length ? frames.map((frame) => to[from.findIndex((pose) => pose.frame === frame)]?.frame ?? frame) : [];
  const { poses, gaps, pickPoses, pickGaps } = useSelection.getState();
  const answer = useDocuments.getState().change(name, after, madeBy(operation, scope, settings));
  if (!answer.done) tell(answer.reason);
  pickPoses(moved(poses));
  pickGaps(moved(gaps));
  return after.range.end > before.range.end ? [`The shot now ends at frame ${after.range.end}.`] : [];
}

/** Set gaps; answers what else is worth saying. */
export async function commitGaps(changes: readonly GapChange[], ripple: boolean): Promise<string[]> {
  if (changes.length !== 1) return commit(operations.setGaps, gapSettings(changes, ripple));
  const [{ from, to, frames }] = changes;
  return commit(operations.setGap, { from, to, gap: frames, ripple });
}

/** Run one operation and keep its result. */
async function commit<Settings>(operation: Operation<Settings>, settings: Settings): Promise<string[]> {
  const before = currentDocument();
  if (!before) return [];
  const { shot, report } = await run(operation, before, settings);
  return [...report.warnings, ...keep(before, shot, report.summary, operation, settings)];
}

const poseMove = (at: number, to: number, ripple: boolean) => ({ at, to, ripple, share: usePreferences.getState().poseShare * 100 });

export const movedPose = (shot: Shot, at: number, to: number, ripple: boolean) => run(operations.movePose, shot, poseMove(at, to, ripple));
export const commitPose = (at: number, to: number, ripple: boolean) => commit(operations.movePose, poseMove(at, to, ripple));
export const swapPoses = (one: number, other: number) => commit(operations.swapPoses, { one, other });
export const makeHold = (at: number, frames: number) => commit(operations.insertHold, { at, frames });

export async function removePoses(frames: readonly number[]): Promise<string[]> {
  const said = await commit(operations.removePoses, { frames: [...frames] });
  useSelection.getState().pickPoses([]);
  return said;
}

/** The second of the two equal poses goes, and with it the time between them. */
export async function removeHold(from: number, to: number): Promise<string[]> {
  const before = currentDocument();
  if (!before) return [];
  const settings = { at: from, frames: from - to };
  const { shot } = await run(operations.insertFrames, before, settings);
  return keep(before, shot, `Removed the hold of ${to - from} after frame ${from}`, operations.insertFrames, settings);
}

/** Give a pose a name and a colour; without both its mark goes. */
export function markPose(frame: number, name: string, colour: Shot["poseMarks"][number]["colour"]): void {
  performOrTell(operations.changeShot, { mark: { frame, name: name.trim(), colour } });
}
