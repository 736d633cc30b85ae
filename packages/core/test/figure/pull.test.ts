import fc from "fast-check";
import { Euler, Matrix4, Vector3 } from "three";
import { constantCurve } from "../../src/curve/make.ts";
import { addFollow } from "../help/follows.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { type Grip, type Place, pullTo } from "../../src/figure/pull.ts";
import { solveLinear } from "../../src/maths/solve.ts";
import type { Shot } from "../../src/model/shot.ts";
import { keyResult } from "../../src/operations/shared/keyResult.ts";
import { control, movingShot, passOf, smallShot } from "../help/shots.ts";

const turns = ["rotateX", "rotateY", "rotateZ"];
const limb = { part: "arms", channels: turns };

/** A root that moves and an arm of two bones, 3 and 2 long, with a hand. */
function armShot(more: Partial<Shot> = {}): Shot {
  const shot = smallShot(
    { "upper.rotateZ": constantCurve(20), "fore.rotateZ": constantCurve(40), "hand.rotateX": constantCurve(15) },
    more,
  );
  const controls = [
    control("root", null, [0, 1, 0], { restTurn: [0, 0.6, 0, 0.8] }),
    control("upper", "root", [0, 1, 0], { ...limb, order: "ZXY" }),
    control("fore", "upper", [3, 0, 0], limb),
    control("hand", "fore", [2, 0, 0], limb),
  ];
  return { ...shot, rig: { ...shot.rig, controls } };
}

/** Where the grip is in the world, by three's matrices. */
function spotOf(shot: Shot, { control: id, spot }: Grip, frame = 1): Vector3 {
  const player = makePlayer(shot);
  player.pose(frame);
  const at = (player.controlIndex.get(id) as number) * 16;
  return new Vector3(...spot).applyMatrix4(new Matrix4().fromArray(player.worlds, at));
}

const wrist: Grip = { control: "hand", spot: [0, 0, 0] };
const placeOf = (v: Vector3): Place => [v.x, v.y, v.z];

test("a reaching arm puts the spot where it is pulled, its elbow bent as the law of cosines has it", () => {
  const shot = armShot();
  const from = spotOf(shot, { control: "upper", spot: [0, 0, 0] });
  const goal = from.clone().add(new Vector3(1.5, 2.5, -2));
  const after = keyResult(shot, "base", 1, pullTo(makePlayer(shot), 1, wrist, "reach", placeOf(goal)));
  expect(spotOf(after, wrist).distanceTo(goal)).toBeLessThan(1e-6);
  const elbow = spotOf(after, { control: "fore", spot: [0, 0, 0] });
  const bend = from.clone().sub(elbow).angleTo(goal.clone().sub(elbow));
  // c² = a² + b² − 2ab·cos γ
  expect(Math.cos(bend)).toBeCloseTo((9 + 4 - from.distanceTo(goal) ** 2) / 12, 6);
  expect(after.base["hand.rotateX"]).toBe(shot.base["hand.rotateX"]);
});

test("beyond its reach it is stretched out toward the goal, as near as it gets", () => {
  const shot = armShot();
  const from = spotOf(shot, { control: "upper", spot: [0, 0, 0] });
  const goal = from.clone().add(new Vector3(4, 6, 2));
  const after = keyResult(shot, "base", 1, pullTo(makePlayer(shot), 1, wrist, "reach", placeOf(goal)));
  expect(spotOf(after, wrist).distanceTo(goal)).toBeLessThan((from.distanceTo(goal) - 5) * 1.001 + 1e-3);
});

test("a part that turns takes its spot to the point of its sphere nearest the goal, and a locked channel stays", () => {
  const grip: Grip = { control: "fore", spot: [1.5, 0.3, 0.2] };
  const shot = armShot({ locked: ["fore.rotateX"] });
  const joint = spotOf(shot, { control: "fore", spot: [0, 0, 0] });
  const radius = Math.hypot(...grip.spot);
  const goal = spotOf(shot, grip).add(new Vector3(0.4, -0.5, 0.7));
  const wanted = pullTo(makePlayer(shot), 1, grip, "turn", placeOf(goal));
  expect(Object.keys(wanted)).toEqual(["fore.rotateY", "fore.rotateZ"]);
  const nearest = goal.clone().sub(joint).setLength(radius).add(joint);
  expect(spotOf(keyResult(shot, "base", 1, wanted), grip).distanceTo(nearest)).toBeLessThan(1e-4);
  expect(() => pullTo(makePlayer({ ...shot, locked: turns.map((turn) => `fore.${turn}`) }), 1, grip, "turn", [0, 0, 0])).toThrow(/locked/);
});

test("what moves by itself is moved, and turns only when it is told to", () => {
  const shot = armShot();
  const grip: Grip = { control: "root", spot: [0.1, 0.2, 0.3] };
  const goal = spotOf(shot, grip).add(new Vector3(3, -2, 1));
  const wanted = pullTo(makePlayer(shot), 1, grip, "reach", placeOf(goal));
  expect(Object.keys(wanted)).toEqual(["root.moveX", "root.moveY", "root.moveZ"]);
  expect([...Object.values(wanted)].map((value) => Math.round(value * 1e6) / 1e6)).toEqual([3, -2, 1]);
  expect(Object.keys(pullTo(makePlayer(shot), 1, grip, "turn", placeOf(goal)))).toEqual(turns.map((turn) => `root.${turn}`));
});

test("a part that follows something else is not pulled, and it is said where", () => {
  const followed = addFollow(armShot(), {
    id: "f",
    control: "hand",
    target: "root",
    position: true,
    rotation: true,
    strength: constantCurve(1),
    offset: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 5, 5, 1],
    on: true,
  });
  expect(() => pullTo(makePlayer(followed), 1, wrist, "reach", [0, 0, 0])).toThrow(/is led by something else at frame 1/);
  expect(() => pullTo(makePlayer(followed), 1, { ...wrist, control: "nobody" }, "turn", [0, 0, 0])).toThrow(/no control "nobody"/);
});

test("property: whatever the stack, what is pulled lands in the chosen pass and the spot is where it was pulled to", () => {
  const angle = fc.double({ min: -40, max: 40, noNaN: true });
  fc.assert(
    fc.property(
      fc.constantFrom<"adds" | "replaces">("adds", "replaces"),
      fc.constantFrom<"channel" | "rotation">("channel", "rotation"),
      fc.double({ min: 0.4, max: 1.5, noNaN: true }),
      angle,
      angle,
      fc.constantFrom<"turn" | "reach">("turn", "reach"),
      (kind, compose, weight, below, above, by) => {
        const adding = (id: string, curves = {}, more = {}) => passOf("adds", curves, { id, name: id, ...more });
        const shot = movingShot({
          passes: [
            adding("low", { "arm-left.rotateX": constantCurve(below), "spine.rotateZ": constantCurve(below / 2) }, { compose }),
            passOf(kind, {}, { id: "chosen", compose, weight: constantCurve(weight) }),
            adding("high", { "arm-left.rotateY": constantCurve(above) }),
          ],
        });
        const grip: Grip = { control: "arm-left", spot: [0.35, 0.05, 0] };
        // A goal that can be reached: where the spot is with the arm turned a little.
        const turned = { ...shot, passes: [...shot.passes, adding("try", { "arm-left.rotateZ": constantCurve(9) })] };
        const goal = spotOf(turned, grip, 20);
        const after = keyResult(shot, "chosen", 20, pullTo(makePlayer(shot), 20, grip, by, placeOf(goal)));
        expect(spotOf(after, grip, 20).distanceTo(goal)).toBeLessThan(2e-5);
        expect(after.base).toBe(shot.base);
        expect(after.passes.map((pass, i) => pass === shot.passes[i])).toEqual([true, false, true]);
      },
    ),
    { numRuns: 60 },
  );
});

test("small systems are solved, and those without one answer say so", () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: -9, max: 9, noNaN: true }), { minLength: 12, maxLength: 12 }), (n) => {
      const [x, y, z] = [n[9], n[10], n[11]];
      // A turn, and thus never singular; three does the multiplying.
      const m = new Matrix4().makeRotationFromEuler(new Euler(n[0], n[1], n[2]));
      const rows = [0, 1, 2].map((r) => [0, 1, 2].map((c) => m.elements[c * 4 + r]));
      const solved = solveLinear(rows, new Vector3(x, y, z).applyMatrix4(m).toArray()) as number[];
      for (const [k, value] of [x, y, z].entries()) expect(solved[k]).toBeCloseTo(value, 9);
    }),
  );
  expect(
    solveLinear(
      [
        [1, 2],
        [2, 4],
      ],
      [1, 2],
    ),
  ).toBeNull();
  expect(solveLinear([], [])).toEqual([]);
});
