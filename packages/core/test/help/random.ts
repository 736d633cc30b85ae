import * as fc from "fast-check";
import { type Curve, type Key, keysOf, type RunKind, type RunOn, Tangent, type TangentKind } from "../../src/curve/curve.ts";
import { curveFromKeys } from "../../src/curve/make.ts";

const kinds = Object.values(Tangent) as TangentKind[];

/** Without negative zero, which JSON does not know. */
const number = (size: number) => fc.double({ min: -size, max: size, noNaN: true }).map((value) => value + 0);

/** A key without its time: any kinds, any handles. */
const looseKey = fc.record({
  gap: fc.integer({ min: 1, max: 20 }),
  // Equal values now and then: level spans and peaks have rules of their own.
  value: fc.oneof(number(200), fc.constantFrom(0, 10)),
  slopeIn: number(20),
  slopeOut: number(20),
  weightIn: fc.double({ min: 0.05, max: 0.95, noNaN: true }),
  weightOut: fc.double({ min: 0.05, max: 0.95, noNaN: true }),
  kindIn: fc.constantFrom(...kinds),
  kindOut: fc.constantFrom(...kinds),
  plain: fc.boolean(),
});

/** Curves of two to nine keys with every kind of tangent, weighted and plain handles. */
export const anyCurve: fc.Arbitrary<Curve> = fc.array(looseKey, { minLength: 2, maxLength: 9 }).map((list) => {
  let time = 0;
  const keys = list.map(({ gap, plain, ...key }): Key => {
    time += gap;
    return { ...key, time, ...(plain ? { weightIn: 1 / 3, weightOut: 1 / 3 } : {}) };
  });
  return curveFromKeys(keys);
});

const anyRun: fc.Arbitrary<RunOn> = fc.record({
  kind: fc.constantFrom<RunKind>("hold", "straight", "repeat", "travel", "pingpong"),
  rounds: fc.integer({ min: 0, max: 4 }),
});

/** The same with any run-in and run-out, and keys between frames in some. */
export const anyLoop: fc.Arbitrary<Curve> = fc
  .record({ curve: anyCurve, runIn: anyRun, runOut: anyRun, between: fc.boolean(), shift: fc.constantFrom(0.1, 0.25, 0.4) })
  .map(({ curve, between, shift, ...runs }) => {
    const keys = keysOf(curve).map((key, i) => ({ ...key, time: between ? key.time + (i % 3) * shift : key.time }));
    return curveFromKeys(keys, runs);
  });

/** Times spread over some span, fractional ones among them: the same for a seed. */
export function someTimes(from: number, to: number, count: number, seed = 1): number[] {
  let state = seed;
  return Array.from({ length: count }, () => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return from + ((to - from) * state) / 2147483648;
  });
}

export const anyAngle = fc.double({ min: -720, max: 720, noNaN: true });
