import { feetOf } from "../figure/anatomy/feet.ts";
import { skeletonOf } from "../figure/anatomy/skeleton.ts";
import { layoutOf, placeAt } from "../figure/rigLayout.ts";
import type { Rig } from "../model/rig.ts";
import { framesPerSecond } from "../model/rate.ts";
import type { FrameRange, Shot } from "../model/shot.ts";
import { flownOf } from "../passes/flight/flown.ts";
import { makePlayer } from "./makePlayer.ts";

/** Slower than this share of the figure's height a second an end may stand. */
const SLOW = 0.4;
/** An end is off the ground when it is higher than both where it left and where it lands by this share of the height. */
const OFF = 0.02;
/** The body rises at least by this share of the height above the straight way: a step that rolls over a foot does not. */
const RISE = 0.015;
/** A stand between two flights that is shorter than this (seconds) and higher than both is the still moment at the top. */
const TOP = 0.35;
/** Hops shorter than this (seconds) are none. */
const SHORTEST = 0.1;

/**
 * Spans in which a figure is in the air: after the last frame at which a foot stands, and up to the first at which one
 * does again. A foot stands where it is slow; what is slow high up between two lower stands is the top of a flight. A rig
 * without feet is answered none.
 */
export function findFlights(shot: Shot, range: FrameRange = shot.range): FrameRange[] {
  const feet = feetOf(shot.rig);
  const flown = flownOf(shot.rig, { flies: "mass", control: "", along: [] });
  if (feet.length === 0 || !flown) return [];
  const fps = framesPerSecond(shot.rate);
  const player = makePlayer(shot);
  const [start, end] = [Math.ceil(range.start), Math.floor(range.end)];
  const count = end - start + 1;
  if (count < 3) return [];
  const places = feet.map(() => new Float64Array(3 * count));
  const body = new Float64Array(count);
  const at = feet.map((id) => placeAt(layoutOf(shot.rig).controlIndex.get(id) as number));
  for (let n = 0; n < count; n++) {
    player.pose(start + n);
    at.forEach((from, f) => {
      places[f].set(player.worlds.subarray(from, from + 3), 3 * n);
    });
    body[n] = flown.place(player.worlds)[1];
  }
  const size = heightOf(shot.rig);
  const low = Float64Array.from({ length: count }, (_, n) => Math.min(...places.map((place) => place[3 * n + 1])));
  const spans = withoutTops(standsOf(places, count, (SLOW * size) / fps), low, TOP * fps, OFF * size);
  const found: FrameRange[] = [];
  for (let n = 0; n + 1 < spans.length; n++) {
    const [from, to] = [spans[n].end, spans[n + 1].start];
    if (to - from < Math.max(2, SHORTEST * fps)) continue;
    let [off, rise] = [Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let k = from + 1; k < to; k++) {
      const share = (k - from) / (to - from);
      off = Math.max(off, low[k] - (low[from] + (low[to] - low[from]) * share));
      rise = Math.max(rise, body[k] - (body[from] + (body[to] - body[from]) * share));
    }
    if (off > OFF * size && rise > RISE * size) found.push({ start: start + from, end: start + to });
  }
  return found;
}

/** The spans in which some end moves by less than `slow` from frame to frame. */
function standsOf(places: readonly Float64Array[], count: number, slow: number): FrameRange[] {
  const step = (place: Float64Array, n: number) =>
    Math.hypot(place[3 * n] - place[3 * n - 3], place[3 * n + 1] - place[3 * n - 2], place[3 * n + 2] - place[3 * n - 1]);
  const runs: { start: number; end: number }[] = [];
  for (let n = 1; n < count; n++) {
    if (!places.some((place) => step(place, n) < slow)) continue;
    const last = runs[runs.length - 1];
    if (last && last.end === n - 1) last.end = n;
    else runs.push({ start: n - 1, end: n });
  }
  return runs;
}

/** Stands without those that are short and higher than their neighbours on both sides, the highest taken out first: blocked poses stand still in the air. */
function withoutTops(stands: readonly FrameRange[], low: Float64Array, short: number, off: number): FrameRange[] {
  const left = [...stands];
  for (;;) {
    let [top, most] = [-1, Number.NEGATIVE_INFINITY];
    left.forEach(({ start, end }, n) => {
      if (n === 0 || n === left.length - 1 || end - start + 1 > short) return;
      const height = Math.min(...low.subarray(start, end + 1));
      if (height > most && height > Math.max(low[left[n - 1].end], low[left[n + 1].start]) + off) [top, most] = [n, height];
    });
    if (top < 0) return left;
    left.splice(top, 1);
  }
}

/** How tall a rig's figure is at rest. */
function heightOf(rig: Rig): number {
  const skeleton = skeletonOf(rig);
  const heights = rig.controls.flatMap(({ role }, i) => (role === "figure" ? [skeleton.place(i)[1]] : []));
  return Math.max(1e-9, Math.max(...heights) - Math.min(...heights));
}
