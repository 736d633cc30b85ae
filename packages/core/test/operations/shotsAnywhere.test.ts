import { demoShots } from "../../../demo/src/index.ts";
import { KneaderError } from "../../src/errors.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { missingFor } from "../../src/operations/needs.ts";
import { noContext, type Scope, type Situation, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { differences, shifted } from "../help/shifted.ts";

/*
 * Films begin at 1001 as often as at 1 (common practice). Whatever an operation proposes where one stands, it proposes at the
 * same place of a shot that begins elsewhere, and makes the same of it.
 */

/** These take what is chosen from the pantry, or are tried with all they need elsewhere. */
const APART = new Set(["record", "apply-action", "open-action", "close-action", "run-recipe"]);

async function result(shot: Shot, id: string, scope: Scope, frame: number): Promise<Shot | string> {
  const operation = operationById(id);
  const at: Situation = { shot, scope, frame, copiedPose: frame, copiedKeys: liftKeys(shot, WHOLE_FIGURE), poseShare: 0.5 };
  if (missingFor(operation, at).length > 0) return "missing";
  try {
    const settings = checkSettings(operation, { ...operation.situation?.(at), ...(id === "tune" ? { steps: 1 } : {}) });
    return (await runOperation(operation, shot, scope, settings, noContext)).shot;
  } catch (error) {
    if (error instanceof KneaderError) return error.code;
    throw error;
  }
}

test.each(demoShots)(
  "$name, begun at 1001 and at -30: every operation proposes and makes the same",
  async ({ make, name }) => {
    const shot = await make();
    const wrong: string[] = [];
    for (const { id } of catalogue) {
      if (APART.has(id)) continue;
      // What takes long is tried on one shot.
      if ((id === "tune" || id === "clean-capture") && name !== "Half a walk") continue;
      const frame = shot.range.start + 7;
      const picked = shot.rig.controls.find((one) => one.id === "hand-left")?.id ?? "";
      for (const scope of [WHOLE_FIGURE, { ...WHOLE_FIGURE, controls: [picked] }]) {
        const here = await result(shot, id, scope, frame);
        for (const by of [1000, -31]) {
          const there = await result(shifted(shot, by), id, scope, frame + by);
          if (typeof here === "string" || typeof there === "string") {
            if (here !== there)
              wrong.push(`${id} ${by}: ${typeof here === "string" ? here : "done"}, ${typeof there === "string" ? there : "done"}`);
            continue;
          }
          const other = differences(shifted(here, by), there);
          if (other.length > 0) wrong.push(`${id} ${by}: ${other[0]} (${other.length})`);
          if (here.range.end + by !== there.range.end) wrong.push(`${id}: ends at ${here.range.end}, at ${there.range.end}`);
        }
      }
    }
    expect(wrong).toEqual([]);
  },
  120_000,
);
