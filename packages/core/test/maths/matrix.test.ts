import * as fc from "fast-check";
import { Matrix4, Quaternion, Vector3 } from "three";
import { invertAffine, multiplyAffine } from "../../src/maths/matrix.ts";

const number = fc.double({ min: -3, max: 3, noNaN: true });
const positive = fc.double({ min: 0.2, max: 4, noNaN: true });
const anyMatrix = fc
  .record({
    move: fc.tuple(number, number, number),
    turn: fc.tuple(number, number, number, number),
    scale: fc.tuple(positive, positive, positive),
  })
  .filter(({ turn }) => Math.hypot(...turn) > 0.1)
  .map(({ move, turn, scale }) => new Matrix4().compose(new Vector3(...move), new Quaternion(...turn).normalize(), new Vector3(...scale)));

test("product and inverse of affine matrices equal three's", () => {
  fc.assert(
    fc.property(anyMatrix, anyMatrix, (a, b) => {
      const product = new Float64Array(16);
      multiplyAffine(product, 0, a.elements, 0, b.elements, 0);
      const three = new Matrix4().multiplyMatrices(a, b).elements;
      const inverse = new Float64Array(16);
      invertAffine(inverse, 0, a.elements, 0);
      const threeInverse = a.clone().invert().elements;
      for (let k = 0; k < 16; k++) {
        expect(Math.abs(product[k] - three[k])).toBeLessThan(1e-9);
        expect(Math.abs(inverse[k] - threeInverse[k])).toBeLessThan(1e-6);
      }
    }),
  );
});
