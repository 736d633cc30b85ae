import { atOnce, inPieces } from "../inPieces.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { placeAt, worldAt } from "../figure/rigLayout.ts";
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

/** How far each shot of a row is from the one before it, and the last from the first: each is played once. In pieces, as above. */
export async function measureRowInPieces(
  shots: readonly Shot[],
  range: FrameRange,
  breathe: Breathe,
): Promise<{ readonly each: readonly Drift[]; readonly whole: Drift }> {
  const last = shots.length - 1;
  const pairs = Array.from({ length: last }, (_, n) => [n, n + 1] as const);
  const each = await inPieces(driftSteps(shots, last > 1 ? [...pairs, [0, last]] : pairs, range, {}), breathe);
  return { each: each.slice(0, last), whole: each[each.length - 1] };
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
  const looks = Math.max(1, Math.round(1 / step));
  for (let look = 0; look <= (count - 1) * looks; look++) {
    const frame = start + look / looks;
    for (const player of players) player.pose(frame);
    for (const pair of compared) pair.look(frame, look % looks === 0);
    if (look % 64 === 63) yield Math.floor(look / looks) / count;
  }
  return compared.map(({ drift }) => drift);
}

/** A control in both of two players. */
interface Compared {
  readonly id: string;
  readonly i: number;
  readonly j: number;
  /** Something leads it: it is judged by how it stands in the world, not by its own keys. */
  readonly isLed: boolean;
}

/** Two players that are posed at one frame after the other, and how far they were apart so far. */
class Comparison {
  private readonly a: Player;
  private readonly b: Player;
  private readonly controls: readonly Compared[];
  private readonly start: number;
  private readonly turnPerFrame: Float64Array;
  private readonly placePerFrame: Float64Array;
  private turn: DriftPlace;
  private place: DriftPlace;
  /** Cosine of half the worst turn of the frame; above 1 while there is none. */
  private widest = 2;

  constructor(a: Player, b: Player, start: number, count: number, wanted: readonly string[] | undefined) {
    const only = wanted && new Set(wanted);
    const led = new Set([...ledControls(a.shot), ...ledControls(b.shot)]);
    this.a = a;
    this.b = b;
    this.start = start;
    this.controls = a.shot.rig.controls.flatMap(({ id }, i) => {
      const j = b.controlIndex.get(id);
      return j === undefined || (only && !only.has(id)) ? [] : [{ id, i, j, isLed: led.has(id) }];
    });
    this.turnPerFrame = new Float64Array(count);
    this.placePerFrame = new Float64Array(count);
    this.turn = { amount: 0, frame: start, control: this.controls[0]?.id ?? "" };
    this.place = this.turn;
  }

  /** Both are posed at a frame, a whole one or one between. */
  look(frame: number, isWhole: boolean): void {
    const { a, b, controls, turnPerFrame, placePerFrame } = this;
    const n = Math.floor(frame) - this.start;
    if (isWhole) this.widest = 2;
    for (const { id, i, j, isLed } of controls) {
      let angle = 0;
      if (isLed) angle = worldAngle(a.worlds, i, b.worlds, j, turnPerFrame[n]);
      else {
        const cosine = cosineOf(a.turns, i * 4, b.turns, j * 4);
        if (cosine < this.widest + ROUND_OFF) {
          angle = quatAngle(a.turns, i * 4, b.turns, j * 4);
          this.widest = Math.min(this.widest, cosine);
        }
      }
      const distance = distanceOf(a.worlds, placeAt(i), b.worlds, placeAt(j), placePerFrame[n]);
      if (angle > turnPerFrame[n]) turnPerFrame[n] = angle;
      if (distance > placePerFrame[n]) placePerFrame[n] = distance;
      if (angle > this.turn.amount) this.turn = { amount: angle, frame, control: id };
      if (distance > this.place.amount) this.place = { amount: distance, frame, control: id };
    }
  }

  get drift(): Drift {
    const { turn, place, turnPerFrame, placePerFrame, start } = this;
    return { turn, place, turnPerFrame, placePerFrame, start };
  }
}
