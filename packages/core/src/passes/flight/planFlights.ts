import type { Place } from "../../figure/pull.ts";
import { KneaderError } from "../../errors.ts";
import { gravityFor, secondsOver, speedFor, thrownHeight, topOf } from "../../maths/ballistic.ts";
import { STANDARD_GRAVITY } from "../../model/gravity.ts";
import { framesPerSecond } from "../../model/rate.ts";
import type { Shot } from "../../model/shot.ts";
import type { Flight, FlightSettings } from "./flightSettings.ts";

/** A place and the frame at which it is reached. */
interface Stand {
  readonly frame: number;
  readonly place: Place;
}

/** One span in the air, in frames as they play: evenly over the ground, thrown up and left to gravity. */
export interface Arc {
  readonly from: Stand;
  readonly to: Stand;
  /** Scene units a second at take-off, upward and over the ground. */
  readonly up: number;
  readonly along: number;
  /** Scene units a second, every second. */
  readonly gravity: number;
  readonly seconds: number;
  /** Of the top, above take-off. */
  readonly height: number;
}

/** A flight as it will play. */
export interface PlannedFlight {
  readonly told: Flight;
  readonly arc: Arc;
  readonly bounces: readonly Arc[];
  /** How far what flies stands from where the motion below has it, before take-off and after all bounces. */
  readonly before: Place;
  readonly after: Place;
}

/** Nearer than this (seconds, scene units) is none. */
const NONE = 1e-9;

/**
 * Flights as they will play, in order. `placeAt` says where what flies is at a frame of the motion below; the unit of the
 * shot must be known. Errors: `bad-setting`, with the frames, where one cannot be flown.
 */
export function planFlights(
  shot: Pick<Shot, "rate" | "unitMetres">,
  told: FlightSettings,
  placeAt: (frame: number) => Place,
): PlannedFlight[] {
  const fps = framesPerSecond(shot.rate);
  const gravity = (STANDARD_GRAVITY * told.gravity) / 100 / unitOf(shot, told);
  const flights = inOrder(told.flights);
  const planned: PlannedFlight[] = [];
  let later = 0;
  let stands = flights.reduce<Place>((sum, flight) => plus(sum, flight.takeOffBy), [0, 0, 0]);
  for (const flight of flights) {
    const start = flight.takeOff + later;
    const from = { frame: start, place: plus(placeAt(flight.takeOff), stands) };
    const landed = plus(minus(stands, flight.takeOffBy), flight.landingBy);
    const place = plus(placeAt(flight.landing), landed);
    const arc = firstArc(told, flight, from, place, gravity, fps, () => highest(flight, placeAt, stands, from.place[1]));
    const bounces = bouncesOf(arc, flight, told.loss / 100, fps);
    const end = bounces.length > 0 ? bounces[bounces.length - 1].to : arc.to;
    const after = plus(landed, minus(end.place, arc.to.place));
    planned.push({ told: flight, arc, bounces, before: stands, after });
    later = end.frame - flight.landing;
    stands = after;
  }
  return planned;
}

/** Metres in a scene unit. Errors: `bad-setting` when neither the shot nor the settings say. */
function unitOf({ unitMetres }: Pick<Shot, "unitMetres">, { unit }: FlightSettings): number {
  const metres = unit > 0 ? unit : unitMetres;
  if (metres === null)
    throw new KneaderError(
      "bad-setting",
      "Flight: this shot does not say how long its units are, so there is no saying how quickly things fall.",
      "Type the metres in a scene unit, under More.",
    );
  return metres;
}

function inOrder(flights: readonly Flight[]): Flight[] {
  const sorted = [...flights].sort((a, b) => a.takeOff - b.takeOff);
  sorted.forEach(({ takeOff, landing }, n) => {
    if (!(landing - takeOff >= 1))
      throw new KneaderError(
        "bad-setting",
        `Flight: frames ${round(takeOff)} to ${round(landing)} are no flight.`,
        "A landing comes at least a frame after its take-off.",
      );
    const next = sorted[n + 1];
    if (next && next.takeOff < landing)
      throw new KneaderError(
        "bad-setting",
        `Flight: the one from frame ${round(next.takeOff)} would begin before the one from ${round(takeOff)} has landed, at ${round(landing)}.`,
        "Let flights follow one another.",
      );
  });
  return sorted;
}

function firstArc(
  { rules }: FlightSettings,
  flight: Flight,
  from: Stand,
  to: Place,
  gravity: number,
  fps: number,
  asItWas: () => number,
): Arc {
  const { takeOff, landing, height } = flight;
  const rise = to[1] - from.place[1];
  const seconds = (landing - takeOff) / fps;
  const top = height ?? (rules === "timing" ? Math.max(asItWas(), rise, 0) : null);
  if (top !== null && top < rise - NONE)
    throw new KneaderError(
      "bad-setting",
      `Flight from frame ${round(takeOff)}: it lands ${round(rise)} above its take-off, higher than its top of ${round(top)}.`,
      "Raise the top, or land lower.",
    );
  const high = top === null ? null : Math.max(top, rise);
  if (rules === "timing" && high !== null) {
    const strong = gravityFor(high, rise, seconds);
    if (strong < NONE)
      throw new KneaderError("bad-setting", `Flight from frame ${round(takeOff)}: it does not leave the ground.`, "Raise the top.");
    return arcOf(from, { frame: from.frame + (landing - takeOff), place: to }, strong, fps);
  }
  // Frames are whole: gravity stays what it is, and the top is a hair from where it was asked for.
  const needed = high === null ? landing - takeOff : Math.max(1, Math.round(secondsOver(high, rise, gravity) * fps));
  const frames = flight.frames ?? needed;
  return arcOf(from, { frame: from.frame + frames, place: to }, gravity, fps);
}

function arcOf(from: Stand, to: Stand, gravity: number, fps: number): Arc {
  const seconds = (to.frame - from.frame) / fps;
  const up = speedFor(to.place[1] - from.place[1], seconds, gravity);
  const along = Math.hypot(to.place[0] - from.place[0], to.place[2] - from.place[2]) / seconds;
  return { from, to, up, along, gravity, seconds, height: topOf(up, gravity).height };
}

/** Each bounce as high as the share of the one before that is left, over the ground as quickly as before; it ends with the first that is too low to see. */
function bouncesOf(arc: Arc, { bounces, bounceFrames }: Flight, loss: number, fps: number): Arc[] {
  const found: Arc[] = [];
  const level = arc.to.place[1];
  let fallen = Math.max(0, arc.from.place[1] + arc.height - level);
  let last = arc;
  for (let n = 0; n < (bounceFrames?.length ?? bounces); n++) {
    fallen *= 1 - loss;
    const frames = bounceFrames?.[n] ?? Math.round(2 * Math.sqrt((2 * fallen) / arc.gravity) * fps);
    if (frames < 2) break;
    const share = frames / fps / arc.seconds;
    const way = (k: number) => (arc.to.place[k] - arc.from.place[k]) * share;
    const { frame, place } = last.to;
    last = arcOf(last.to, { frame: frame + frames, place: [place[0] + way(0), level, place[2] + way(2)] }, arc.gravity, fps);
    found.push(last);
  }
  return found;
}

/** How high above its take-off what flies came. */
function highest({ takeOff, landing }: Flight, placeAt: (frame: number) => Place, stands: Place, from: number): number {
  let top = 0;
  for (let frame = Math.ceil(takeOff); frame <= landing; frame++) top = Math.max(top, placeAt(frame)[1] + stands[1] - from);
  return top;
}

/** Where an arc is at a frame; before its take-off and after its landing as if there were no ground. */
export function placeOn({ from, to, up, gravity, seconds }: Arc, frame: number): Place {
  const share = (frame - from.frame) / (to.frame - from.frame);
  const at = (k: 0 | 2) => from.place[k] + (to.place[k] - from.place[k]) * share;
  // At the landing it is the place of the landing, to the last bit.
  const y = share === 1 ? to.place[1] : from.place[1] + thrownHeight(share * seconds, up, gravity);
  return [at(0), y, at(2)];
}

/** A plan's flights with the frames that were worked out for them, which no longer change with the motion below. */
export function settled(planned: readonly PlannedFlight[]): Flight[] {
  return planned.map(({ told, arc, bounces }) => ({
    ...told,
    frames: framesOf(arc),
    bounceFrames: bounces.map(framesOf),
  }));
}

const framesOf = ({ from, to }: Arc): number => to.frame - from.frame;

/** Frames a flight takes as it plays, and those for which the motion below is held at its landing while it bounces. */
function lengthsOf({ takeOff, landing, frames, bounceFrames }: Flight): { air: number; held: number } {
  return { air: frames ?? landing - takeOff, held: (bounceFrames ?? []).reduce((sum, length) => sum + length, 0) };
}

/** The frame of the motion below that plays at a frame: in the air in proportion, held while it bounces. */
export function frameBelow(flights: readonly Flight[]): (frame: number) => number {
  const inTime = [...flights].sort((a, b) => a.takeOff - b.takeOff).map((flight) => ({ ...flight, ...lengthsOf(flight) }));
  return (frame) => {
    let later = 0;
    for (const { takeOff, landing, air, held } of inTime) {
      const start = takeOff + later;
      if (frame <= start) return frame - later;
      const end = start + air;
      if (frame < end) return takeOff + ((frame - start) * (landing - takeOff)) / air;
      if (frame <= end + held) return landing;
      later = end + held - landing;
    }
    return frame - later;
  };
}

/** By how many frames what comes after all flights is later. */
export const laterBy = (flights: readonly Flight[]): number =>
  flights
    .map((flight) => ({ ...flight, ...lengthsOf(flight) }))
    .reduce((sum, { takeOff, landing, air, held }) => sum + air + held - (landing - takeOff), 0);

const plus = (a: Place, b: Place): Place => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
const minus = (a: Place, b: Place): Place => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const round = (value: number) => Math.round(value * 1000) / 1000;
