import { makePlayer } from "../../evaluate/makePlayer.ts";
import { placeAt } from "../../figure/rigLayout.ts";
import { figureControls } from "../../model/rig.ts";
import { sayLength } from "../../model/sayLength.ts";
import type { Context } from "../operation.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";

/** So many frames beside an end are its neighbours. */
const BESIDE = 8;
/** A step so many times the largest of its neighbours is seen as a pop. */
const POP = 1.5;
/** Shorter steps than this share of the figure are seen by nobody. */
const UNSEEN = 0.004;
/** What was laid may be thousands of frames: after so many it is breathed, at this share of the whole work. */
const BREATH = 64;
const SHARE = 0.8;

/** The largest way a control goes from one frame to the next at the ends of what was laid, and around them. */
interface EndStep {
  readonly control: string;
  /** The frame it arrives at. */
  readonly frame: number;
  readonly amount: number;
  /** The largest of the steps around, of any control: within what was laid, and before and after it. */
  readonly around: number;
  readonly isPop: boolean;
}

/**
 * How what was laid begins and ends: the worst step from frame to frame where it comes in and goes out, against those of the
 * motion on both sides. Null where nothing plays beside it.
 */
export async function endStep(
  before: Shot,
  after: Shot,
  { start, end }: FrameRange,
  easeIn: number,
  easeOut: number,
  context: Pick<Context, "breathe">,
): Promise<EndStep | null> {
  const controls = figureControls(after.rig);
  const [was, is] = [makePlayer(before), makePlayer(after)];
  const at = controls.map(({ id }) => placeAt(is.controlIndex.get(id) as number));
  const old = controls.map(({ id }) => was.controlIndex.get(id)).map((i) => (i === undefined ? -1 : placeAt(i)));
  const [first, last] = [Math.round(start), Math.round(end)];
  const range = after.range;
  const places = (player: typeof is, offsets: readonly number[], frame: number) => {
    player.pose(frame);
    return offsets.map((o) => (o < 0 ? null : player.worlds.slice(o, o + 3)));
  };
  const stepsOf = async (
    player: typeof is,
    offsets: readonly number[],
    begin: number,
    finish: number,
    see: (n: number, amount: number, frame: number) => void,
  ) => {
    let previous: (Float64Array | null)[] | null = null;
    for (let frame = Math.max(begin, range.start); frame <= Math.min(finish, range.end); frame++) {
      if (frame % BREATH === 0) await context.breathe(SHARE);
      const now = places(player, offsets, frame);
      now.forEach((place, n) => {
        const from = previous?.[n];
        if (place && from) see(n, Math.hypot(place[0] - from[0], place[1] - from[1], place[2] - from[2]), frame);
      });
      previous = now;
    }
  };
  let around = 0;
  const usual = (_n: number, amount: number) => {
    around = Math.max(around, amount);
  };
  await stepsOf(was, old, first - BESIDE, last + BESIDE, usual);
  const inside = [first + Math.ceil(easeIn), last - Math.ceil(easeOut)];
  if (inside[1] > inside[0]) await stepsOf(is, at, inside[0], inside[1], usual);
  let worst: Omit<EndStep, "around" | "isPop"> | null = null;
  const see = (n: number, amount: number, frame: number) => {
    if (!worst || amount > worst.amount) worst = { control: controls[n].name, frame, amount };
  };
  if (first > range.start) await stepsOf(is, at, first - 1, Math.min(last, first + Math.ceil(easeIn) + 1), see);
  if (last < range.end) await stepsOf(is, at, Math.max(first, last - Math.ceil(easeOut) - 1), last + 1, see);
  if (!worst) return null;
  const size = sizeOf(places(is, at, first));
  const found: Omit<EndStep, "around" | "isPop"> = worst;
  return { ...found, around, isPop: found.amount > POP * around && found.amount > UNSEEN * size };
}

/** The longest side of the box around some places. */
function sizeOf(places: readonly (Float64Array | null)[]): number {
  const known = places.filter((place) => place !== null);
  return Math.max(0, ...[0, 1, 2].map((k) => Math.max(...known.map((place) => place[k])) - Math.min(...known.map((place) => place[k]))));
}

/** In words, for before it is done. */
export function sayEndStep(shot: Shot, { control, frame, amount, around, isPop }: EndStep): string {
  return isPop
    ? `It pops at frame ${frame}: ${control} goes ${sayLength(shot, amount)} in one frame, around it ${sayLength(shot, around)} at the most. Let it come in and go out over more frames.`
    : `Largest step at its ends: ${sayLength(shot, amount)} at frame ${frame}; around it ${sayLength(shot, around)} at the most.`;
}
