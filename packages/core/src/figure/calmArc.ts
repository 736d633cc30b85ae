import { smoothingSpline } from "../curve/fit/smoothingSpline.ts";
import type { Place } from "./pull.ts";

/** How strongly the ends are held where they are. */
const HELD = 1e9;

/**
 * The places of a path on the calmest one that keeps its ends and nowhere goes further than `distance`: a smoothing spline
 * in time with the largest λ that does. With `even` the places are spread along it as time goes; else none goes along the
 * way, so that the spacing stays.
 */
export function calmPlaces(times: Float64Array, places: Float64Array, distance: number, even: boolean): Place[] {
  const at = (all: Float64Array, i: number): Place => [all[3 * i], all[3 * i + 1], all[3 * i + 2]];
  const column = (k: number) => Float64Array.from(times, (_, i) => places[3 * i + k]);
  const columns = [column(0), column(1), column(2)];
  const weights = Float64Array.from(times, (_, i) => (i === 0 || i === times.length - 1 ? HELD : 1));
  const calm = (lambda: number): Float64Array => {
    const smooth = columns.map((values) => smoothingSpline(times, values, lambda, weights));
    const all = new Float64Array(places.length);
    for (let i = 0; i < times.length; i++) for (let k = 0; k < 3; k++) all[3 * i + k] = smooth[k][i];
    return even ? spreadEvenly(times, all) : acrossOnly(places, all);
  };
  const furthest = (all: Float64Array) =>
    Math.max(
      ...Array.from(times, (_, i) =>
        Math.hypot(all[3 * i] - places[3 * i], all[3 * i + 1] - places[3 * i + 1], all[3 * i + 2] - places[3 * i + 2]),
      ),
    );
  let [low, high] = [-12, 12];
  if (furthest(calm(10 ** high)) > distance)
    for (let round = 0; round < 40; round++) {
      const middle = (low + high) / 2;
      if (furthest(calm(10 ** middle)) > distance) high = middle;
      else low = middle;
    }
  else low = high;
  const found = calm(10 ** low);
  // Evened out even the least smoothing may go too far; then each goes as far as it may.
  return Array.from(times, (_, i) => {
    const [from, to] = [at(places, i), at(found, i)];
    const far = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
    const share = far > distance ? distance / far : 1;
    return [0, 1, 2].map((k) => from[k] + (to[k] - from[k]) * share) as unknown as Place;
  });
}

/** The part of the way from each place to another that is across the path. */
function acrossOnly(places: Float64Array, calm: Float64Array): Float64Array {
  const count = places.length / 3;
  const out = calm.slice();
  for (let i = 1; i + 1 < count; i++) {
    const along = [0, 1, 2].map((k) => calm[3 * (i + 1) + k] - calm[3 * (i - 1) + k]);
    const length = Math.hypot(...along);
    if (length < 1e-12) continue;
    const off = [0, 1, 2].map((k) => calm[3 * i + k] - places[3 * i + k]);
    const share = off.reduce((sum, v, k) => sum + v * along[k], 0) / (length * length);
    for (let k = 0; k < 3; k++) out[3 * i + k] -= share * along[k];
  }
  return out;
}

/** The places of a path spread along it as time goes. */
function spreadEvenly(times: Float64Array, places: Float64Array): Float64Array {
  const count = times.length;
  const ways = new Float64Array(count);
  for (let i = 1; i < count; i++)
    ways[i] =
      ways[i - 1] +
      Math.hypot(places[3 * i] - places[3 * i - 3], places[3 * i + 1] - places[3 * i - 2], places[3 * i + 2] - places[3 * i - 1]);
  const out = places.slice();
  for (let i = 1, n = 1; i + 1 < count; i++) {
    const way = (ways[count - 1] * (times[i] - times[0])) / (times[count - 1] - times[0]);
    while (n + 1 < count && ways[n] < way) n++;
    const share = ways[n] > ways[n - 1] ? (way - ways[n - 1]) / (ways[n] - ways[n - 1]) : 0;
    for (let k = 0; k < 3; k++) out[3 * i + k] = places[3 * (n - 1) + k] + share * (places[3 * n + k] - places[3 * (n - 1) + k]);
  }
  return out;
}
