import {
  belowOf,
  chosenFlight,
  type Flight,
  flightPlan,
  type FlightPlan,
  type FlightSettings,
  flightSettings,
  makePlayer,
  operations,
  type Pass,
  type Player,
  sayError,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { create } from "zustand";
import { useShot } from "../documents.ts";
import { useSelection } from "../selection.ts";
import { useWork } from "../work/workStore.ts";

interface FlightState {
  /** Which of the flights in the card is looked at. */
  readonly chosen: number;
  /** The flights as a grip that is being dragged has them; null: as the card has them. */
  readonly dragged: readonly Flight[] | null;
}
export const useFlightState = create<FlightState>(() => ({ chosen: 0, dragged: null }));

/** The flights that are being shaped, as they will play. */
export interface FlightAtHand {
  readonly told: FlightSettings;
  /** The pass that is shaped anew; undefined: a new one. */
  readonly chosen: Pass | undefined;
  /** The motion below them, and a player of it. */
  readonly below: Shot;
  readonly player: Player;
  /** Null when there are none, or one of them cannot be flown; `problem` says why. */
  readonly plan: FlightPlan | null;
  readonly problem: string | null;
}

const players = new WeakMap<Shot, { below: Shot; player: Player }>();

/** The flights of some settings over a shot, with the pass of them that is chosen. */
export function flightAtHand(shot: Shot, settings: Readonly<Record<string, unknown>>, layer: string): FlightAtHand | null {
  const read = flightSettings.safeParse(settings);
  if (!read.success) return null;
  const told = { ...read.data, flights: read.data.flights.map((flight) => ({ ...flight, frames: null, bounceFrames: null })) };
  const chosen = chosenFlight(shot, { ...WHOLE_FIGURE, layer });
  let known = chosen ? undefined : players.get(shot);
  if (!known) {
    const below = belowOf(shot, chosen);
    known = { below, player: makePlayer(below) };
    if (!chosen) players.set(shot, known);
  }
  const { below, player } = known;
  try {
    return { told, chosen, below, player, plan: flightPlan(below, told, player), problem: null };
  } catch (error) {
    return { told, chosen, below, player, plan: null, problem: sayError(error) };
  }
}

let last: { shot: Shot; settings: unknown; layer: string; dragged: unknown; at: FlightAtHand | null } | null = null;

/** The flights in the open card; null while another one is open. */
export function useFlightAtHand(): FlightAtHand | null {
  const shot = useShot();
  const layer = useSelection((state) => state.layer);
  const settings = useWork((state) => (state.operation === operations.fly.id ? state.settings : null));
  const dragged = useFlightState((state) => state.dragged);
  if (!settings) return null;
  // Card and view look at the same plan.
  if (!last || last.shot !== shot || last.settings !== settings || last.layer !== layer || last.dragged !== dragged)
    last = { shot, settings, layer, dragged, at: flightAtHand(shot, dragged ? { ...settings, flights: dragged } : settings, layer) };
  return last.at;
}

/** The flights with one of them changed. */
export const withFlight = (flights: readonly Flight[], n: number, change: Partial<Flight>): Flight[] =>
  flights.map((flight, i) => (i === n ? { ...flight, ...change } : flight));
