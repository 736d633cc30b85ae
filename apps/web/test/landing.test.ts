import { Box3, Mesh, type Object3D } from "three";
import { buildLanding } from "../src/bench/view/landing.ts";

const meshesOf = ({ still, ferry }: { still: Object3D; ferry: Object3D }): Mesh[] => {
  const found: Mesh[] = [];
  for (const top of [still, ferry]) top.traverse((object) => object instanceof Mesh && found.push(object));
  return found;
};

test("a landing shares nothing with the one before, which would otherwise keep its view alive", () => {
  const [one, other] = [buildLanding(), buildLanding()].map(meshesOf);
  const used = new Set(one.flatMap(({ geometry, material }) => [geometry, material]));
  for (const { geometry, material } of other) {
    expect(used.has(geometry)).toBe(false);
    expect(used.has(material)).toBe(false);
  }
});

test("its boards are drawn together, a handful of meshes, and stand where the jetty and the ferry are", () => {
  const landing = buildLanding();
  expect(meshesOf(landing).length).toBeLessThan(20);
  landing.ferry.updateMatrixWorld(true);
  const deck = meshesOf({ still: landing.ferry, ferry: landing.ferry });
  const box = new Box3();
  for (const mesh of deck) box.expandByObject(mesh);
  // The hull is 2.95 m long, with a rail of 3 m.
  expect([box.min.x, box.max.x].map((x) => Math.round(x * 100) / 100)).toEqual([-1.5, 1.5]);
});
