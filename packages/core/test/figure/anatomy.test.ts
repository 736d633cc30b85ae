import { bodyOf } from "../../src/figure/anatomy/bodyOf.ts";
import { feetOf } from "../../src/figure/anatomy/feet.ts";
import { massesOf } from "../../src/figure/anatomy/masses.ts";
import { skeletonOf } from "../../src/figure/anatomy/skeleton.ts";
import { type Control, makeControl } from "../../src/model/rig.ts";
import { type Bone, standingFigure } from "../help/figures.ts";
import { Chance } from "../help/chance.ts";

/* Bodies that are hung otherwise than most, and bodies on four legs: recognised rightly, or not at all. Names are numbers: shape decides. */

const nameless = (bones: readonly Bone[]) => bones.map((bone) => ({ ...bone, name: `j${bone.at}` }));

/** What each part of the body is in the figure that all are made of. */
function partsOf(controls: readonly Control[]) {
  const body = bodyOf(skeletonOf({ controls }));
  const part = (i: number) => controls[i].part;
  return (
    body && {
      trunk: body.trunk.map(part),
      head: part(body.trunk[body.head]),
      arms: body.arms && Object.values(body.arms).map(({ chain, root, bend, end }) => [root, bend, end].map((n) => part(chain[n]))),
      legs: Object.values(body.legs).map(({ chain, root, bend, end }) => [root, bend, end].map((n) => part(chain[n]))),
    }
  );
}

const ARMS = ["left", "right"].map((side) => ["upper", "fore", "hand"].map((name) => `${name}-${side}`));
const LEGS = ["left", "right"].map((side) => ["thigh", "shin", "foot"].map((name) => `${name}-${side}`));

/** The legs hang on a pelvis of their own, beside the spine, both on one root. */
const legsBeside = (root: readonly [number, number, number], pelvis: readonly [number, number, number]) => (bones: readonly Bone[]) => {
  const at = (name: string) => bones.find((bone) => bone.name === name)?.at as number;
  const [top, legs] = [100, 101];
  return nameless([
    { at: top, name: "", parent: null, place: root },
    { at: legs, name: "", parent: top, place: pelvis },
    ...bones.flatMap((bone) => {
      if (bone.name === "pelvis") return [];
      if (bone.parent !== at("pelvis")) return [bone];
      return [{ ...bone, parent: bone.name.startsWith("thigh") ? legs : top }];
    }),
  ]);
};

test.each([
  ["one place", [0, 0.95, 0], [0, 0.95, 0]],
  ["a hand's breadth apart", [0, 0.98, 0.02], [0, 0.9, -0.03]],
  ["a root on the ground", [0, 0, 0], [0, 0.95, 0]],
] as const)("legs beside the spine, both on a root (%s): trunk, head, arms and legs are theirs", (_, root, pelvis) => {
  for (const size of [1, 100]) {
    const parts = partsOf(standingFigure(legsBeside(root, pelvis), size));
    expect(parts?.trunk.slice(1)).toEqual(["spine", "chest", "neck", "head"]);
    expect([parts?.head, parts?.arms, parts?.legs]).toEqual(["head", ARMS, LEGS]);
  }
});

test("the plain figure is what it was: the pelvis is where its trunk begins", () => {
  const parts = partsOf(standingFigure(nameless));
  expect(parts).toEqual({ trunk: ["pelvis", "spine", "chest", "neck", "head"], head: "head", arms: ARMS, legs: LEGS });
});

/** A creature on four legs: trunk along +Z or back along it, a neck that goes up, a tail; sizes by chance. */
function fourLegged(chance: Chance, size: number): Control[] {
  const length = chance.between(0.7, 1.6);
  const height = chance.between(0.5, 1.1);
  const way = chance.of([1, -1]);
  const rows: [string, string | null, number, number, number][] = [
    ["root", null, 0, height, 0],
    ["back", "root", 0, height * 1.03, length * 0.5],
    ["withers", "back", 0, height * 1.02, length],
    ["neck", "withers", 0, height * 1.3, length + 0.2],
    ["head", "neck", 0, height * chance.between(1.35, 1.7), length + 0.4],
    ["jaw", "head", 0, height * 1.3, length + 0.5],
    ["tail", "root", 0, height * 0.95, -0.2],
    ["tip", "tail", 0, height * chance.between(0.4, 1.2), -0.5],
  ];
  for (const [side, x] of [
    ["l", 1],
    ["r", -1],
  ] as const)
    for (const [where, above, z] of [
      ["hind", "root", -0.05],
      ["fore", "withers", length - 0.05],
    ] as const) {
      const out = 0.12 * x;
      rows.push([`${where}-thigh-${side}`, above, out, height * 0.9, z]);
      rows.push([`${where}-shank-${side}`, `${where}-thigh-${side}`, out, height * 0.5, z + 0.08]);
      rows.push([`${where}-paw-${side}`, `${where}-shank-${side}`, out, height * 0.14, z - 0.06]);
      rows.push([`${where}-toe-${side}`, `${where}-paw-${side}`, out, 0.01, z + 0.04]);
    }
  return rows.map(([name, parent, x, y, z], i) => {
    const [, , u, v, w] = rows.find(([other]) => other === parent) ?? ["", null, 0, 0, 0];
    const above = rows.findIndex(([other]) => other === parent);
    return makeControl(`c${i}`, {
      name: `j${i}`,
      parent: above < 0 ? null : `c${above}`,
      rest: [size * (x - u), size * (y - v), size * way * (z - w)],
      part: name,
    });
  });
}

test("on four legs: none of them is an arm, no neck is a tail; all four feet are found, and no masses of people are said to be known", () => {
  const chance = new Chance(36);
  for (let n = 0; n < 40; n++) {
    const controls = fourLegged(chance, chance.of([1, 100]));
    const rig = { id: "r", name: "R", figure: null, controls };
    expect(bodyOf(skeletonOf(rig))).toBeNull();
    expect(massesOf(rig).isKnown).toBe(false);
    const feet = feetOf(rig).map((id) => controls.find((control) => control.id === id)?.part);
    expect(new Set(feet)).toEqual(
      new Set(["hind", "fore"].flatMap((where) => ["l", "r"].flatMap((side) => [`${where}-paw-${side}`, `${where}-toe-${side}`]))),
    );
  }
});

test("the tails of a coat that reach the ground beside one's own legs are no second pair of legs", () => {
  const coated = standingFigure((bones) => {
    const pelvis = bones.find(({ name }) => name === "pelvis")?.at as number;
    const tails = [0.16, -0.16].flatMap((x, n): Bone[] => [
      { at: 200 + 3 * n, name: "", parent: pelvis, place: [x, 0.9, -0.1] },
      { at: 201 + 3 * n, name: "", parent: 200 + 3 * n, place: [x, 0.5, -0.2] },
      { at: 202 + 3 * n, name: "", parent: 201 + 3 * n, place: [x, 0.05, -0.3] },
    ]);
    return nameless([...bones, ...tails]);
  });
  const parts = partsOf(coated);
  expect([parts?.head, parts?.arms, parts?.legs]).toEqual(["head", ARMS, LEGS]);
});
