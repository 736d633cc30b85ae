import { assets, shotDoor, shotRecords } from "./kept.ts";
import { forgetHistory } from "./keptHistory.ts";
import type { AsideRecord, ShotRecord } from "./shotRecords.ts";
import { historyStores } from "./stores.ts";

/** How long a deleted shot can at least be brought back, in this tab or another one. */
const GRACE = 5 * 60 * 1000;
const opened = Date.now();

/**
 * All shots kept here, newest first. A record that cannot be read is moved aside, so that the shelf always opens,
 * unless another tab has it; a record of a newer version stays where it is and is only reported.
 */
export async function listShots(): Promise<{ shots: ShotRecord[]; aside: AsideRecord[] }> {
  const { shots, broken, aside } = await shotRecords.list();
  const shown = [...aside];
  for (const { id, raw, problem, newer } of broken) {
    if (!newer && (await shotDoor.whenFree(id, () => shotRecords.setAside(id, problem)))) continue;
    const name = (raw as { name?: string } | null)?.name ?? id;
    shown.push({ id, name, problem, raw: await shotRecords.withCurves(raw), stays: newer ? "newer" : "in-use" });
  }
  const known = new Set(shown.map(({ id }) => id));
  const moved = (await shotRecords.list()).aside.filter(({ id }) => !known.has(id));
  return { shots, aside: [...shown, ...moved] };
}

/** Remove for good what was deleted in an earlier visit. */
export async function purgeDeleted(): Promise<void> {
  for (const id of await shotRecords.deletedBefore(Math.min(opened, Date.now() - GRACE))) await shotDoor.whenFree(id, () => purge(id));
}

async function purge(id: string): Promise<void> {
  await shotRecords.purge(id);
  await forgetHistory(historyStores, id);
}

let swept = false;

/** Once a visit: remove the curves and the characters' files that no record names, as a crash or a failed save may leave some behind. */
export async function sweepOnce(): Promise<void> {
  if (swept) return;
  swept = true;
  for (const [id, keys] of await shotRecords.idsOfCurves()) await shotDoor.whenFree(id, () => shotRecords.sweep(id, keys));
  await assets.sweep(await shotRecords.namedAssets());
}
