import { demoShots } from "../../../demo/src/index.ts";
import { KneaderError } from "../../src/errors.ts";
import { keyAt } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { missingFor } from "../../src/operations/needs.ts";
import { noContext, type Outcome, type Situation, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { asBefore } from "../../src/operations/shared/asBefore.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";

/** "0 of n" says why, and what would help. */

/** These take what is chosen from the pantry, or take long and are tried elsewhere. */
const APART = new Set(["record", "apply-action", "open-action", "close-action", "run-recipe", "tune", "clean-capture"]);

async function done(shot: Shot, id: string): Promise<Outcome | null> {
  const operation = operationById(id);
  const frame = shot.range.start + 7;
  const at: Situation = { shot, scope: WHOLE_FIGURE, frame, copiedPose: frame, copiedKeys: liftKeys(shot, WHOLE_FIGURE), poseShare: 0.5 };
  if (missingFor(operation, at).length > 0) return null;
  try {
    return await runOperation(operation, shot, WHOLE_FIGURE, checkSettings(operation, { ...operation.situation?.(at) }), noContext);
  } catch (error) {
    if (error instanceof KneaderError) return null;
    throw error;
  }
}

test.each(demoShots.slice(0, 3))("$name: what changes nothing, at once or when done again, says why", async ({ make, name }) => {
  const shot = await make();
  const nothing: string[] = [];
  for (const { id } of catalogue) {
    if (APART.has(id)) continue;
    const first = await done(shot, id);
    for (const [before, outcome] of [
      [shot, first],
      [first?.shot, first && (await done(first.shot, id))],
    ] as const) {
      if (!outcome || outcome.shot !== before || outcome.action) continue;
      nothing.push(id);
      expect([id, [...outcome.report.warnings, ...outcome.report.notes].join(" ")]).toEqual([id, expect.stringMatching(/\w{3}.*\.$/)]);
      expect(outcome.report.curvesChanged).toBe(0);
      // It is no cause for worry: in a recipe over many shots a step that found nothing to do is no warning.
      expect(outcome.report.warnings.join(" ")).not.toContain("already as these settings");
    }
  }
  // Keys are on frames, nothing is to be untwisted a second time, and even gaps are even.
  expect(nothing).toEqual(expect.arrayContaining(["untwist", "snap-frames"]));
  if (name === "Hop aboard") expect(nothing).toContain("even-gaps");
});

test("a result made anew with the same keys is the shot it was made of; another key in one curve is seen", async () => {
  const shot = await demoShots[0].make();
  const anew = Object.fromEntries(Object.entries(shot.base).map(([key, curve]) => [key, { ...curve, values: curve.values.slice() }]));
  expect(asBefore(shot, { ...shot, base: anew }) === shot).toBe(true);
  const [first] = Object.keys(shot.base);
  const moved = curveFrom([[keyAt(shot.base[first], 0).time, 12.5]]);
  const kept = asBefore(shot, { ...shot, base: { ...anew, [first]: moved } });
  expect(kept.passes === shot.passes).toBe(true);
  expect(Object.keys(kept.base).filter((key) => kept.base[key] !== shot.base[key])).toEqual([first]);
  // The same curves in another range are another shot.
  expect(asBefore(shot, { ...shot, range: { ...shot.range, end: shot.range.end + 1 } }) === shot).toBe(false);
});
