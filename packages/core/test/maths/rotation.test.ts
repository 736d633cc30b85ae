import * as fc from "fast-check";
import { Euler, Matrix4, Quaternion } from "three";
import reference from "../../../../reference/curves.json";
import {
  DEG,
  eulerFromMatrix,
  eulerFromQuat,
  matrixFromQuat,
  nearestEuler,
  quatAngle,
  quatFromEuler,
  quatFromMatrix,
  quatMultiply,
  quatPower,
  type RotationOrder,
  rotationOrders,
} from "../../src/maths/rotation.ts";
import { sinCos } from "../../src/maths/sinCos.ts";
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

test("sine and cosine together are those of Math to the last place or two", () => {
  fc.assert(
    fc.property(fc.double({ min: -4e5, max: 4e5, noNaN: true }), (x) => {
      const angles = [x, x * 1e-4, x * 1e-9];
      const both = Float64Array.from(angles.flatMap((angle) => [angle, 0]));
      sinCos(both, 3);
      angles.forEach((angle, k) => {
        expect(Math.abs(both[2 * k] - Math.sin(angle))).toBeLessThan(4e-16);
        expect(Math.abs(both[2 * k + 1] - Math.cos(angle))).toBeLessThan(4e-16);
      });
    }),
    { numRuns: 2000 },
  );
  for (let k = -8; k <= 8; k++) {
    const both = Float64Array.of((k * Math.PI) / 4, 0);
    sinCos(both, 1);
    expect(both[0]).toBeCloseTo(Math.sin((k * Math.PI) / 4), 15);
    expect(both[1]).toBeCloseTo(Math.cos((k * Math.PI) / 4), 15);
  }
  const none = Float64Array.of(Number.NaN, 0);
  sinCos(none, 1);
  expect([...none]).toEqual([Number.NaN, Number.NaN]);
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
