import * as fc from "fast-check";
import { type Curve, type Key, Tangent, type TangentKind } from "../../src/curve/curve.ts";
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

export const anyAngle = fc.double({ min: -720, max: 720, noNaN: true });
