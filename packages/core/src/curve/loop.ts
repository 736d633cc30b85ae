import { type Curve, HOLD, type Key, keysOf, Tangent } from "./curve.ts";
import { insertKeyOn } from "./edit.ts";
import { curveFromKeys } from "./make.ts";
import { freedKey, turnedKeys } from "./turn.ts";

/**
 * Turn the rounds of a run-out (or run-in) into keys: the curve stays what it was within the baked
 * rounds. Where rounds meet, the key takes its left side from one and its right side from the other.
 * Where they meet with a jump, the jump takes the one frame after the seam, so that every whole frame
 * still shows what it showed.
 */
export function bakeRounds(curve: Curve, side: "in" | "out", rounds: number): Curve {
  const run = side === "out" ? curve.runOut : curve.runIn;
  const n = curve.times.length;
  if (n < 2 || rounds < 1 || run.kind === "hold" || run.kind === "straight") return curve;
  const keys = keysOf(curve).map(freedKey);
  const span = keys[n - 1].time - keys[0].time;
  const step = run.kind === "travel" ? keys[n - 1].value - keys[0].value : 0;
  let all: Key[] = keys;
  for (let round = 1; round <= rounds; round++) {
    const sign = side === "out" ? 1 : -1;
    const mirrored = run.kind === "pingpong" && round % 2 === 1;
    const source = mirrored ? turnedKeys(keys, keys[0].time + keys[n - 1].time) : keys;
    const copy = source.map((key) => ({ ...key, time: key.time + sign * round * span, value: key.value + sign * round * step }));
    all = side === "out" ? joined(all, copy) : joined(copy, all);
  }
  const runs = side === "out" ? { runIn: curve.runIn, runOut: HOLD } : { runIn: HOLD, runOut: curve.runOut };
  return curveFromKeys(all, runs);
}

function joined(left: Key[], right: Key[]): Key[] {
  const a = left[left.length - 1];
  const b = right[0];
  if (Math.abs(a.value - b.value) <= 1e-9 * Math.max(1, Math.abs(a.value)))
    return [...left.slice(0, -1), { ...b, slopeIn: a.slopeIn, weightIn: a.weightIn, kindIn: a.kindIn }, ...right.slice(1)];
  const jump: Key = { ...a, kindOut: Tangent.linear };
  const opened = right[1].time > b.time + 1 + 1e-6 ? keysOf(insertKeyOn(curveFromKeys(right), b.time + 1)) : right;
  const [, landing, ...rest] = opened;
  return [...left.slice(0, -1), jump, { ...freedKey(landing), kindIn: Tangent.linear }, ...rest.map(freedKey)];
}
