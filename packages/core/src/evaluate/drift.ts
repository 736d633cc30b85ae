import { atOnce, inPieces } from "../inPieces.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { placeAt, worldAt } from "../figure/rigLayout.ts";
import { makePlayer } from "./makePlayer.ts";
import { turnFromAffine } from "../maths/decompose.ts";
import { quatAngle } from "../maths/rotation.ts";
import type { FrameRange, Shot } from "../model/shot.ts";

/** One place where two shots differ most. */
export interface DriftPlace {
  /** Degrees for turns, scene units for moves. */
  readonly amount: number;
  readonly frame: number;
  /** Id of the control. */
  readonly control: string;
}

/** How far two shots are apart over a range of whole frames. */
export interface Drift {
  /** Worst angle between the controls' own rotations (in the world where a follow leads), degrees. */
  readonly turn: DriftPlace;
  /** Worst distance between the controls' world places, scene units. */
  readonly place: DriftPlace;
  /** Worst turn at each frame of the range (or until the next, where looked at between), for a chart. */
  readonly turnPerFrame: Float64Array;
  readonly placePerFrame: Float64Array;
  readonly start: number;
}

export interface DriftOptions {
  /** Only these controls; all when left out. */
  readonly controls?: readonly string[];
  /** Frames from one look to the next; 1 when left out. Charts have the worst of each whole frame. */
  readonly step?: number;
}

const turned = new Float64Array(8);
/** What is nearer than the worst of a frame by more than this is surely nearer. */
const ROUND_OFF = 1e-12;

/** Degrees that the turns of two matrices are surely not further apart: two rotations differ (Frobenius) by at least 0.9 of their angle in radians; the rest is room for scale and shear. */
function mostAngle(a: Float64Array, ao: number, b: Float64Array, bo: number): number {
  let apart = 0;
  let size = Number.POSITIVE_INFINITY;
  for (let c = 0; c < 12; c += 4) {
    const [x, y, z] = [a[ao + c] - b[bo + c], a[ao + c + 1] - b[bo + c + 1], a[ao + c + 2] - b[bo + c + 2]];
    apart += x * x + y * y + z * z;
    size = Math.min(size, a[ao + c] ** 2 + a[ao + c + 1] ** 2 + a[ao + c + 2] ** 2);
  }
  return size > 0 ? 180 * Math.sqrt(apart / size) : Number.POSITIVE_INFINITY;
}

/** The angle between two turns in the world; 0 where it is surely below `least`, which is much quicker told. */
function worldAngle(a: Float64Array, i: number, b: Float64Array, j: number, least: number): number {
  if (mostAngle(a, worldAt(i), b, worldAt(j)) < least) return 0;
  turnFromAffine(turned, 0, a, worldAt(i));
  turnFromAffine(turned, 4, b, worldAt(j));
  return quatAngle(turned, 0, turned, 4);
}

/** Of two unit turns the cosine of half the angle between them: the larger, the nearer they are. */
function cosineOf(a: Float64Array, ao: number, b: Float64Array, bo: number): number {
  return Math.abs(a[ao] * b[bo] + a[ao + 1] * b[bo + 1] + a[ao + 2] * b[bo + 2] + a[ao + 3] * b[bo + 3]);
}

/** The distance of two places; 0 where it is surely below `least`, which is much quicker told. */
function distanceOf(a: Float64Array, ao: number, b: Float64Array, bo: number, least: number): number {
  const x = a[ao] - b[bo];
  const y = a[ao + 1] - b[bo + 1];
  const z = a[ao + 2] - b[bo + 2];
  return x * x + y * y + z * z < least * least * (1 - ROUND_OFF) ? 0 : Math.hypot(x, y, z);
}

/** Compare two shots of one rig at every whole frame of a range, world places and turns alike. */
export function measureDrift(before: Shot, after: Shot, range: FrameRange, options: DriftOptions = {}): Drift {
  return atOnce(driftSteps(before, after, range, options));
}

/** The same in pieces: `breathe` is awaited now and then with the share done, and may throw to stop. */
export async function measureDriftInPieces(
  before: Shot,
  after: Shot,
  range: FrameRange,
  breathe: (share: number) => Promise<void> | void,
  options: DriftOptions = {},
): Promise<Drift> {
  return inPieces(driftSteps(before, after, range, options), breathe);
}

/** Yields the share done every few frames. */
function* driftSteps(before: Shot, after: Shot, range: FrameRange, options: DriftOptions): Generator<number, Drift> {
  const a = makePlayer(before);
  const b = makePlayer(after);
  const wanted = options.controls === undefined ? null : new Set(options.controls);
  const pairs = before.rig.controls.flatMap((control, i) => {
    const j = b.controlIndex.get(control.id);
    return j === undefined || (wanted !== null && !wanted.has(control.id)) ? [] : [{ id: control.id, i, j }];
  });
  // What something leads is judged by how it stands in the world, not by its own keys.
  const led = new Set([...ledControls(before), ...ledControls(after)]);
  const count = Math.max(1, Math.floor(range.end) - Math.ceil(range.start) + 1);
  const start = Math.ceil(range.start);
  const turnPerFrame = new Float64Array(count);
  const placePerFrame = new Float64Array(count);
  let turn: DriftPlace = { amount: 0, frame: start, control: pairs[0]?.id ?? "" };
  let place: DriftPlace = turn;
  const looks = Math.max(1, Math.round(1 / (options.step ?? 1)));
  // Cosine of half the worst turn of the frame; above 1 while there is none.
  let widest = 2;
  for (let look = 0; look <= (count - 1) * looks; look++) {
    const frame = start + look / looks;
    const n = Math.floor(look / looks);
    a.pose(frame);
    b.pose(frame);
    if (look % looks === 0) widest = 2;
    for (const { id, i, j } of pairs) {
      let angle = 0;
      if (led.has(id)) angle = worldAngle(a.worlds, i, b.worlds, j, turnPerFrame[n]);
      else {
        const cosine = cosineOf(a.turns, i * 4, b.turns, j * 4);
        if (cosine < widest + ROUND_OFF) {
          angle = quatAngle(a.turns, i * 4, b.turns, j * 4);
          widest = Math.min(widest, cosine);
        }
      }
      const distance = distanceOf(a.worlds, placeAt(i), b.worlds, placeAt(j), placePerFrame[n]);
      if (angle > turnPerFrame[n]) turnPerFrame[n] = angle;
      if (distance > placePerFrame[n]) placePerFrame[n] = distance;
      if (angle > turn.amount) turn = { amount: angle, frame, control: id };
      if (distance > place.amount) place = { amount: distance, frame, control: id };
    }
    if (look % 64 === 63) yield n / count;
  }
  return { turn, place, turnPerFrame, placePerFrame, start };
}
