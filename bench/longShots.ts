import {
  catalogue,
  checkSettings,
  type Curve,
  KneaderError,
  linearCurve,
  linearFrame,
  type Operation,
  runOperation,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { movingShot } from "../packages/core/test/help/shots.ts";
import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { settingsFor } from "../reference/corpus/settings.ts";
import { captureBytes } from "./capture.ts";
import { benchFitter } from "./helpers.ts";
import { atMost, medianOf, type Row } from "./measure.ts";

const FRAMES = 100_000;
const fitter = benchFitter();
/** Each operation must be done before so many milliseconds are over. */
const LIMIT = 2000;
/** After so many it is stopped. */
const GIVEN_UP = 20_000;
/** What takes longer has a line of its own: the median of so many runs after the first, which teaches the engine. */
const TOLD = 700;
const RUNS = 3;

/** Moves of centimetres, as those of the figure's hips in metres; angles as they are. */
const SCALE = { move: 0.05, rotate: 1 };

/** The capture played there and back to 100 000 frames, a linear key on each, on twelve channels of two controls. */
function longShot(): Shot {
  const captured = Object.values(readBvh({ bytes: captureBytes, name: "capture" }).shot.base).filter(({ times }) => times.length > 1);
  const frame = linearFrame(Float64Array.from({ length: FRAMES }, (_, i) => i + 1));
  const base: Record<string, Curve> = {};
  let next = 0;
  for (const control of ["root", "spine"])
    for (const kind of ["move", "rotate"] as const)
      for (const axis of ["X", "Y", "Z"]) {
        const { values } = kind === "move" ? captured[next % 3] : captured[3 + next];
        next++;
        const last = values.length - 1;
        const there = (i: number) => {
          const at = i % (2 * last);
          return at > last ? 2 * last - at : at;
        };
        base[`${control}.${kind}${axis}`] = linearCurve(
          frame,
          Float64Array.from({ length: FRAMES }, (_, i) => SCALE[kind] * values[there(i)]),
        );
      }
  return { ...movingShot(), base, range: { start: 1, end: FRAMES } };
}

/** Milliseconds of an operation with its defaults (of one that is shown as it goes, until its first step can be seen), the first time and in general, and the longest it went on without a breath; null where it does not suit the shot. */
async function timed(operation: Operation, shot: Shot): Promise<{ first: number; ms: number; gap: number } | null> {
  let gap = 0;
  const once = async () => {
    const settings = checkSettings(operation, await settingsFor(operation, shot, null));
    const start = performance.now();
    let last = start;
    let isShown = false;
    const breathe = () => {
      const now = performance.now();
      gap = Math.max(gap, now - last);
      last = now;
      if (isShown || now - start > GIVEN_UP) throw new KneaderError("cancelled", "given up");
    };
    // What gets better and better is seen from its first step on.
    const show = (sofar: () => unknown) => {
      sofar();
      isShown = true;
    };
    await runOperation(operation, shot, WHOLE_FIGURE, settings, { breathe, show, fitter }).catch((error: unknown) => {
      if (!(error instanceof KneaderError)) throw error;
      if (error.code !== "cancelled") throw new Refused();
    });
    gap = Math.max(gap, performance.now() - last);
    return performance.now() - start;
  };
  try {
    const first = await once();
    return { first, ms: first < GIVEN_UP ? await medianOf(first > TOLD ? RUNS : 1, once) : first, gap };
  } catch (error) {
    if (error instanceof Refused || error instanceof KneaderError) return null;
    throw error;
  }
}

class Refused extends Error {}

/** What an animator does to a long shot: every operation with its defaults. */
export async function benchLongShots(): Promise<Row[]> {
  const shot = longShot();
  const rows: Row[] = [];
  const others: Row[] = [];
  const work = "100 000 frames × 12 channels of capture";
  for (const operation of catalogue) {
    const found = await timed(operation, shot);
    if (!found) continue;
    const note = `the first time ${Math.round(found.first)} ms; longest without a breath ${Math.round(found.gap)} ms${found.ms > GIVEN_UP ? "; stopped" : ""}`;
    const row = atMost(`${operation.title}, ${work}`, found.ms, LIMIT, note);
    (found.first > TOLD ? rows : others).push(row);
  }
  const slowest = others.reduce((a, b) => (a.ms > b.ms ? a : b));
  return [...rows, { ...slowest, work: `The other ${others.length} operations there, the slowest: ${slowest.work.split(",")[0]}` }];
}
