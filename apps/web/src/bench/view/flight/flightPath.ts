import { frameBelow, numbersOf, placeOn, type PlannedFlight, settled, standingPlace } from "@kneader/core";
import type { FlightAtHand } from "../../flight/flightAtHand.ts";

type Grip = "take-off" | "top" | "landing";

/** Something of a flight that may be taken hold of in the view. */
export interface FlightGrip {
  readonly grip: Grip;
  /** Which of the flights in the card. */
  readonly flight: number;
  readonly frame: number;
  readonly place: readonly [number, number, number];
  /** What it is and how far, in words. */
  readonly said: string;
}

/** So many frames of the motion are marked before the take-off and after the landing. */
const BEYOND = 8;

/** The way of what flies, three numbers a frame, from a little before its take-off to a little after its landing. */
export function pathOf({ player, plan }: FlightAtHand, n: number): Float64Array {
  if (!plan) return new Float64Array();
  const { flown, planned } = plan;
  const below = frameBelow(settled(planned));
  const { arc, bounces, before, after } = planned[n];
  const end = lastOf(planned[n]).to.frame;
  const first = Math.max(arc.from.frame - BEYOND, n > 0 ? lastOf(planned[n - 1]).to.frame : Number.NEGATIVE_INFINITY);
  const last = Math.min(end + BEYOND, planned[n + 1]?.arc.from.frame ?? Number.POSITIVE_INFINITY);
  const places: number[] = [];
  const stand = (frame: number, by: readonly number[]) => {
    player.pose(below(frame));
    places.push(...flown.place(player.worlds).map((value, k) => value + by[k]));
  };
  for (let frame = first; frame < arc.from.frame; frame++) stand(frame, before);
  for (const one of [arc, ...bounces]) for (let frame = one.from.frame; frame < one.to.frame; frame++) places.push(...placeOn(one, frame));
  places.push(...lastOf(planned[n]).to.place);
  for (let frame = end + 1; frame <= last; frame++) stand(frame, after);
  return Float64Array.from(places);
}

const lastOf = ({ arc, bounces }: PlannedFlight) => bounces[bounces.length - 1] ?? arc;

/** The grips of all flights: take-off and landing where the figure touches the ground, the top on the arc. */
export function gripsOf({ told, below, player, plan }: FlightAtHand): FlightGrip[] {
  if (!plan) return [];
  const metres = (told.unit > 0 ? told.unit : below.unitMetres) ?? 1;
  const long = (value: number) => `${(value * metres).toFixed(2)} m`;
  return plan.planned.flatMap((planned) => {
    const { arc } = planned;
    const flight = told.flights.indexOf(planned.told);
    const { height, rise, distance, frames } = numbersOf(arc);
    const ends = [planned.told.takeOff, planned.told.landing].map((frame, n) => {
      player.pose(frame);
      const at = n === 0 ? arc.from.place : arc.to.place;
      const own = plan.flown.place(player.worlds);
      const ground = told.flies === "mass" ? standingPlace(below.rig, player.worlds) : null;
      return (ground ?? own).map((value, k) => value + at[k] - own[k]) as [number, number, number];
    });
    const top = arc.from.frame + Math.max(0, arc.up / arc.gravity / arc.seconds) * (arc.to.frame - arc.from.frame);
    return [
      { grip: "take-off" as const, flight, frame: arc.from.frame, place: ends[0], said: "take-off" },
      {
        grip: "top" as const,
        flight,
        frame: Math.round(top),
        place: placeOn(arc, Math.min(top, arc.to.frame)),
        said: `top ${long(height)} up, ${frames} frames in the air`,
      },
      {
        grip: "landing" as const,
        flight,
        frame: arc.to.frame,
        place: ends[1],
        said: `landing ${long(distance)} far${Math.abs(rise * metres) < 0.005 ? "" : `, ${long(Math.abs(rise))} ${rise > 0 ? "up" : "down"}`}`,
      },
    ];
  });
}
