import { type Control, madeBy, operations, type Rig, runByHand, sayError, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { useDocuments } from "../bench/documents.ts";
import { makeDemoShot } from "../shots/demo.ts";
import { openShot, withShot } from "../bench/withShot.ts";
import { howSaved, saveNow, useSaveState } from "../storage/autosave.ts";
import { listShots } from "../storage/shelf.ts";

/** Two rigs are one when they have the same name in the files and the same controls. */
function isSameRig(rig: Rig, other: unknown): boolean {
  const { id, controls } = (other ?? {}) as Partial<Rig>;
  return (
    id === rig.id &&
    Array.isArray(controls) &&
    controls.map((control) => control?.id).join() === rig.controls.map((control) => control.id).join()
  );
}

/** The other shots in this browser that have this rig. */
export async function shotsWithRig(shot: Shot): Promise<{ id: string; name: string }[]> {
  await saveNow();
  const { shots } = await listShots();
  const kept = shots.filter((record) => record.id !== shot.id && isSameRig(shot.rig, (record.shot as { rig?: unknown }).rig));
  const untouched = demoShots.filter(({ id }) => id !== shot.id && !shots.some((record) => record.id === id));
  const made = await Promise.all(untouched.map(async ({ id }) => makeDemoShot(id)));
  return [
    ...kept.map(({ id, name }) => ({ id, name })),
    ...made.flatMap((one) => (one && isSameRig(shot.rig, one.rig) ? [{ id: one.id, name: one.name }] : [])),
  ];
}

/** All that is said of ranges; what is not is taken back. */
const rangesSaid = (controls: readonly Control[]) =>
  Object.fromEntries(
    controls.map(({ id, channels, ranges }) => [
      id,
      Object.fromEntries(channels.filter((channel) => channel.startsWith("rotate")).map((channel) => [channel, ranges?.[channel] ?? null])),
    ]),
  );

/** What makes another shot's rig be mirrored, and its joints turn, as this one's. */
const saidOf = ({ controls, sides }: Rig) => ({
  pair: Object.fromEntries(controls.map(({ id, partner, mirror }) => [id, { partner, mirror: mirror ?? null }])),
  ranges: rangesSaid(controls),
  sides: sides ?? null,
});

/** It is a step of the other shot's own history, to be undone there. */
function mirrorOneAlike(id: string, said: ReturnType<typeof saidOf>): Promise<void> {
  const { changeRig } = operations;
  return withShot(id, async () => {
    const { shot, report } = runByHand(changeRig, openShot(id), WHOLE_FIGURE, said);
    const answer = useDocuments.getState().change(report.summary, shot, madeBy(changeRig, WHOLE_FIGURE, said), id);
    if (!answer.done) throw new Error(answer.reason);
    await saveNow();
    const { problem } = useSaveState.getState();
    if (!howSaved(openShot(id)).saved) throw new Error(problem);
  });
}

/** Let other shots be mirrored as this rig is. Answers the names of those that could not be changed, with the reason. */
export async function mirrorAlike(rig: Rig, others: readonly { id: string; name: string }[]): Promise<string[]> {
  const refused: string[] = [];
  for (const { id, name } of others)
    await mirrorOneAlike(id, saidOf(rig)).catch((error: unknown) => refused.push(`${name} (${sayError(error)})`));
  return refused;
}
