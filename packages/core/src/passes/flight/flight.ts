import { KneaderError } from "../../errors.ts";
import type { Player } from "../../figure/player.ts";
import type { Shot } from "../../model/shot.ts";
import type { MotionPassKind } from "../passKind.ts";
import { flightCurves } from "./flightCurves.ts";
import { type FlightSettings, flightOf, flightSettings } from "./flightSettings.ts";
import { type Flown, flownOf } from "./flown.ts";
import { frameBelow, type PlannedFlight, planFlights } from "./planFlights.ts";

const NAME = "Flight";

/** What a pass of flights needs to know: what flies, and where and when. Null where it does not fly at all. */
export interface FlightPlan {
  readonly flown: Flown;
  readonly planned: readonly PlannedFlight[];
}

/** The plan of flights over a motion, which `player` plays. Errors: as `planFlights`. */
export function flightPlan(shot: Shot, told: FlightSettings, player: Player): FlightPlan | null {
  const flown = flownOf(shot.rig, told);
  if (!flown || told.flights.length === 0) return null;
  const placeAt = (frame: number) => {
    player.pose(frame);
    return flown.place(player.worlds);
  };
  return { flown, planned: planFlights(shot, told, placeAt) };
}

/** Flights: what flies follows the way of a body that is thrown, between a take-off and a landing. */
export const flightPass: MotionPassKind = {
  id: "flight",
  title: "Flight",
  help: "Lets what flies follow a true arc of gravity between take-off and landing; muted, the motion is as it was.",
  reads: "motion",
  joins: () => "adds",
  madeBy: "fly",
  own: { name: NAME, channels: [] },
  settings: flightSettings,
  brings: ({ members }) => members ?? [],
  reader(pass) {
    const at = frameBelow(flightOf(pass).flights);
    return () => at;
  },
  compute(pass, below) {
    const told = flightOf(pass);
    const player = below.player("figure");
    const plan = flightPlan(below.shot, told, player);
    return plan ? flightCurves(below.shot, told, plan, player) : {};
  },
  grown(settings, factor, controls) {
    const told = flightSettings.parse(settings);
    const flies = told.flies === "mass" || controls.has(told.control);
    if (!flies) return settings;
    const larger = (place: readonly number[]): [number, number, number] => [place[0] * factor, place[1] * factor, place[2] * factor];
    const flights = told.flights.map((flight) => ({
      ...flight,
      height: flight.height === null ? null : flight.height * factor,
      takeOffBy: larger(flight.takeOffBy),
      landingBy: larger(flight.landingBy),
    }));
    return { ...settings, flights };
  },
  retimed(pass, to) {
    const flights = flightOf(pass).flights.map((flight) => ({ ...flight, takeOff: to(flight.takeOff), landing: to(flight.landing) }));
    return { ...pass, settings: { ...pass.settings, flights } };
  },
  checked(pass) {
    const read = flightSettings.safeParse(pass.settings);
    if (!read.success) throw new KneaderError("bad-setting", `"${pass.name}": ${read.error.issues[0].message}.`, "Give it another value.");
    return pass;
  },
};
