import { Matrix4, Quaternion, Vector3 } from "three";
import { bendLimb } from "../../src/constraints/bendLimb.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import { Chance } from "../help/chance.ts";
import { anyTurn } from "../help/randomRig.ts";

type Limb = Parameters<typeof bendLimb>[2];

/** A limb by chance, bent by at least a few degrees, and something within its reach. */
function someLimb(chance: Chance, bones = 2): Limb {
  const joints = new Float64Array(3 * (bones + 1));
  const turn = new Quaternion(...anyTurn(chance));
  let angle = 0;
  for (let n = 1; n <= bones; n++) {
    angle += chance.between(0.1, 1.2);
    const length = chance.between(0.3, 1);
    joints[3 * n] = joints[3 * n - 3] + length * Math.cos(angle);
    joints[3 * n + 1] = joints[3 * n - 2] + length * Math.sin(angle);
  }
  const at = new Vector3();
  for (let n = 0; n <= bones; n++)
    at.fromArray(joints, 3 * n)
      .applyQuaternion(turn)
      .toArray(joints, 3 * n);
  const hinge = new Float64Array(new Vector3(0, 0, 1).applyQuaternion(turn).toArray());
  const goal = Float64Array.from([0, 1, 2], () => chance.between(-1, 1));
  return { joints, bones, goal, hinge, toward: null, softness: 0, twist: 0, stretches: false };
}

function bent(limb: Limb) {
  const points = new Float64Array(3 * (limb.bones + 1));
  const turns = new Float64Array(4 * limb.bones);
  bendLimb(points, turns, limb);
  return { points, turns };
}
const place = (points: ArrayLike<number>, n: number) => new Vector3(points[3 * n], points[3 * n + 1], points[3 * n + 2]);
const lengthsOf = (points: ArrayLike<number>, bones: number) =>
  Array.from({ length: bones }, (_, n) => place(points, n).distanceTo(place(points, n + 1)));

describe("a limb that reaches", () => {
  test("keeps its lengths, and its end is at the goal or as near as they let it", () => {
    for (let seed = 1; seed <= 400; seed++) {
      const chance = new Chance(seed);
      const bones = 2 + chance.below(4);
      const limb = someLimb(chance, bones);
      const { points, turns } = bent(limb);
      const lengths = lengthsOf(limb.joints, bones);
      lengthsOf(points, bones).forEach((length, n) => {
        expect(Math.abs(length - lengths[n])).toBeLessThan(1e-12);
      });
      const total = lengths.reduce((sum, length) => sum + length, 0);
      const wanted = new Vector3(...limb.goal);
      const least = Math.max(0, 2 * Math.max(...lengths) - total);
      const off = place(points, bones).distanceTo(wanted);
      if (wanted.length() < total && (bones === 2 ? wanted.length() > least : wanted.length() > 0.9 * total))
        expect(off).toBeLessThan(1e-9);
      // Each bone's turn takes it from where it was to where it is, as three turns vectors.
      for (let n = 0; n < bones; n++) {
        const was = place(limb.joints, n + 1).sub(place(limb.joints, n));
        was.applyQuaternion(new Quaternion(...turns.slice(4 * n, 4 * n + 4)));
        expect(was.distanceTo(place(points, n + 1).sub(place(points, n)))).toBeLessThan(1e-12);
      }
    }
  });

  test("bends by the law of cosines", () => {
    for (let seed = 1; seed <= 100; seed++) {
      const limb = someLimb(new Chance(seed + 1000));
      const { points } = bent(limb);
      const [a, b] = lengthsOf(limb.joints, 2);
      const d = place(points, 2).length();
      const inner = place(points, 0)
        .sub(place(points, 1))
        .angleTo(place(points, 2).sub(place(points, 1)));
      // Source: the law of cosines, d² = a² + b² − 2ab·cos γ.
      expect(a * a + b * b - 2 * a * b * Math.cos(inner)).toBeCloseTo(d * d, 10);
    }
  });

  test("where the end is there already nothing moves, toward its own side too", () => {
    for (let seed = 1; seed <= 200; seed++) {
      const chance = new Chance(seed + 2000);
      const limb = someLimb(chance);
      const elbow = place(limb.joints, 1);
      const end = place(limb.joints, 2);
      const along = end.clone().normalize();
      const side = elbow.clone().addScaledVector(along, -elbow.dot(along));
      const toward = new Float64Array(end.clone().multiplyScalar(0.5).addScaledVector(side, 3).toArray());
      for (const pole of [null, toward]) {
        const { points, turns } = bent({ ...limb, goal: new Float64Array(end.toArray()), toward: pole });
        limb.joints.forEach((value, k) => {
          expect(Math.abs(points[k] - value)).toBeLessThan(1e-12);
        });
        for (const n of [0, 1]) expect(quatAngle(turns, 4 * n, [0, 0, 0, 1], 0)).toBeLessThan(1e-6);
      }
    }
  });

  test("bends toward a place: elbow, line and place lie in one plane, on its side", () => {
    for (let seed = 1; seed <= 200; seed++) {
      const chance = new Chance(seed + 3000);
      const limb = someLimb(chance);
      const toward = Float64Array.from([0, 1, 2], () => chance.between(-2, 2));
      const { points } = bent({ ...limb, toward });
      const along = new Vector3(...limb.goal).normalize();
      const flat = (v: Vector3) => v.addScaledVector(along, -v.dot(along));
      const elbow = flat(place(points, 1));
      if (elbow.length() < 1e-3) continue;
      expect(elbow.angleTo(flat(new Vector3(...toward)))).toBeLessThan(1e-6);
    }
  });

  test("through full stretch and back no joint turns more than 5° for 1 % of its length", () => {
    for (let seed = 1; seed <= 60; seed++) {
      const limb = someLimb(new Chance(seed + 4000));
      const total = lengthsOf(limb.joints, 2).reduce((sum, length) => sum + length, 0);
      const along = new Vector3(...limb.goal).normalize();
      let before: Vector3[] | null = null;
      for (let share = 0.8; share < 1.3; share += 0.01) {
        const goal = new Float64Array(
          along
            .clone()
            .multiplyScalar(share * total)
            .toArray(),
        );
        const { points } = bent({ ...limb, goal, softness: 0.05 });
        const bonesNow = [0, 1].map((n) => place(points, n + 1).sub(place(points, n)));
        if (before) {
          const knee = bonesNow[0].angleTo(bonesNow[1]) - before[0].angleTo(before[1]);
          expect((Math.abs(knee) * 180) / Math.PI).toBeLessThan(5);
          bonesNow.forEach((now, n) => {
            expect((now.angleTo((before as Vector3[])[n]) * 180) / Math.PI).toBeLessThan(5);
          });
        }
        before = bonesNow;
      }
    }
  });

  test("stretched on wish it reaches anything; a knee pressed through bends the right way", () => {
    const limb = someLimb(new Chance(7));
    const far = new Float64Array([5, -3, 2]);
    const { points } = bent({ ...limb, goal: far, stretches: true, softness: 0.05 });
    expect(place(points, 2).distanceTo(new Vector3(...far))).toBeLessThan(1e-9);
    const joints = new Float64Array([0, 0, 0, 1, 0.04, 0, 2, 0, 0]);
    const wrong = bent({ ...limb, joints, hinge: new Float64Array([0, 0, 1]), goal: new Float64Array([1.6, 0, 0]) });
    expect(wrong.points[4]).toBeLessThan(-0.3);
  });

  test("a twist turns the bend about the line to the goal", () => {
    const limb = someLimb(new Chance(11));
    const plain = bent(limb).points;
    const twisted = bent({ ...limb, twist: Math.PI / 3 }).points;
    const along = new Vector3(...limb.goal).normalize();
    const turned = place(plain, 1).applyMatrix4(new Matrix4().makeRotationAxis(along, Math.PI / 3));
    if (place(plain, 2).distanceTo(new Vector3(...limb.goal)) < 1e-9) expect(turned.distanceTo(place(twisted, 1))).toBeLessThan(1e-9);
  });
});
