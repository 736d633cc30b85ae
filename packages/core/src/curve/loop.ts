import { KneaderError } from "../errors.ts";
import { type Curve, HOLD, type Key, keyOn, keysOf, type RunOn, Tangent } from "./curve.ts";
import { curveKeeping } from "./make.ts";
import { repeats } from "./runOn.ts";
import { splitAt } from "./split.ts";
import { freedKey, turnedCurve } from "./turn.ts";

/*
 * Rounds turned into keys. The motion stays at every whole frame; where a round does not begin with the value
 * with which the one before it ended, the jump takes the frame beside the seam, elsewhere it stays at every time.
 */

/** More keys than this are not made of rounds. */
const MOST_KEYS = 200_000;

/** How many rounds become keys on each side, and what the curve does outside them. */
interface Plan {
  readonly before: number;
  readonly after: number;
  readonly runIn: RunOn;
  readonly runOut: RunOn;
}

/**
 * Turn rounds of the run-out (or run-in) into keys: as many as asked for, or the few more it takes for the rest to
 * go on as it does. Errors: `bad-setting` when the two sides go on in ways that no keys can stand for, or when there
 * would be too many.
 */
export function bakeRounds(curve: Curve, side: "in" | "out", rounds: number): Curve {
  const run = side === "out" ? curve.runOut : curve.runIn;
  if (curve.times.length < 2 || rounds < 1 || !repeats(run)) return curve;
  return carriedOut(curve, planFor(curve, side, Math.min(rounds, run.rounds || Number.POSITIVE_INFINITY)));
}

/**
 * The curve with keys up to a time, where that lies in a round: what puts a key there would otherwise change the
 * cycle. All rounds on that side become keys, so that what is then changed in one is changed in no other; where they
 * go on for ever, as many as are needed, and the longer cycle goes on. A curve that does not repeat there is
 * answered as it is. Errors: see `bakeRounds`.
 */
export function openRounds(curve: Curve, time: number): Curve {
  const side = outsideOf(curve, time);
  if (side === null) return curve;
  const { times } = curve;
  const run = side === "in" ? curve.runIn : curve.runOut;
  if (!repeats(run)) return curve;
  const last = times.length - 1;
  const away = side === "in" ? times[0] - time : time - times[last];
  return bakeRounds(curve, side, run.rounds || Math.ceil(away / (times[last] - times[0]) - 1e-9));
}

/**
 * The same for a key that must change nothing: where the curve holds at the time and repeats on its other side, those
 * rounds become keys as well, as they would play a longer cycle.
 */
export function openAllRounds(curve: Curve, time: number): Curve {
  const opened = openRounds(curve, time);
  const side = outsideOf(opened, time);
  if (side === null) return opened;
  const other = side === "in" ? opened.runOut : opened.runIn;
  if (!repeats(other)) return opened;
  if (other.rounds === 0) throw endless();
  return bakeRounds(opened, side === "in" ? "out" : "in", other.rounds);
}

/** On which side of its keys a time lies; null for among them, and for a curve too short to repeat. */
function outsideOf({ times }: Curve, time: number): "in" | "out" | null {
  const last = times.length - 1;
  if (last < 1 || (time >= times[0] - 1e-6 && time <= times[last] + 1e-6)) return null;
  return time < times[0] ? "in" : "out";
}

/** Does a round begin elsewhere than where the one before it ended? */
function jumps({ values, runIn, runOut }: Curve): boolean {
  return (runIn.kind === "repeat" || runOut.kind === "repeat") && !isSame(values[values.length - 1], values[0]);
}

function isSame(a: number, b: number): boolean {
  return Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a));
}

/**
 * The least number of rounds, not below `least`, after which what is left is so many rounds of the longer cycle;
 * the other side must come out whole too, or is turned into keys as well.
 */
function planFor(curve: Curve, side: "in" | "out", least: number): Plan {
  const [run, other] = side === "out" ? [curve.runOut, curve.runIn] : [curve.runIn, curve.runOut];
  const alike = run.kind === other.kind && !jumps(curve);
  const rest = (left: number, longer: number, { kind, rounds }: RunOn): RunOn | null => {
    if (rounds === 0) return { kind, rounds: 0 };
    return left % longer === 0 ? (left === 0 ? HOLD : { kind, rounds: left / longer }) : null;
  };
  const order = (made: number, own: RunOn, far: number, farRun: RunOn): Plan =>
    side === "out" ? { before: far, after: made, runIn: farRun, runOut: own } : { before: made, after: far, runIn: own, runOut: farRun };
  for (let made = least; made <= (run.rounds || least); made++) {
    const own = rest(run.rounds - made, made + 1, run);
    const far = !repeats(other) ? other : alike ? rest(other.rounds, made + 1, other) : null;
    if (own && far) return order(made, own, 0, far);
  }
  if (run.rounds > 0 && other.rounds > 0) return order(run.rounds, HOLD, other.rounds, HOLD);
  throw endless();
}

function endless(): KneaderError {
  return new KneaderError(
    "bad-setting",
    "A curve repeats for ever on one side of its keys and does something else on the other: a key there would change what it repeats.",
    "Give it a number of rounds first, or let it hold.",
  );
}

function carriedOut(curve: Curve, { before, after, runIn, runOut }: Plan): Curve {
  const keys = keysOf(curve);
  if (keys.length * (before + after + 1) > MOST_KEYS)
    throw new KneaderError(
      "bad-setting",
      `${before + after} rounds of ${keys.length} keys are too many to become keys (${MOST_KEYS} at the most).`,
      "Choose a frame nearer to the keys.",
    );
  const rounds = [{ keys, side: 0 }];
  for (let round = 1; round <= after; round++) rounds.push({ keys: roundOf(curve, keys, round, curve.runOut), side: 1 });
  for (let round = 1; round <= before; round++) rounds.unshift({ keys: roundOf(curve, keys, -round, curve.runIn), side: -1 });
  const all: Key[] = [...rounds[0].keys];
  for (let r = 1; r < rounds.length; r++) join(all, rounds[r].keys, rounds[r].side > 0 ? "after" : "before");
  return curveKeeping(all, { runIn, runOut });
}

/** The keys of a round, counted from the real ones; before them below 0. */
function roundOf(curve: Curve, keys: readonly Key[], round: number, { kind }: RunOn): Key[] {
  const { times, values } = curve;
  const last = times.length - 1;
  const span = times[last] - times[0];
  const step = kind === "travel" ? values[last] - values[0] : 0;
  const source = kind === "pingpong" && round % 2 !== 0 ? keysOf(turnedCurve(curve, times[0] + times[last])) : keys;
  return source.map((key) => ({ ...key, time: key.time + round * span, value: key.value + round * step }));
}

/** So many keys away from a cut tangents are what they were; half as many are known to have had their neighbours when it was made. */
const REACH = 4;

/**
 * Put a round behind what there is. Where both meet, the key takes its left side from one and its right side from
 * the other. A jump is a hold on the frame beside the seam: a seam belongs to the round nearer to the real keys,
 * so after them the jump comes after it, and before them before it.
 */
function join(all: Key[], right: readonly Key[], jump: "after" | "before"): void {
  const a = all[all.length - 1];
  const b = right[0];
  if (isSame(a.value, b.value)) {
    // Rounds are counted out from the real keys: the time of the one nearer to them is the truer one.
    const { time } = jump === "after" ? a : b;
    all[all.length - 1] = { ...b, time, slopeIn: a.slopeIn, weightIn: a.weightIn, kindIn: a.kindIn };
    append(all, right.slice(1));
  } else if (jump === "after") {
    const landing = Math.min(Math.floor(a.time + 1e-6) + 1, right[right.length - 1].time);
    const [first, ...rest] = cut(right, landing).filter(({ time }) => time >= landing - 1e-6);
    append(all, [{ ...freedKey(first), kindIn: Tangent.stepped }, ...rest]);
  } else {
    const leaving = Math.max(Math.ceil(a.time - 1e-6) - 1, all[0].time);
    // Only its end is cut: with hundreds of rounds behind it the whole would be gone through each time.
    let from = all.length - 1;
    while (from > 0 && all[from].time > leaving) from--;
    from = Math.max(0, from - REACH);
    const left = cut(all.slice(from), leaving).filter(({ time }) => time <= leaving + 1e-6);
    left[left.length - 1] = { ...freedKey(left[left.length - 1]), kindOut: Tangent.stepped };
    const same = from > 0 ? REACH / 2 : 0;
    all.length = from + same;
    append(all, left.slice(same));
    append(all, right);
  }
}

function append(all: Key[], more: readonly Key[]): void {
  for (const key of more) all.push(key);
}

/** The keys with one more at a time, their motion kept. */
function cut(keys: readonly Key[], time: number): Key[] {
  const curve = curveKeeping(keys);
  return keyOn(curve, time) >= 0 ? [...keys] : keysOf(splitAt(curve, [time]));
}
