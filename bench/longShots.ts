import {
  checkSettings,
  type Curve,
  KneaderError,
  liftKeys,
  linearCurve,
  linearFrame,
  noContext,
  operationById,
  runOperation,
  type Scope,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { movingShot } from "../packages/core/test/help/shots.ts";
import { atMost, medianRun, type Row } from "./measure.ts";

const FRAMES = 100_000;

/** Two controls with a noisy linear key on each of 100 000 frames, on twelve channels. */
function longShot(): Shot {
  const frame = linearFrame(Float64Array.from({ length: FRAMES }, (_, i) => i + 1));
  let seed = 1;
  const noise = () => {
    seed = (seed * 48271) % 2147483647;
    return seed / 2147483647;
  };
  const base: Record<string, Curve> = {};
  for (const control of ["root", "spine"])
    for (const channel of ["moveX", "moveY", "moveZ", "rotateX", "rotateY", "rotateZ"])
      base[`${control}.${channel}`] = linearCurve(
        frame,
        Float64Array.from({ length: FRAMES }, (_, i) => 20 * Math.sin(i / 40) + noise()),
      );
  return { ...movingShot(), base, range: { start: 1, end: FRAMES } };
}

/** What an animator does to a long shot; each must be done before two seconds are over. */
export async function benchLongShots(): Promise<Row[]> {
  const shot = longShot();
  const copied = liftKeys(shot, { ...WHOLE_FIGURE, range: { start: 100, end: 50_000 } });
  const works: readonly [string, object][] = [
    ["reduce", {}],
    ["insert-hold", { at: 5000, frames: 20 }],
    ["insert-frames", { at: 5000, frames: 20 }],
    ["swap-poses", { one: 10, other: 90_000 }],
    ["set-timing", { list: "2 2 2 hold 5 3" }],
    ["paste-keys", { keys: copied, at: 60_000 }],
    ["move-pose", { at: 500, to: 501, ripple: true }],
    ["remove-poses", { frames: Array.from({ length: 1000 }, (_, i) => i * 50 + 10) }],
    ["reverse", {}],
    ["favour", {}],
    ["save-action", {}],
  ];
  const rows: Row[] = [];
  for (const [id, given] of works) {
    const operation = operationById(id);
    const settings = checkSettings(operation, given);
    const scope: Scope = WHOLE_FIGURE;
    const once = () =>
      runOperation(operation, shot, scope, settings, noContext).catch((error: unknown) => {
        if (!(error instanceof KneaderError)) throw error;
        throw new Error(`${id} was refused: ${error.message}`);
      });
    rows.push(atMost(`${operation.title}, 100 000 frames × 12 channels`, await medianRun(once, 3), 2000));
  }
  return rows;
}
