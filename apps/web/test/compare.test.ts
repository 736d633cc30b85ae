import { commit, constantCurve, keepVersion, makePass, startHistory, type Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { sheetFrames } from "../src/compare/contactSheet.ts";
import { differences } from "../src/compare/differences.ts";
import { firstSides, sidesOf } from "../src/compare/sides.ts";

const hop = demoShots[1].make() as Shot;
const nod = { ...hop, passes: [makePass("nod", "Nod", "adds", { "head.rotateX": constantCurve(20) })] };

test("a shot is compared with its base motion, its versions, the step before and what was opened", () => {
  const one = commit(startHistory(hop, 0), { name: "Nod", shot: nod, at: 1 });
  expect(sidesOf(one).map(({ name }) => name)).toEqual(["As it is now", "Base motion alone", 'Before "Nod"']);
  expect(firstSides(sidesOf(one))).toEqual(["base", "now"]);
  const { shot: kept, version } = keepVersion(nod, "Nodding");
  const two = commit(one, { name: "Keep", shot: kept, at: 2 });
  expect(sidesOf(two).map(({ id }) => id)).toEqual(["now", version.id, "base", "before", "opened"]);
  expect(firstSides(sidesOf(two))).toEqual([version.id, "now"]);
  expect(firstSides(sidesOf(startHistory(hop, 0)))).toEqual(["base", "now"]);
});

test("controls that differ are listed by how far apart they come, with the frame", () => {
  const { frames, controls } = differences(hop, nod);
  expect(frames.length).toBe(hop.range.end - hop.range.start + 1);
  const names = controls.map(({ name }) => name);
  // What hangs on the head moves, the head itself only turns.
  expect(names).toContain("Tassel 2");
  expect(names).not.toContain("Head");
  expect(names).not.toContain("Tail 4");
  for (let i = 1; i < controls.length; i++) expect(controls[i].worst).toBeLessThanOrEqual(controls[i - 1].worst);
  expect(controls[0].apart[frames.indexOf(controls[0].worstFrame)]).toBe(controls[0].worst);
  expect(differences(hop, { ...hop }).controls).toEqual([]);
});

test("a contact sheet shows a shot from its first frame to its last, never more frames than there are", () => {
  expect(sheetFrames({ start: 1, end: 71 }, 8)).toEqual([1, 11, 21, 31, 41, 51, 61, 71]);
  expect(sheetFrames({ start: 1, end: 3 }, 8)).toEqual([1, 2, 3]);
  expect(sheetFrames({ start: 5, end: 5 }, 8)).toEqual([5]);
});
