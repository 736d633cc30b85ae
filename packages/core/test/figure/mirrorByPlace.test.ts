import { checkMirror } from "../../src/figure/checkMirror.ts";
import { makeMirrorer } from "../../src/figure/mirror.ts";
import { findPartners } from "../../src/figure/partners.ts";
import type { Rig } from "../../src/model/rig.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { mirrorPose } from "../../src/operations/poses/mirrorPose.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/run.ts";
import { control, smallShot } from "../help/shots.ts";

/** Arms of the same lengths that rest otherwise: the left one out to the side, the right one hanging and a little forward. */
const uneven: Rig = {
  id: "uneven",
  name: "Uneven",
  figure: null,
  sides: { axis: "x", at: 0 },
  controls: findPartners([
    control("hips", null, [0, 1, 0]),
    control("chest", "hips", [0, 0.4, 0]),
    control("arm_l", "chest", [0.2, 0.1, 0]),
    control("fore_l", "arm_l", [0.3, 0, 0]),
    control("hand_l", "fore_l", [0.25, 0, 0]),
    control("arm_r", "chest", [-0.2, 0.1, 0]),
    control("fore_r", "arm_r", [-0.3 * Math.SQRT1_2, -0.3 * Math.SQRT1_2, 0]),
    control("hand_r", "fore_r", [0, -0.2, 0.15]),
  ]),
};

const anyPose = (chance: Chance) =>
  Object.fromEntries(
    uneven.controls.flatMap(({ id }) => ["rotateX", "rotateY", "rotateZ"].map((channel) => [`${id}.${channel}`, chance.between(-60, 60)])),
  );

test("where rest poses differ, limbs land on the reflection by place, and twice mirrored they stand where they stood", () => {
  const byTurns = makeMirrorer(uneven);
  const byPlace = makeMirrorer(uneven, { lands: "place" });
  for (let seed = 1; seed <= 30; seed++) {
    const pose = anyPose(new Chance(seed));
    const most = (image: Record<string, number>) => Math.max(0, ...checkMirror(uneven, pose, image, 0).map(({ distance }) => distance));
    expect(most(byTurns.pose(pose, pose))).toBeGreaterThan(0.05);
    const image = byPlace.pose(pose, pose);
    expect(most(image)).toBeLessThan(1e-9);
    // The image of the image has every joint where the pose has it.
    const again = byPlace.pose(image, pose);
    const off = checkMirror(uneven, image, again, 0).map(({ distance }) => distance);
    expect(Math.max(0, ...off)).toBeLessThan(1e-9);
  }
});

test("an even figure is mirrored alike either way", () => {
  const even: Rig = {
    ...uneven,
    controls: findPartners(
      uneven.controls.map((one) =>
        one.id === "fore_r" ? { ...one, rest: [-0.3, 0, 0] } : one.id === "hand_r" ? { ...one, rest: [-0.25, 0, 0] } : one,
      ),
    ),
  };
  const pose = anyPose(new Chance(9));
  const [a, b] = [makeMirrorer(even).pose(pose, pose), makeMirrorer(even, { lands: "place" }).pose(pose, pose)];
  for (const key of Object.keys(a)) expect(Math.abs(a[key] - b[key])).toBeLessThan(1e-6);
});

test("it is offered with its cost where limbs land beside", async () => {
  const base = Object.fromEntries(
    [
      "arm_l.rotateZ",
      "arm_r.rotateZ",
      "fore_l.rotateY",
      "fore_r.rotateY",
      "chest.rotateX",
      "hand_l.rotateX",
      "hand_r.rotateX",
      "hips.rotateX",
    ].map((key, n) => [
      key,
      curveFrom([
        [1, 5 * n],
        [20, -10 + 3 * n],
      ]),
    ]),
  );
  const shot = smallShot(base, { rig: uneven, range: { start: 1, end: 20 } });
  const turns = await run(mirrorPose, shot, { frames: [1] });
  expect(turns.report.notes.join(" ")).toMatch(
    /Limbs can land by place \(under More\): within [\d.]+ mm at rest, their turns off by up to \d+°/,
  );
  const place = await run(mirrorPose, shot, { frames: [1], lands: "place" });
  expect(Math.max(0, ...(place.report.off ?? []).map(({ distance }) => distance))).toBeLessThan(1e-6);
  expect(place.report.notes.join(" ")).not.toMatch(/can land by place/);
});
