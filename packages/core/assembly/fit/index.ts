/*
 * The inner loops of unbroken fits (see `curve/fit/unbroken`), compiled to WebAssembly: they take most of the time that
 * simplifying takes, and look at two frames at a time. What is here is asked by `fitKernel.ts` alone. One instance serves
 * one fit at a time; curves and searches go by numbers.
 */
import { CurveWalls } from "./curveWalls";
import { SpanSearch } from "./spanSearch";
import { corners, count, setCount } from "./states";

const curves: CurveWalls[] = [];
const searches: SpanSearch[] = [];
let curveCount = 0;
let searchCount = 0;

/** Forget all curves and searches; what they took up is used again. */
export function clear(): void {
  curveCount = 0;
  searchCount = 0;
}

/** A curve of so many samples. Its walls are to be written where `wallsOf` says. */
export function addCurve(samples: i32): i32 {
  if (curveCount == curves.length) curves.push(new CurveWalls());
  curves[curveCount].begin(samples);
  return curveCount++;
}

export function wallsOf(curve: i32): usize {
  return changetype<usize>(curves[curve].walls);
}

/** Where the states that are worked on stand: value, slope, and the value and slope that lead there, of one after the other. */
export function statesAt(): usize {
  return changetype<usize>(corners);
}

/** So many states were written there. */
export function work(many: i32): void {
  setCount(many);
}

/** A curve must end in the states that are worked on. */
export function endIn(curve: i32): void {
  curves[curve].end.lay();
}

export function addSearch(curve: i32): i32 {
  if (searchCount == searches.length) searches.push(new SpanSearch());
  searches[searchCount].follow(curves[curve]);
  return searchCount++;
}

/** Spans from a sample on, that begin in the states that are worked on. */
export function begin(search: i32, from: i32): void {
  searches[search].begin(from);
}

/** How far they can go: see `SpanSearch`. */
export function grow(search: i32, limit: i32, least: i32, hoped: i32): i32 {
  return searches[search].grow(limit, least, hoped);
}

/** Work on the states that one of them can end in; answers how many corners they have. */
export function reach(search: i32, length: i32): i32 {
  searches[search].statesAt(length);
  return count;
}

/** Where the states stand in which a search began, as those that are worked on; and how many. */
export function startOf(search: i32): usize {
  return changetype<usize>(searches[search].start);
}

export function startCount(search: i32): i32 {
  return searches[search].startCount;
}
