import { readShot } from "../../src/formats/formats.ts";
import { shotToJson } from "../../src/formats/schema.ts";
import { makeMirrorer, type PoseValues } from "../../src/figure/mirror.ts";
import { likelyFlips } from "../../src/figure/mirrorSlots.ts";
import { proveMirror } from "../../src/figure/proveMirror.ts";
import { readPose } from "../../src/evaluate/readPose.ts";
import { controlById } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { changeRig } from "../../src/operations/hand/changeRig.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runByHand } from "../../src/operations/runOperation.ts";
import { movingShot } from "../help/shots.ts";

type Said = Parameters<typeof changeRig.run>[2];
const said = (shot: Shot, what: Said) => runByHand(changeRig, shot, WHOLE_FIGURE, what);
const partner = (shot: Shot, id: string) => controlById(shot.rig, id)?.partner;

test("partners are set on both sides at once, and motion stays as it is", () => {
  const shot = movingShot();
  const { shot: apart, report } = said(shot, { pair: { "hand-left": { partner: null }, "hand-right": { partner: null } } });
  expect([partner(apart, "hand-left"), partner(apart, "hand-right")]).toEqual([null, null]);
  expect(report.summary).toBe("How hand left and hand right are mirrored");
  expect(apart.base).toBe(shot.base);
  const { shot: again } = said(apart, { pair: { "hand-left": { partner: "hand-right" }, "hand-right": { partner: "hand-left" } } });
  expect(again.rig).toEqual(shot.rig);
});

test("a control with two partners is refused, and who is in the way is named", () => {
  const shot = movingShot();
  expect(() => said(shot, { pair: { "hand-left": { partner: "arm-right" } } })).toThrow(
    "arm right cannot be the partner of hand left: it is the partner of arm left already.",
  );
  expect(() => said(shot, { pair: { "hand-left": { partner: "spine" } } })).toThrow(
    /spine cannot be the partner of hand left: it is its own/,
  );
  expect(() => said(shot, { pair: { "hand-left": { partner: "wing" } } })).toThrow(/no control "wing"/);
  expect(() => said(shot, { pair: { wing: { partner: null } } })).toThrow(/no control "wing"/);
  expect(() => said(shot, { sides: { axis: "x", at: Number.NaN } })).toThrow();
});

test("left out keeps its own motion; by signs channels are copied; both are kept in files", async () => {
  const { shot: out } = said(movingShot(), {
    pair: { "arm-left": { mirror: "left out" }, "hand-right": { mirror: { flips: ["rotateY"] } } },
  });
  const pose: PoseValues = { ...readPose(out, 13), "hand-left.rotateX": 11, "hand-left.rotateY": 7 };
  const image = makeMirrorer(out.rig).pose(pose, pose);
  expect(image["arm-left.rotateZ"]).toBe(pose["arm-left.rotateZ"]);
  expect([image["hand-right.rotateX"], image["hand-right.rotateY"]]).toEqual([11, -7]);
  const { shot: sided } = said(out, { sides: { axis: "z", at: 0.25 } });
  const bytes = new TextEncoder().encode(JSON.stringify(shotToJson(sided)));
  const { shot: read } = await readShot(bytes, "rig.json");
  expect(read.rig).toEqual(sided.rig);
  const { shot: back } = said(said(sided, { sides: null }).shot, {
    pair: { "arm-left": { mirror: null }, "hand-right": { mirror: null } },
  });
  expect(back.rig).toEqual(movingShot().rig);
});

describe("the proof of how a rig is mirrored", () => {
  const poses = (shot: Shot) => [1, 13, 30].map((frame) => readPose(shot, frame));

  test("an even rig is off by nothing, at rest and in every pose", () => {
    const shot = movingShot();
    for (const proof of proveMirror(shot.rig, poses(shot)).values())
      expect([proof.distance < 1e-12, proof.turn < 1e-5, proof.restDistance]).toEqual([true, true, 0]);
  });

  test("an uneven limb is told by how much it is off at rest, and in which pose it is worst; those left out are not judged", () => {
    const shot = movingShot();
    const controls = shot.rig.controls.map((c) => (c.id === "hand-right" ? { ...c, rest: [-0.7, 0.2, 0] as const } : c));
    const rig = { ...shot.rig, controls, sides: { axis: "x" as const, at: 0 } };
    const proofs = proveMirror(rig, poses(shot));
    expect(proofs.get("hand-right")?.restDistance).toBeCloseTo(Math.hypot(0.3, 0.2), 9);
    expect(proofs.get("hand-right")?.worst).toBeGreaterThanOrEqual(-1);
    expect(proofs.get("arm-right")?.distance).toBeLessThan(1e-12);
    const { shot: out } = said({ ...shot, rig }, { pair: { "hand-right": { mirror: "left out" } } });
    expect(proveMirror(out.rig, poses(shot)).has("hand-right")).toBe(false);
  });

  test("the likely signs do what the rule from the rest pose does where axes lie alike", () => {
    const shot = movingShot();
    for (const id of ["arm-left", "hand-right", "spine"]) {
      const flips = likelyFlips(shot.rig, id);
      const { shot: copied } = said(shot, { pair: { [id]: { mirror: { flips } } } });
      const pose = { ...readPose(shot, 13), "hand-left.rotateY": 20, "hand-left.rotateZ": -9, "spine.rotateY": 12 };
      const [by, rule] = [makeMirrorer(copied.rig), makeMirrorer(shot.rig)].map((mirrorer) => mirrorer.pose(pose, pose));
      for (const key of Object.keys(pose).filter((one) => one.startsWith(`${id}.rotate`))) expect(by[key]).toBeCloseTo(rule[key], 9);
    }
  });
});
