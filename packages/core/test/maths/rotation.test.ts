import * as fc from "fast-check";
import { Euler, Matrix4, Quaternion } from "three";
import reference from "../../../../reference/curves.json";
import {
  DEG,
  eulerFromMatrix,
  eulerFromQuat,
  matrixFromQuat,
  nearestEuler,
  orderNumber,
  quatAngle,
  quatFromEuler,
  quatFromMatrix,
  quatMultiply,
  quatPower,
  type RotationOrder,
  rotationOrders,
} from "../../src/maths/rotation.ts";
import { turnOfAngles, turnsOfAngles } from "../../src/maths/turnOfAngles.ts";
import { makeTurnPower, powersOf, setShare } from "../../src/maths/turnPower.ts";
import { anyAngle } from "../help/random.ts";

const anyQuat = fc
  .tuple(...[0, 1, 2, 3].map(() => fc.double({ min: -1, max: 1, noNaN: true })))
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => Float64Array.from(q, (value) => value / Math.hypot(...q)));

const quatOf = (angles: readonly number[], order: RotationOrder): Float64Array => {
  const q = new Float64Array(4);
  quatFromEuler(q, 0, angles[0] * DEG, angles[1] * DEG, angles[2] * DEG, order);
  return q;
};

describe.each(rotationOrders)("order %s", (order) => {
  test("Euler to quaternion equals three's Quaternion.setFromEuler (Shoemake 1985)", () => {
    fc.assert(
      fc.property(anyAngle, anyAngle, anyAngle, (x, y, z) => {
        const ours = quatOf([x, y, z], order);
        const three = new Quaternion().setFromEuler(new Euler(x * DEG, y * DEG, z * DEG, order)).toArray();
        three.forEach((value, k) => {
          expect(Math.abs(ours[k] - value)).toBeLessThan(1e-12);
        });
      }),
    );
  });

  test("equals SciPy's Rotation.from_euler (reference/curves.py)", () => {
    for (const row of reference.rotations.filter((r) => r.order === order))
      expect(quatAngle(quatOf(row.angles, order), 0, row.quat, 0)).toBeLessThan(1e-6);
  });

  test("quaternion to matrix to Euler and back is the same turn", () => {
    fc.assert(
      fc.property(anyQuat, (q) => {
        const euler = [0, 0, 0];
        eulerFromQuat(euler, 0, q, 0, order);
        const back = new Float64Array(4);
        quatFromEuler(back, 0, euler[0], euler[1], euler[2], order);
        expect(quatAngle(q, 0, back, 0)).toBeLessThan(1e-5);
      }),
    );
  });

  test("Euler from matrix equals three's Euler.setFromRotationMatrix", () => {
    fc.assert(
      fc.property(anyQuat, (q) => {
        const m = new Matrix4().makeRotationFromQuaternion(new Quaternion(...q));
        const three = new Euler().setFromRotationMatrix(m, order);
        const ours = [0, 0, 0];
        eulerFromMatrix(ours, 0, m.elements, 0, 4, order);
        const difference = quatAngle(
          quatOf([three.x / DEG, three.y / DEG, three.z / DEG], order),
          0,
          quatOf(
            ours.map((a) => a / DEG),
            order,
          ),
          0,
        );
        // three treats anything within 0.03° of a pole as the pole.
        expect(difference).toBeLessThan(0.06);
      }),
    );
  });

  test("the nearest Euler triple is the same turn and no further away than the one given", () => {
    fc.assert(
      fc.property(fc.tuple(anyAngle, anyAngle, anyAngle), fc.tuple(anyAngle, anyAngle, anyAngle), (euler, near) => {
        const found = nearestEuler([...euler], [...near], order);
        expect(quatAngle(quatOf(euler, order), 0, quatOf(found, order), 0)).toBeLessThan(1e-5);
        const away = (e: readonly number[]) => e.reduce((sum, angle, k) => sum + Math.abs(angle - near[k]), 0);
        expect(away(found)).toBeLessThanOrEqual(away(euler) + 1e-9);
      }),
    );
  });

  test("at the pole, where two axes fall together, the turn is still right", () => {
    const middle = "XYZ".indexOf(order[1]);
    for (const pole of [90, -90]) {
      const angles = [30, -50, 70];
      angles[middle] = pole;
      const q = quatOf(angles, order);
      const euler = [0, 0, 0];
      eulerFromQuat(euler, 0, q, 0, order);
      const back = quatOf(
        euler.map((a) => a / DEG),
        order,
      );
      expect(quatAngle(q, 0, back, 0)).toBeLessThan(1e-4);
    }
  });
});

describe("many turns at once", () => {
  test("are those of Math's sines and cosines to the last places, whole rounds and small angles too", () => {
    const angle = fc.oneof(
      anyAngle,
      fc.double({ min: -4e5, max: 4e5, noNaN: true }),
      fc.constantFrom(0, 49.99, 50, 90, -180, 180, 360, 540),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(angle, angle, angle), { minLength: 1, maxLength: 5 }), (turns) => {
        const orders = turns.map((_, n) => rotationOrders[n]);
        const out = new Float64Array(turns.length * 4);
        // Three numbers between them, as channels of a control have.
        const angles = Float64Array.from([7, ...turns.flatMap((turn) => [...turn, 1, 2, 3])]);
        turnsOfAngles(out, angles, 1, 6, Uint8Array.from(orders, orderNumber));
        turns.forEach((turn, n) => {
          // Whole rounds are taken out of degrees, where that is exact; two rounds change nothing.
          const [x, y, z] = turn.map((one) => (one % 720) * DEG);
          const three = new Quaternion().setFromEuler(new Euler(x, y, z, orders[n])).toArray();
          three.forEach((value, k) => {
            expect(Math.abs(out[4 * n + k] - value)).toBeLessThan(3e-15);
          });
        });
      }),
      { numRuns: 1000 },
    );
    const none = new Float64Array(4);
    turnOfAngles(none, 0, Float64Array.of(0, Number.NaN, 0), 0, 0);
    expect([...none].every(Number.isNaN)).toBe(true);
  });

  test("shares of turns by series are those of sine and arc tangent, small turns and large ones, within 3e-15", () => {
    const power = makeTurnPower();
    fc.assert(
      fc.property(
        fc.array(fc.tuple(anyQuat, fc.constantFrom(1, 0.3, 0.05, 1e-9)), { minLength: 1, maxLength: 6 }),
        fc.oneof(fc.double({ min: -1, max: 2, noNaN: true }), fc.constantFrom(0, 1, 2, 3.5, -12)),
        (some, share) => {
          // Turned less and less far: the axis part made smaller, and of length one again.
          const turns = some.flatMap(([q, part]) => {
            const small = [q[0] * part, q[1] * part, q[2] * part, q[3] + (q[3] < 0 ? part - 1 : 1 - part)];
            return small.map((value) => value / Math.hypot(...small));
          });
          setShare(power, share);
          const out = Float64Array.from(turns);
          powersOf(out, out, power);
          for (let n = 0; n < turns.length; n += 4) {
            const [x, y, z, w] = turns.slice(n, n + 4).map((value) => value * (turns[n + 3] < 0 ? -1 : 1));
            const sine = Math.hypot(x, y, z);
            const half = Math.atan2(sine, w);
            const scale = sine === 0 ? share : Math.sin(half * share) / sine;
            [x * scale, y * scale, z * scale, Math.cos(half * share)].forEach((value, k) => {
              expect(Math.abs(out[n + k] - value)).toBeLessThan(3e-15 * (1 + Math.abs(share)));
            });
          }
        },
      ),
      { numRuns: 1000 },
    );
  });
});

describe("quaternions", () => {
  test("matrix from quaternion equals three's", () => {
    fc.assert(
      fc.property(anyQuat, (q) => {
        const ours = new Float64Array(16);
        matrixFromQuat(ours, 0, 4, q, 0);
        const three = new Matrix4().makeRotationFromQuaternion(new Quaternion(...q)).elements;
        for (const k of [0, 1, 2, 4, 5, 6, 8, 9, 10]) expect(Math.abs(ours[k] - three[k])).toBeLessThan(1e-12);
      }),
    );
  });

  test("and back, for every branch of the larger diagonal term (Shepperd 1978)", () => {
    for (const q of [
      [0, 0, 0, 1],
      [1, 0, 0, 0],
      [0, 1, 0, 0],
      [0, 0, 1, 0],
      [0.7, 0.1, 0.1, 0.2],
      [0.1, 0.7, 0.1, 0.2],
      [0.1, 0.1, 0.7, 0.2],
    ]) {
      const unit = Float64Array.from(q, (v) => v / Math.hypot(...q));
      const m = new Float64Array(16);
      const back = new Float64Array(4);
      matrixFromQuat(m, 0, 4, unit, 0);
      quatFromMatrix(back, 0, m, 0, 4);
      expect(quatAngle(unit, 0, back, 0)).toBeLessThan(1e-5);
    }
  });

  test("product equals three's, also into one of its factors", () => {
    fc.assert(
      fc.property(anyQuat, anyQuat, (a, b) => {
        const three = new Quaternion(...a).multiply(new Quaternion(...b)).toArray();
        const into = Float64Array.from(a);
        quatMultiply(into, 0, into, 0, b, 0);
        three.forEach((value, k) => {
          expect(Math.abs(into[k] - value)).toBeLessThan(1e-12);
        });
      }),
    );
  });

  test("a power between 0 and 1 is three's slerp from no turn", () => {
    fc.assert(
      fc.property(anyQuat, fc.double({ min: 0, max: 1, noNaN: true }), (q, share) => {
        const out = new Float64Array(4);
        quatPower(out, 0, q, 0, share);
        const three = new Quaternion().slerp(new Quaternion(...q), share).toArray();
        expect(quatAngle(out, 0, three, 0)).toBeLessThan(1e-4);
      }),
    );
  });

  test("a power of 2 is the turn twice, of −1 its inverse", () => {
    const q = quatOf([20, 30, -40], "XYZ");
    const out = new Float64Array(4);
    const twice = new Float64Array(4);
    quatPower(out, 0, q, 0, 2);
    quatMultiply(twice, 0, q, 0, q, 0);
    expect(quatAngle(out, 0, twice, 0)).toBeLessThan(1e-6);
    quatPower(out, 0, q, 0, -1);
    expect([...out]).toEqual([-q[0], -q[1], -q[2], q[3]].map((v) => expect.closeTo(v, 12)));
  });

  test("the angle between two turns is that of three's angleTo, and exact when small", () => {
    fc.assert(
      fc.property(anyQuat, anyQuat, (a, b) => {
        const three = new Quaternion(...a).angleTo(new Quaternion(...b)) / DEG;
        expect(Math.abs(quatAngle(a, 0, b, 0) - three)).toBeLessThan(1e-3);
      }),
    );
    expect(quatAngle(quatOf([0, 0, 0], "XYZ"), 0, quatOf([1e-7, 0, 0], "XYZ"), 0)).toBeCloseTo(1e-7, 12);
  });
});
