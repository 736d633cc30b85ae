import { type Curve, keyBefore } from "./curve.ts";
import { mapRun } from "./runOn.ts";

/** Of so many keys in a row on the average, whole stretches are copied. */
const STRETCH = 8;

/** The columns of some keys, by their places in rising order; slopes stay as they are and are not settled. */
export function someKeys(curve: Curve, places: ArrayLike<number>): Curve {
  const starts = stretchesOf(places);
  const copy = starts.length * STRETCH < places.length ? copyStretches : copyEach;
  const numbers = (column: Float64Array) => copy(column, places, starts, new Float64Array(places.length));
  const kinds = (column: Uint8Array) => copy(column, places, starts, new Uint8Array(places.length));
  return {
    ...curve,
    times: numbers(curve.times),
    values: numbers(curve.values),
    slopeIn: numbers(curve.slopeIn),
    slopeOut: numbers(curve.slopeOut),
    weightIn: numbers(curve.weightIn),
    weightOut: numbers(curve.weightOut),
    kindIn: kinds(curve.kindIn),
    kindOut: kinds(curve.kindOut),
  };
}

/** Where in the row of places stretches of keys begin that stand side by side. */
function stretchesOf(places: ArrayLike<number>): number[] {
  const starts: number[] = [];
  for (let n = 0; n < places.length; n++) if (n === 0 || places[n] !== places[n - 1] + 1) starts.push(n);
  return starts;
}

type Column = Float64Array | Uint8Array;

function copyEach<Kind extends Column>(column: Kind, places: ArrayLike<number>, _starts: readonly number[], into: Kind): Kind {
  for (let n = 0; n < into.length; n++) into[n] = column[places[n]];
  return into;
}

function copyStretches<Kind extends Column>(column: Kind, places: ArrayLike<number>, starts: readonly number[], into: Kind): Kind {
  starts.forEach((start, s) => {
    const end = s + 1 < starts.length ? starts[s + 1] : places.length;
    into.set(column.subarray(places[start], places[end - 1] + 1), start);
  });
  return into;
}

/** The curve with the few keys it takes to play it at some times: those beside them, and its ends. */
export function keysBeside(curve: Curve, times: readonly number[]): Curve {
  const last = curve.times.length - 1;
  if (last < 2 * times.length + 2) return curve;
  const places = new Set([0, last]);
  for (const time of times) {
    const isWithin = time >= curve.times[0] && time <= curve.times[last];
    const before = Math.max(0, keyBefore(curve.times, isWithin ? time : mapRun(curve, time).time));
    places.add(before).add(Math.min(last, before + 1));
  }
  return someKeys(
    curve,
    [...places].sort((a, b) => a - b),
  );
}

/** The keys at the times that are meant, as they are. */
export function keptKeys(curve: Curve, isMeant: (time: number) => boolean): Curve {
  const places: number[] = [];
  for (let i = 0; i < curve.times.length; i++) if (isMeant(curve.times[i])) places.push(i);
  return someKeys(curve, places);
}
