import type { Place } from "../../figure/pull.ts";
import { type Curve, type Key, makeKey, Tangent } from "../../curve/curve.ts";
import { curveFromKeys } from "../../curve/make.ts";
import type { Player } from "../../figure/player.ts";
import { layoutOf, turnAt, worldAt } from "../../figure/rigLayout.ts";
import { turnFromAffine } from "../../maths/decompose.ts";
import { invertAffine } from "../../maths/matrix.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply } from "../../maths/rotation.ts";
import { type ChannelKey, channelKey, type Control, moveChannels, rotateChannels } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { topOf } from "../../maths/ballistic.ts";
import { wholeRange } from "../belowSamples.ts";
import { evenTurn } from "./evenTurn.ts";
import type { FlightSettings } from "./flightSettings.ts";
import { type Flown, turnFromTo } from "./flown.ts";
import { type Arc, frameBelow, placeOn, type PlannedFlight, settled } from "./planFlights.ts";

/** How far beside a key (frames) its slope is looked at. */
const BESIDE = 1e-3;

/** Over a span, what is added at any frame of it: by curve a number. */
interface Span {
  readonly start: number;
  readonly end: number;
  /** Where its keys are, both ends among them. */
  readonly frames: readonly number[];
  add(frame: number, out: Float64Array): void;
}

interface Plan {
  readonly flown: Flown;
  readonly planned: readonly PlannedFlight[];
}

/**
 * What flights add to the motion below: moves of what is moved, and the angles of what turns evenly. Slopes are those of
 * the difference itself, so that keys on a few poses follow the arc between them as far as a curve can.
 */
export function flightCurves(shot: Shot, told: FlightSettings, { flown, planned }: Plan, player: Player): Record<ChannelKey, Curve> {
  const { movers, turner } = flown;
  const turns = told.turns ? turner : null;
  const keys = [
    ...movers.flatMap(({ id }) => moveChannels.map((channel) => channelKey(id, channel))),
    ...(turns ? rotateChannels.map((channel) => channelKey(turns.id, channel)) : []),
  ];
  const below = frameBelow(settled(planned));
  const shift = shifter(player, movers, below);
  const made = keys.map((): Key[] => []);
  for (const span of spansOf(shot, told, { flown, planned }, player, below, shift)) keySpan(made, span);
  return Object.fromEntries(keys.map((key, n) => [key, curveFromKeys(joined(made[n]))]));
}

/** Writes a shift in the world as moves of each mover, in the frame of what it hangs on. */
function shifter(player: Player, movers: readonly Control[], below: (frame: number) => number) {
  const above = movers.map(({ parent }) => (parent === null ? -1 : (player.controlIndex.get(parent) ?? -1)));
  const hangs = above.some((i) => i >= 0);
  const inverse = new Float64Array(16);
  /** The player stands at the frame below, unless it has still to be put there. */
  const write = (frame: number, by: Place, out: Float64Array, isPosed: boolean) => {
    if (hangs && !isPosed) player.pose(below(frame));
    above.forEach((i, n) => {
      if (i < 0) for (let k = 0; k < 3; k++) out[3 * n + k] = by[k];
      else {
        invertAffine(inverse, 0, player.worlds, worldAt(i));
        for (let k = 0; k < 3; k++) out[3 * n + k] = inverse[k] * by[0] + inverse[4 + k] * by[1] + inverse[8 + k] * by[2];
      }
    });
  };
  return { hangs, write };
}

function spansOf(
  shot: Shot,
  told: FlightSettings,
  { flown, planned }: Plan,
  player: Player,
  below: (frame: number) => number,
  shift: ReturnType<typeof shifter>,
): Span[] {
  const { start: first, count } = wholeRange(shot);
  const last = Math.max(first + count - 1, planned[planned.length - 1].arc.to.frame);
  const spans: Span[] = [];
  /** From one flight to the next it stands where it landed. */
  const stand = (start: number, end: number, by: Place) => {
    // What hangs on something that moves is moved anew at each frame, to stand still in the world.
    const frames = shift.hangs && by.some((k) => k !== 0) ? everyFrame(start, end, 1) : [start, end];
    spans.push({ start, end, frames, add: (frame, out) => shift.write(frame, by, out.fill(0), false) });
  };
  let at = Math.min(first, planned[0].arc.from.frame);
  for (const flight of planned) {
    stand(at, flight.arc.from.frame, flight.before);
    const turn = told.turns ? turnOf(flown, flight, player) : null;
    [flight.arc, ...flight.bounces].forEach((arc, n) => {
      spans.push({
        start: arc.from.frame,
        end: arc.to.frame,
        frames: n === 0 ? keyFrames(shot, told, flown, flight) : fewFrames(told, arc),
        add(frame, out) {
          player.pose(below(frame));
          player.readValues(below(frame));
          out.fill(0);
          const turned = n === 0 && turn ? turn(frame, out) : null;
          const place = turned ? flown.turnedPlace(player.worlds, turned) : flown.place(player.worlds);
          const wanted = placeOn(arc, frame);
          shift.write(frame, [wanted[0] - place[0], wanted[1] - place[1], wanted[2] - place[2]], out, true);
        },
      });
    });
    at = spans[spans.length - 1].end;
  }
  if (last > at) stand(at, last, planned[planned.length - 1].after);
  return spans;
}

/** Where a flight has its keys. */
function keyFrames(shot: Shot, told: FlightSettings, { movers, turner }: Flown, { told: flight, arc }: PlannedFlight): number[] {
  if (told.keys !== "poses") return fewFrames(told, arc);
  const controls = new Set([...movers, ...(turner ? [turner] : [])].map(({ id }) => id));
  const longer = (arc.to.frame - arc.from.frame) / (flight.landing - flight.takeOff);
  const frames = new Set([arc.from.frame, arc.to.frame]);
  for (const curves of [shot.base, ...shot.passes.filter(({ on }) => on).map((pass) => pass.curves)])
    for (const [key, { times }] of Object.entries(curves)) {
      if (!controls.has(key.slice(0, key.lastIndexOf(".")))) continue;
      for (const time of times) {
        if (time > flight.takeOff && time < flight.landing) frames.add(arc.from.frame + (time - flight.takeOff) * longer);
      }
    }
  return [...frames].sort((a, b) => a - b);
}

function fewFrames({ keys, step }: FlightSettings, { from, to, up, gravity, seconds }: Arc): number[] {
  if (keys === "every") return everyFrame(from.frame, to.frame, step);
  const top = from.frame + (topOf(up, gravity).seconds / seconds) * (to.frame - from.frame);
  return top > from.frame && top < to.frame ? [from.frame, top, to.frame] : [from.frame, to.frame];
}

function everyFrame(start: number, end: number, step: number): number[] {
  const frames = [start];
  for (let frame = Math.floor(start) + step; frame < end; frame += step) frames.push(frame);
  if (end > start) frames.push(end);
  return frames;
}

/** The turn of what turns evenly in a flight: writes by how much its angles differ from those below, and answers the turn of the world that is. */
function turnOf(
  { movers, turner }: Flown,
  { told, arc }: PlannedFlight,
  player: Player,
): (frame: number, out: Float64Array) => Float64Array | null {
  if (!turner) return () => null;
  const i = player.controlIndex.get(turner.id) as number;
  const { restTurns, parents } = layoutOf(player.shot.rig);
  const own: Float64Array[] = [];
  const frames = [...everyFrame(told.takeOff, told.landing, 1)];
  for (const frame of frames) {
    player.pose(frame);
    own.push(player.turns.slice(4 * i, 4 * i + 4));
  }
  const even = evenTurn(own);
  const [wanted, above, before, after, by] = [0, 1, 2, 3, 4].map(() => new Float64Array(4));
  return (frame, out) => {
    const share = (frame - arc.from.frame) / (arc.to.frame - arc.from.frame);
    if (share <= 0 || share >= 1) return null;
    even.at(share, wanted);
    const euler = new Float64Array(3);
    eulerFromQuat(euler, 0, wanted, 0, turner.order);
    const v = turnAt(i);
    const now = [0, 1, 2].map((axis) => player.values[v + axis]);
    const near = nearestEuler(
      euler.map((angle) => angle / DEG),
      now,
      turner.order,
    );
    for (let axis = 0; axis < 3; axis++) out[3 * movers.length + axis] = near[axis] - now[axis];
    // In the world: what is above, then the rest turn, then its own.
    if (parents[i] < 0) above.set([0, 0, 0, 1]);
    else turnFromAffine(above, 0, player.worlds, worldAt(parents[i]));
    quatMultiply(above, 0, above, 0, restTurns, 4 * i);
    quatMultiply(before, 0, above, 0, player.turns, 4 * i);
    quatMultiply(after, 0, above, 0, wanted, 0);
    turnFromTo(by, before, after);
    return by;
  };
}

/** Put the keys of a span on the curves. */
function keySpan(made: readonly Key[][], { start, end, frames, add }: Span): void {
  const read = (frame: number) => {
    const out = new Float64Array(made.length);
    add(frame, out);
    return out;
  };
  const values = frames.map(read);
  /** The slope of a side, from values beside the key within the span; a jump has none. */
  const slopes = (n: number, way: 1 | -1): Float64Array | null => {
    const far = frames[n] + 2 * BESIDE * way;
    if (far < start || far > end || n + way < 0 || n + way >= frames.length) return null;
    const [at, near, beyond] = [values[n], read(frames[n] + BESIDE * way), read(far)];
    const chord = (k: number) => (values[n + way][k] - at[k]) / (frames[n + way] - frames[n]);
    return at.map((value, k) => {
      const slope = ((-3 * value + 4 * near[k] - beyond[k]) / (2 * BESIDE)) * way;
      return Math.abs(slope) > 50 * (Math.abs(chord(k)) + 1) ? chord(k) : slope;
    });
  };
  frames.forEach((frame, n) => {
    const [before, after] = [slopes(n, -1), slopes(n, 1)];
    made.forEach((keys, k) => {
      const slopeIn = before?.[k] ?? after?.[k] ?? 0;
      const slopeOut = after?.[k] ?? before?.[k] ?? 0;
      keys.push({ ...makeKey(frame, values[n][k], Tangent.free), slopeIn, slopeOut });
    });
  });
}

/** Keys of spans that meet as one: it comes as the one before and goes as the one after. */
function joined(keys: readonly Key[]): Key[] {
  const made: Key[] = [];
  for (const key of keys) {
    const last = made[made.length - 1];
    if (last && key.time - last.time < 1e-9) made[made.length - 1] = { ...key, slopeIn: last.slopeIn };
    else made.push(key);
  }
  return made;
}
