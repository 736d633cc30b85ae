import {
  type Flight,
  flightOver,
  type FlightNumbers,
  type FlightSettings,
  findFlights,
  framesPerSecond,
  numbersOf,
  type PlannedFlight,
  sayError,
  type Shot,
  STANDARD_GRAVITY,
  topForFrames,
  topForGravity,
  topForSpeed,
} from "@kneader/core";
import { Button, Tooltip } from "antd";
import { Plus, Trash2 } from "lucide-react";
import { type KeyboardEvent, useState } from "react";
import { clock } from "../clock.ts";
import { NumberField } from "../NumberField.tsx";
import { tell } from "../notices.ts";
import { useSelection } from "../selection.ts";
import type { FieldProps } from "../work/property.ts";
import { useFlightAtHand, useFlightState, withFlight } from "./flightAtHand.ts";
import "../work/pickList.css";
import "./flight.css";

/** A flight added where nothing is marked is so long (frames). */
const SHORT = 12;

/** The flights of a shot as a list, and the numbers of the one that is looked at. */
export function FlightsField({ value, shot, disabled, onChange }: FieldProps) {
  const at = useFlightAtHand();
  const { chosen: wanted, dragged } = useFlightState();
  const flights = dragged ?? (value as readonly Flight[] | undefined) ?? [];
  const chosen = Math.min(wanted, flights.length - 1);
  const planned = flights.map((flight) => at?.plan?.planned.find(({ told }) => same(told, flight)));
  const choose = (n: number) => {
    useFlightState.setState({ chosen: n });
    if (flights[n]) clock.set(planned[n]?.arc.from.frame ?? flights[n].takeOff);
  };
  const remove = (n: number) => onChange(flights.filter((_, i) => i !== n));
  const key = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    if (event.key === "Delete") remove(chosen);
    else if (step === 0) return;
    else choose(Math.max(0, Math.min(flights.length - 1, chosen + step)));
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <fieldset className="flights" aria-label="Flights">
      <ul className="pick-list">
        {flights.map((flight, n) => (
          <li key={`${flight.takeOff} ${flight.landing}`} className={n === chosen ? "chosen" : ""}>
            <button
              type="button"
              tabIndex={n === chosen ? 0 : -1}
              aria-pressed={n === chosen}
              title="Look at this flight. Delete takes it out"
              onClick={() => choose(n)}
              onKeyDown={key}
            >
              <b className="mono">
                {flight.takeOff} → {flight.landing}
              </b>
              <span className="quiet">{said(planned[n], flight, shot)}</span>
            </button>
            <Tooltip title="Take this flight out of the list">
              <Button
                size="small"
                type="text"
                tabIndex={-1}
                aria-label={`Take out the flight from ${flight.takeOff}`}
                disabled={disabled}
                icon={<Trash2 size={13} />}
                onClick={() => remove(n)}
              />
            </Tooltip>
          </li>
        ))}
      </ul>
      {flights.length === 0 && <p className="quiet">No jump was found. Mark the frames from take-off to landing, then add a flight.</p>}
      {flights[chosen] && (
        <Numbers
          key={chosen}
          flight={flights[chosen]}
          planned={planned[chosen]}
          told={at?.told}
          shot={shot}
          disabled={disabled}
          onChange={(change) => onChange(withFlight(flights, chosen, change))}
        />
      )}
      <div className="flight-buttons">
        <Button
          size="small"
          type="text"
          tabIndex={flights.length === 0 ? 0 : -1}
          disabled={disabled}
          icon={<Plus size={13} />}
          title="Over the marked range; else from the playhead on"
          onClick={() => {
            const { range } = useSelection.getState();
            const made = range ? flightOver(range.start, range.end) : flightOver(clock.frame, clock.frame + SHORT);
            onChange([...flights, made].sort((a, b) => a.takeOff - b.takeOff));
          }}
        >
          Add a flight
        </Button>
        <Button
          size="small"
          type="text"
          tabIndex={-1}
          disabled={disabled}
          title="Where both feet leave the ground, in the marked range or the whole shot"
          onClick={() => {
            const found = findFlights(at?.below ?? shot, useSelection.getState().range ?? shot.range);
            if (found.length === 0) tell("No jump is found there, in which both feet leave the ground.");
            else onChange(found.map(({ start, end }) => flightOver(start, end)));
          }}
        >
          Find them again
        </Button>
      </div>
    </fieldset>
  );
}

const same = (a: Flight, b: Flight) => a.takeOff === b.takeOff && a.landing === b.landing;

interface NumbersProps {
  flight: Flight;
  planned: PlannedFlight | undefined;
  told: FlightSettings | undefined;
  shot: Shot;
  disabled: boolean;
  onChange(change: Partial<Flight>): void;
}

/** The numbers of a flight, each of which may be typed; those that depend on the top set it. */
function Numbers({ flight, planned, told, shot, disabled, onChange }: NumbersProps) {
  const [all, setAll] = useState(false);
  const metres = (told && told.unit > 0 ? told.unit : shot.unitMetres) ?? 1;
  const rules = told?.rules ?? "gravity";
  const fps = framesPerSecond(shot.rate);
  const numbers: FlightNumbers | null = planned ? numbersOf(planned.arc) : null;
  const top = (work: (arc: PlannedFlight["arc"]) => number) => {
    try {
      if (planned) onChange({ height: work(planned.arc) });
    } catch (error) {
      tell(sayError(error));
    }
  };
  /** The landing so far over the ground, in its direction. */
  const far = (wanted: number) => {
    if (!planned || !numbers) return;
    const { from, to } = planned.arc;
    const way = [to.place[0] - from.place[0], 0, to.place[2] - from.place[2]];
    const unit = numbers.distance > 1e-9 ? way.map((k) => k / numbers.distance) : [0, 0, 1];
    const by = wanted - numbers.distance;
    onChange({ landingBy: added(flight.landingBy, [unit[0] * by, 0, unit[2] * by]) });
  };
  const field = (label: string, value: number, suffix: string, set: (value: number) => void, title: string, more: object = {}) => (
    <label className="flight-number" title={title}>
      <span>{label}</span>
      <NumberField label={label} value={value} suffix={suffix} disabled={disabled || !numbers} onCommit={set} {...more} />
    </label>
  );
  const length = (label: string, value: number, set: (value: number) => void, title: string) =>
    field(label, value * metres, " m", (next) => set(next / metres), title, { decimals: 3 });
  const own = numbers ?? { frames: flight.landing - flight.takeOff, height: 0, rise: 0, distance: 0, speed: 0, gravity: 1 };
  return (
    <div className="flight-numbers">
      {length("Top", own.height, (height) => onChange({ height: Math.max(0, height) }), "How high above its take-off the top is")}
      {rules === "gravity"
        ? field(
            "In the air",
            own.frames,
            " fr",
            (frames) => top((arc) => topForFrames(arc, frames, fps)),
            "Hang time: frames from take-off to landing",
            {
              decimals: 0,
              min: 1,
            },
          )
        : field(
            "Gravity",
            (own.gravity * metres) / STANDARD_GRAVITY,
            " ×",
            (times) => top((arc) => topForGravity(arc, (times * STANDARD_GRAVITY) / metres)),
            "How strong gravity would have to be, of the earth's",
            { min: 0.01 },
          )}
      <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
        {all ? "Fewer numbers" : "All numbers"}
      </button>
      {all && (
        <>
          {field("Take-off", flight.takeOff, "", (takeOff) => onChange({ takeOff }), "The last frame on the ground, in the motion below", {
            decimals: 0,
          })}
          {field(
            "Landing",
            flight.landing,
            "",
            (landing) => onChange({ landing }),
            "The first frame on the ground again, in the motion below",
            {
              decimals: 0,
            },
          )}
          {field("Bounces", flight.bounces, "", (bounces) => onChange({ bounces: Math.round(bounces) }), "How often it bounces after it", {
            decimals: 0,
            min: 0,
            max: 50,
          })}
          {length("Far", own.distance, far, "Over the ground, from take-off to landing")}
          {length(
            "Up",
            own.rise,
            (rise) => onChange({ landingBy: added(flight.landingBy, [0, rise - own.rise, 0]) }),
            "How much higher it lands",
          )}
          {field(
            "Leaves at",
            own.speed * metres,
            " m/s",
            (speed) => top((arc) => topForSpeed(arc, speed / metres, rules)),
            "Speed at take-off",
          )}
          <Button
            size="small"
            disabled={disabled || (flight.height === null && isStill(flight))}
            title="Top, take-off and landing as the motion has them"
            onClick={() => onChange({ height: null, takeOffBy: [0, 0, 0], landingBy: [0, 0, 0], bounces: 0 })}
          >
            As it was
          </Button>
        </>
      )}
    </div>
  );
}

const added = (a: readonly number[], b: readonly number[]): [number, number, number] => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
const isStill = ({ takeOffBy, landingBy, bounces }: Flight) => bounces === 0 && [...takeOffBy, ...landingBy].every((k) => k === 0);

/** A flight in a line: when it lands, how high it is. */
function said(planned: PlannedFlight | undefined, flight: Flight, shot: Shot): string {
  if (!planned) return "cannot be flown so";
  const { frames, height } = numbersOf(planned.arc);
  const later = planned.arc.to.frame === flight.landing ? "" : `lands at ${planned.arc.to.frame}, `;
  const high = shot.unitMetres === null ? `${height.toFixed(2)} units` : `${(height * shot.unitMetres).toFixed(2)} m`;
  return `${later}${frames} frames, top ${high}`;
}
