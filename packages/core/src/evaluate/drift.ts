import { atOnce, inPieces } from "../inPieces.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { placeAt, worldAt } from "../figure/rigLayout.ts";
import { changedFrames } from "./changedFrames.ts";
import { makePlayer, type Player } from "./makePlayer.ts";
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

/** Compare two shots of one rig at every whole frame of a range, world places and turns alike. */
export function measureDrift(before: Shot, after: Shot, range: FrameRange, options: DriftOptions = {}): Drift {
  return atOnce(driftSteps([before, after], [[0, 1]], range, options))[0];
}

type Breathe = (share: number) => Promise<void> | void;

/** The same in pieces: `breathe` is awaited now and then with the share done, and may throw to stop. */
export async function measureDriftInPieces(
  before: Shot,
  after: Shot,
  range: FrameRange,
  breathe: Breathe,
  options: DriftOptions = {},
): Promise<Drift> {
  const [drift] = await inPieces(driftSteps([before, after], [[0, 1]], range, options), breathe);
  return drift;
}

/**
 * How far each shot of a row is from the one before it (null: it is the very same), and the last from the first: each is
 * played once. In pieces, as above.
 */
export async function measureRowInPieces(
  shots: readonly Shot[],
  range: FrameRange,
  breathe: Breathe,
): Promise<{ readonly each: readonly (Drift | null)[]; readonly whole: Drift }> {
  const played = [...new Set(shots)];
  const number = (n: number) => played.indexOf(shots[n]);
  const last = shots.length - 1;
  const steps = Array.from({ length: last }, (_, n) => [number(n), number(n + 1)] as const);
  const pairs = steps.filter(([before, after]) => before !== after);
  const drifts = await inPieces(driftSteps(played, pairs.length === 1 ? pairs : [...pairs, [0, number(last)]], range, {}), breathe);
  const each = steps.map((step) => (pairs.includes(step) ? drifts[pairs.indexOf(step)] : null));
  return { each, whole: drifts[drifts.length - 1] };
}

/** Two of some shots, by their numbers. */
type Pair = readonly [before: number, after: number];

/** The drift of each pair. Yields the share done every few frames. */
function* driftSteps(
  shots: readonly Shot[],
  pairs: readonly Pair[],
  range: FrameRange,
  { controls, step = 1 }: DriftOptions,
): Generator<number, Drift[]> {
  const players = shots.map((shot) => makePlayer(shot));
  const start = Math.ceil(range.start);
  const count = Math.max(1, Math.floor(range.end) - start + 1);
  const compared = pairs.map(([a, b]) => new Comparison(players[a], players[b], start, count, controls));
  // Where a shot is as the one before it, that one stands for it: most of a long shot is as it was.
  const changed = shots.map((shot, n) => (n > 0 ? changedFrames(shots[n - 1], shot, start, count) : null));
  const standing = [...players];
  const looks = Math.max(1, Math.round(1 / step));
  for (let look = 0; look <= (count - 1) * looks; look++) {
    const frame = start + look / looks;
    const f = Math.floor(frame) - start;
    for (let n = 0; n < players.length; n++) {
      const own = changed[n];
      standing[n] = own !== null && own[f] === 0 ? standing[n - 1] : players[n];
      if (standing[n] === players[n]) players[n].pose(frame);
    }
    for (let p = 0; p < compared.length; p++) compared[p].look(frame, standing[pairs[p][0]], standing[pairs[p][1]]);
    if (look % 64 === 63) yield Math.floor(look / looks) / count;
  }
  return compared.map(({ drift }) => drift);
}

function distanceOf(worlds: Float64Array, i: number, others: Float64Array, j: number): number {
  const a = placeAt(i);
  const b = placeAt(j);
  return Math.hypot(worlds[a] - others[b], worlds[a + 1] - others[b + 1], worlds[a + 2] - others[b + 2]);
}

/** Two players that are posed at one frame after the other, and how far they were apart so far. */
class Comparison {
  private readonly start: number;
  /** Controls in both: their ids, and their numbers here and there. */
  private readonly ids: readonly string[];
  private readonly here: Int32Array;
  private readonly there: Int32Array;
  /** Something leads it: it is judged by how it stands in the world, not by its own keys. */
  private readonly isLed: Uint8Array;
  private readonly turnPerFrame: Float64Array;
  private readonly placePerFrame: Float64Array;
  private turn: DriftPlace;
  private place: DriftPlace;

  constructor(a: Player, b: Player, start: number, count: number, wanted: readonly string[] | undefined) {
    const only = wanted && new Set(wanted);
    const led = new Set([...ledControls(a.shot), ...ledControls(b.shot)]);
    const controls = a.shot.rig.controls.map(({ id }) => id);
    this.start = start;
    this.ids = controls.filter((id) => b.controlIndex.has(id) && (!only || only.has(id)));
    this.here = Int32Array.from(this.ids, (id) => a.controlIndex.get(id) ?? 0);
    this.there = Int32Array.from(this.ids, (id) => b.controlIndex.get(id) ?? 0);
    this.isLed = Uint8Array.from(this.ids, (id) => (led.has(id) ? 1 : 0));
    this.turnPerFrame = new Float64Array(count);
    this.placePerFrame = new Float64Array(count);
    this.turn = { amount: 0, frame: start, control: this.ids[0] ?? "" };
    this.place = this.turn;
  }

  /** Both, or others that stand as they do, are posed at a frame, a whole one or one between. Angles and distances are worked out of the widest alone. */
  look(frame: number, first: Player, second: Player): void {
    if (first === second) return;
    const { ids, here, there, isLed, turnPerFrame, placePerFrame } = this;
    const { turns: p, worlds } = first;
    const { turns: q, worlds: others } = second;
    const n = Math.floor(frame) - this.start;
    let angle = 0;
    let turned = 0;
    /** The widest turn, and the square of the sine of half of it; the same for the farthest place. */
    let widest = -1;
    let sine = 0;
    let moved = -1;
    let apart = 0;
    for (let k = 0; k < ids.length; k++) {
      const i = here[k];
      const j = there[k];
      if (isLed[k] === 1) {
        const own = worldAngle(worlds, i, others, j, angle);
        if (own > angle) {
          angle = own;
          turned = k;
        }
      } else {
        const a = i * 4;
        const b = j * 4;
        const dx = p[a] * q[b + 3] - p[a + 3] * q[b] - p[a + 1] * q[b + 2] + p[a + 2] * q[b + 1];
        const dy = p[a + 1] * q[b + 3] - p[a + 3] * q[b + 1] - p[a + 2] * q[b] + p[a] * q[b + 2];
        const dz = p[a + 2] * q[b + 3] - p[a + 3] * q[b + 2] - p[a] * q[b + 1] + p[a + 1] * q[b];
        const square = dx * dx + dy * dy + dz * dz;
        if (square > sine) {
          sine = square;
          widest = k;
        }
      }
      const a = placeAt(i);
      const b = placeAt(j);
      const x = worlds[a] - others[b];
      const y = worlds[a + 1] - others[b + 1];
      const z = worlds[a + 2] - others[b + 2];
      const square = x * x + y * y + z * z;
      if (square > apart) {
        apart = square;
        moved = k;
      }
    }
    const own = widest < 0 ? 0 : quatAngle(p, here[widest] * 4, q, there[widest] * 4);
    if (own > angle) {
      angle = own;
      turned = widest;
    }
    const distance = moved < 0 ? 0 : distanceOf(worlds, here[moved], others, there[moved]);
    if (angle > turnPerFrame[n]) turnPerFrame[n] = angle;
    if (distance > placePerFrame[n]) placePerFrame[n] = distance;
    if (angle > this.turn.amount) this.turn = { amount: angle, frame, control: ids[turned] };
    if (distance > this.place.amount) this.place = { amount: distance, frame, control: ids[moved] };
  }

  get drift(): Drift {
    const { turn, place, turnPerFrame, placePerFrame, start } = this;
    return { turn, place, turnPerFrame, placePerFrame, start };
  }
}
