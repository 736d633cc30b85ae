import * as fc from "fast-check";
import { Euler, Matrix4, Quaternion, Vector3 } from "three";
import { stretchOf, turnFromAffine, writeTurned } from "../../src/maths/decompose.ts";
import { quatAngle } from "../../src/maths/rotation.ts";

const angle = fc.double({ min: -3, max: 3, noNaN: true });
const positive = fc.double({ min: 0.05, max: 20, noNaN: true });
const signed = fc.tuple(positive, fc.boolean()).map(([size, minus]) => (minus ? -size : size));
const turn = fc.tuple(angle, angle, angle).map(([x, y, z]) => new Quaternion().setFromEuler(new Euler(x, y, z)));

const composed = (q: Quaternion, s: readonly number[]) => new Matrix4().compose(new Vector3(1, 2, 3), q, new Vector3(s[0], s[1], s[2]));
const turnOf = (m: Matrix4, scale?: readonly number[]) => {
  const q = new Float64Array(4);
  turnFromAffine(q, 0, m.elements, 0, scale);
  return q;
};

test("the turn of a matrix without shear is the one three's decompose finds", () => {
  fc.assert(
    fc.property(turn, fc.tuple(positive, positive, positive), (q, s) => {
      const m = composed(q, s);
      const [place, three, scale] = [new Vector3(), new Quaternion(), new Vector3()];
      m.decompose(place, three, scale);
      expect(quatAngle(turnOf(m), 0, three.toArray(), 0)).toBeLessThan(1e-5);
    }),
  );
});

test("with its scale known, a mirrored control has the turn its channels say", () => {
  fc.assert(
    fc.property(turn, fc.tuple(signed, signed, signed), (q, s) => {
      expect(quatAngle(turnOf(composed(q, s), s), 0, q.toArray(), 0)).toBeLessThan(1e-5);
    }),
  );
});

test("under uneven, mirroring parents: a proper rotation and a symmetric stretch, which is what the nearest turn means (polar decomposition)", () => {
  fc.assert(
    fc.property(turn, fc.tuple(signed, signed, signed), turn, fc.tuple(signed, signed, signed), (qa, sa, qb, sb) => {
      const m = composed(qa, sa).multiply(composed(qb, sb));
      const q = turnOf(m);
      expect(Math.abs(Math.hypot(...q) - 1)).toBeLessThan(1e-12);
      const p = new Float64Array(9);
      stretchOf(p, q, 0, m.elements, 0);
      const size = Math.hypot(...p);
      for (const [a, b] of [
        [1, 3],
        [2, 6],
        [5, 7],
      ])
        expect(Math.abs(p[a] - p[b])).toBeLessThan(1e-6 * size);
      // Nothing is lost: the turn and the stretch make the matrix again.
      const again = new Float64Array(16);
      writeTurned(again, 0, q, 0, p);
      for (const k of [0, 1, 2, 4, 5, 6, 8, 9, 10]) expect(Math.abs(again[k] - m.elements[k])).toBeLessThan(1e-9 * size);
    }),
  );
});

test("flattened and vanished matrices still have a turn", () => {
  for (const s of [
    [0, 1, 1],
    [0, 0, 2],
    [0, 0, 0],
    [1, -1, 0],
  ]) {
    const q = turnOf(composed(new Quaternion().setFromEuler(new Euler(0.3, 0.2, 0.1)), s));
    expect(Math.abs(Math.hypot(...q) - 1)).toBeLessThan(1e-12);
  }
});
