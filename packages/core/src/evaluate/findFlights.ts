import { feetOf, handsOf } from "../figure/anatomy/feet.ts";
import { skeletonOf } from "../figure/anatomy/skeleton.ts";
import { layoutOf, placeAt } from "../figure/rigLayout.ts";
import { STANDARD_GRAVITY } from "../model/gravity.ts";
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
/** Who rises by less than this share of what gravity makes of the time is held by something: the floatiest jumps rise more. */
const HELD = 0.1;
/** How tall a figure is taken to be whose shot does not say how big a unit is (metres). */
const TALL = 1.7;

/**
 * Spans in which a figure is in the air: after the last frame at which a foot stands, and up to the first at which one
 * does again. A foot stands where it is slow; what is slow high up between two lower stands is the top of a flight. Nobody
 * flies whose hand keeps its place all the while, or who hardly rises for that time. A rig without feet is answered none.
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
  const body = new Float64Array(count);
  const rows = (ids: readonly string[]) =>
    ids.map((id) => ({ at: placeAt(layoutOf(shot.rig).controlIndex.get(id) as number), place: new Float64Array(3 * count) }));
  const [below, above] = [rows(feet), rows(handsOf(shot.rig))];
  for (let n = 0; n < count; n++) {
    player.pose(start + n);
    for (const { at, place } of [...below, ...above]) place.set(player.worlds.subarray(at, at + 3), 3 * n);
    body[n] = flown.place(player.worlds)[1];
  }
  const [places, hands] = [below, above].map((ends) => ends.map(({ place }) => place));
  const size = heightOf(shot.rig);
  const gravity = STANDARD_GRAVITY / (shot.unitMetres ?? TALL / size);
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
    // What is thrown up comes down again after t when it rises by g t² / 8 (Galilei 1638).
    const wanted = (gravity * ((to - from) / fps) ** 2) / 8;
    const isHeld = hands.some((place) => keepsPlace(place, from, to, OFF * size));
    if (off > OFF * size && rise > Math.max(RISE * size, HELD * wanted) && !isHeld) found.push({ start: start + from, end: start + to });
  }
  return found;
}

/** Is an end all the while within a distance of where it was? */
function keepsPlace(place: Float64Array, from: number, to: number, near: number): boolean {
  for (let n = from + 1; n <= to; n++) if (Math.hypot(...[0, 1, 2].map((k) => place[3 * n + k] - place[3 * from + k])) > near) return false;
  return true;
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
