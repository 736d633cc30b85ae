import { linearCurve, linearFrame } from "../../src/curve/make.ts";
import type { Curve } from "../../src/curve/curve.ts";
import { KneaderError } from "../../src/errors.ts";
import type { Shot } from "../../src/model/shot.ts";
import { checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { settingsFor } from "../../../../reference/corpus/settings.ts";
import { Chance } from "../help/chance.ts";
import { movingShot } from "../help/shots.ts";

const FRAMES = 1500;

/** Captured motion of two controls. */
function longShot(): Shot {
  const by = new Chance(4);
  const frame = linearFrame(Float64Array.from({ length: FRAMES }, (_, i) => i + 1));
  const base: Record<string, Curve> = {};
  for (const control of ["root", "spine"])
    for (const channel of ["moveX", "moveY", "moveZ", "rotateX", "rotateY", "rotateZ"])
      base[`${control}.${channel}`] = linearCurve(
        frame,
        Float64Array.from({ length: FRAMES }, (_, i) => 20 * Math.sin(i / 40) + by.next()),
      );
  return { ...movingShot(), base, range: { start: 1, end: FRAMES } };
}

/** What it takes to be stopped soon: so many looks at whether it is still wanted, on so many frames. */
test.each([
  ["simplify", {}, 20],
  ["mirror-range", {}, 10],
  ["other-half", {}, 10],
  ["set-tangents", {}, 12],
  ["reverse", {}, 12],
  ["tune", { steps: 2 }, 6],
  ["clean-capture", {}, 20],
  ["apply-action", {}, 24],
])("%s breathes while it works, and stops at once when it is wanted no more", async (id, told, least) => {
  const shot = longShot();
  const operation = operationById(id);
  const settings = checkSettings(operation, { ...((await settingsFor(operation, shot, null)) as object), ...told });
  let breaths = 0;
  await runOperation(operation, shot, WHOLE_FIGURE, settings, { breathe: () => void breaths++ });
  expect(breaths).toBeGreaterThanOrEqual(least);
  let heard = 0;
  const stopped = runOperation(operation, shot, WHOLE_FIGURE, settings, {
    breathe() {
      if (++heard > least / 2) throw new KneaderError("cancelled", "Cancelled.");
    },
  });
  await expect(stopped).rejects.toThrow("Cancelled.");
  expect(heard).toBe(Math.floor(least / 2) + 1);
});
