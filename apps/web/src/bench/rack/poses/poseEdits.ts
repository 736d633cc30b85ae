import { noContext, type Operation, operationById, type Report, runOperation, type Shot } from "@kneader/core";
import { usePreferences } from "../../../app/preferences.ts";
import { changeOrTell, currentDocument, useDocuments } from "../../documents.ts";
import { keyPoses, poseScope } from "../../keyPoses.ts";
import { useSelection } from "../../selection.ts";

/** Edits made in the pose tray, by the operations of the catalogue. Each raises what its operation raises. */

export interface GapChange {
  readonly from: number;
  readonly to: number;
  readonly frames: number;
}

async function run(id: string, shot: Shot, settings: unknown): Promise<{ shot: Shot; report: Report }> {
  return runOperation(operationById(id) as Operation<unknown>, shot, poseScope(), settings, noContext);
}

/** Several gaps changed, the last first, so that none moves the place of another. */
export async function withGaps(shot: Shot, changes: readonly GapChange[], ripple: boolean): Promise<{ shot: Shot; report: Report | null }> {
  let now = shot;
  let report: Report | null = null;
  for (const { from, to, frames } of [...changes].sort((a, b) => b.from - a.from)) {
    if (frames === to - from) continue;
    const outcome = await run("set-gap", now, { from, to, gap: frames, ripple });
    now = outcome.shot;
    report = outcome.report;
  }
  return { shot: now, report };
}

/** Take a shot over as one step; picked poses and gaps stay those they were, by their order. */
function keep(before: Shot, after: Shot, name: string, made?: { operation: string; settings: unknown }): string[] {
  useDocuments.getState().setPreview(null);
  if (after === before) return [];
  const { poseShare } = usePreferences.getState();
  const scope = poseScope();
  const [from, to] = [keyPoses(before, poseShare, scope), keyPoses(after, poseShare, scope)];
  const moved = (frames: readonly number[]) =>
    from.length === to.length ? frames.map((frame) => to[from.findIndex((pose) => pose.frame === frame)]?.frame ?? frame) : [];
  const { poses, gaps, pickPoses, pickGaps } = useSelection.getState();
  changeOrTell(name, after, made && { ...made, scope });
  pickPoses(moved(poses));
  pickGaps(moved(gaps));
  return after.range.end > before.range.end ? [`The shot now ends at frame ${after.range.end}.`] : [];
}

/** Set gaps; answers what else is worth saying. */
export async function commitGaps(changes: readonly GapChange[], ripple: boolean): Promise<string[]> {
  const before = currentDocument();
  if (!before) return [];
  const { shot, report } = await withGaps(before, changes, ripple);
  if (changes.length === 1) {
    const [{ from, to, frames }] = changes;
    const said = keep(before, shot, report?.summary ?? "", { operation: "set-gap", settings: { from, to, gap: frames, ripple } });
    return [...(report?.warnings ?? []), ...said];
  }
  const list = (frames: readonly number[]) => frames.join(" ");
  return keep(before, shot, `Gaps ${list(changes.map(({ from, to }) => to - from))} → ${list(changes.map(({ frames }) => frames))}`);
}

/** Run one operation and keep its result. */
async function commit(id: string, settings: Record<string, unknown>): Promise<string[]> {
  const before = currentDocument();
  if (!before) return [];
  const { shot, report } = await run(id, before, settings);
  return [...report.warnings, ...keep(before, shot, report.summary, { operation: id, settings })];
}

const poseMove = (at: number, to: number, ripple: boolean) => ({ at, to, ripple, share: usePreferences.getState().poseShare * 100 });

export const movedPose = (shot: Shot, at: number, to: number, ripple: boolean) => run("move-pose", shot, poseMove(at, to, ripple));
export const commitPose = (at: number, to: number, ripple: boolean) => commit("move-pose", poseMove(at, to, ripple));
export const swapPoses = (one: number, other: number) => commit("swap-poses", { one, other });
export const makeHold = (at: number, frames: number) => commit("insert-hold", { at, frames });

export async function removePoses(frames: readonly number[]): Promise<string[]> {
  const said = await commit("remove-poses", { frames });
  useSelection.getState().pickPoses([]);
  return said;
}

/** The second of the two equal poses goes, and with it the time between them. */
export async function removeHold(from: number, to: number): Promise<string[]> {
  const before = currentDocument();
  if (!before) return [];
  const { shot } = await run("insert-frames", before, { at: from, frames: from - to });
  return keep(before, shot, `Removed the hold of ${to - from} after frame ${from}`);
}

/** Give a pose a name and a colour; without both its mark goes. */
export function markPose(frame: number, name: string, colour: Shot["poseMarks"][number]["colour"]): void {
  const shot = currentDocument();
  if (!shot) return;
  const others = shot.poseMarks.filter((mark) => mark.frame !== frame);
  const mark = { frame, name: name.trim(), colour };
  const poseMarks = mark.name || colour ? [...others, mark] : others;
  changeOrTell(mark.name ? `Call the pose of frame ${frame} "${mark.name}"` : `Colour of the pose of frame ${frame}`, {
    ...shot,
    poseMarks,
  });
}
