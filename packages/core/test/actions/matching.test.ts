import { matchControls, type Pair } from "../../src/actions/matchControls.ts";
import { byName } from "../../src/actions/strategies/byName.ts";
import { byPath } from "../../src/actions/strategies/byPath.ts";
import { byPlace } from "../../src/actions/strategies/byPlace.ts";
import { byShape } from "../../src/actions/strategies/byShape.ts";
import type { Strategy } from "../../src/actions/strategies/strategy.ts";
import { type Control, makeControl } from "../../src/model/rig.ts";
import { captureShot } from "../help/capture.ts";
import { type Bone, standingFigure } from "../help/figures.ts";

/*
 * Hierarchies as they come from different hands, each matched to one and the same figure. What each strategy should find
 * was told from the drawing of the figure, before any of them was run.
 */

const own = standingFigure();
const idsOf = (controls: readonly Control[]) => controls.map(({ id }) => id);
const matched = (pairs: readonly Pair[]) => Object.fromEntries(pairs.map(({ from, to }) => [from, to]));
const rename = (bones: readonly Bone[], name: (bone: Bone) => string): Bone[] => bones.map((bone) => ({ ...bone, name: name(bone) }));
const by = (controls: readonly Control[], way: Strategy) => matchControls({ controls }, { controls: own }, {}, [way]);
/** Every control to the one it is in the drawing. */
const rightly = (controls: readonly Control[]) => Object.fromEntries(controls.flatMap(({ id, part }) => (part ? [[id, part]] : [])));

/** Twelve figures; `part` of each control names the one it is in the first. */
const table: readonly (readonly [what: string, controls: readonly Control[], finds: Readonly<Record<string, "all" | "none" | "some">>])[] =
  [
    ["the same names", standingFigure(), { name: "all" }],
    ["names with a prefix and a colon", standingFigure((bones) => rename(bones, ({ name }) => `otter:${name}`)), { name: "all" }],
    [
      "names with a common first word, sides as letters",
      standingFigure((bones) => rename(bones, ({ name }) => `Rig_${name.replace(/ left$/, "_L").replace(/ right$/, "_R")}`)),
      { name: "all" },
    ],
    [
      "a common first word on nearly all of them, the first not among them",
      standingFigure((bones) => [
        { at: 99, name: "Scene Root", parent: null, place: [0, 0, 0] },
        ...rename(bones, ({ name }) => `B_${name}`).map((bone) => ({ ...bone, parent: bone.parent ?? 99 })),
      ]),
      { name: "all" },
    ],
    [
      "sides before, written together",
      standingFigure((bones) =>
        rename(bones, ({ name }) => name.replace(/^(.*) (left|right)$/, (_, part, side) => side[0].toUpperCase() + side.slice(1) + part)),
      ),
      { name: "all" },
    ],
    [
      "the same name for both sides",
      standingFigure((bones) => rename(bones, ({ name }) => name.replace(/ (left|right)$/, ""))),
      { name: "some", shape: "all" },
    ],
    ["numbers for names", standingFigure((bones) => rename(bones, ({ at }) => `bone ${at}`)), { name: "none", path: "none", shape: "all" }],
    [
      "numbers for names, and another root",
      standingFigure((bones) =>
        rename(
          [{ at: 99, name: "top", parent: null, place: [0, 0, 0] }, ...bones.map((bone) => ({ ...bone, parent: bone.parent ?? 99 }))],
          ({ at }) => `bone ${at}`,
        ),
      ),
      { name: "none", shape: "all" },
    ],
    ["an added level in each forearm", standingFigure(withTwists), { name: "all" }],
    [
      "an added level in each forearm, numbers for names",
      standingFigure((bones) => rename(withTwists(bones), ({ at }) => `bone ${at}`)),
      { name: "none", shape: "all" },
    ],
    [
      "no collar bones and one spine less, numbers for names",
      standingFigure((bones) => rename(without(bones, ["collar left", "collar right", "spine"]), ({ at }) => `bone ${at}`)),
      { name: "none", shape: "all" },
    ],
    [
      "arms before legs, right before left, numbers for names",
      standingFigure((bones) => rename(inOtherOrder(bones), ({ at }) => `bone ${at}`)),
      { name: "none", shape: "all" },
    ],
    [
      "arms stretched out at rest, numbers for names, ten times as large",
      standingFigure((bones) => rename(stretchedOut(bones), ({ at }) => `bone ${at}`), 10),
      { name: "none", shape: "all" },
    ],
  ];

const strategy = { name: byName, path: byPath, place: byPlace, shape: byShape } as const;

describe.each(table)("a figure with %s", (_, controls, finds) => {
  test.each(Object.entries(finds))("by %s", (way, finding) => {
    const found = matched(by(controls, strategy[way as keyof typeof strategy]).pairs);
    const right = rightly(controls);
    for (const [from, to] of Object.entries(found)) expect([from, to]).toEqual([from, right[from]]);
    if (finding === "all") expect(Object.keys(found).sort()).toEqual(Object.keys(right).sort());
    if (finding === "none") expect(found).toEqual({});
    if (finding === "some") expect(Object.keys(found).length).toBeGreaterThan(2);
  });

  test("by all of them one after the other, whole, and what nobody takes is said", () => {
    const { pairs, open, bridged, contested } = matchControls({ controls }, { controls: own });
    expect(matched(pairs)).toEqual(rightly(controls));
    expect(contested).toEqual([]);
    expect([...pairs.map(({ from }) => from), ...open].sort()).toEqual(idsOf(controls).sort());
    for (const id of bridged.from) expect(open).toContain(id);
    for (const { sure } of pairs) expect(sure).toBeGreaterThan(0.4);
  });
});

test("the open capture is matched to the otter figure by shape alone: all limbs, none twice", () => {
  const { pairs } = matchControls({ controls: captureShot().rig.controls }, { controls: own }, {}, [byShape]);
  expect(matched(pairs)).toMatchObject({
    Hips: "pelvis",
    Spine1: "chest",
    Head: "head",
    LeftUpLeg: "thigh-left",
    LeftLeg: "shin-left",
    LeftFoot: "foot-left",
    RightUpLeg: "thigh-right",
    RightLeg: "shin-right",
    RightFoot: "foot-right",
    LeftArm: "upper-left",
    LeftForeArm: "fore-left",
    LeftHand: "hand-left",
    RightArm: "upper-right",
    RightForeArm: "fore-right",
    RightHand: "hand-right",
  });
  expect(new Set(pairs.map(({ to }) => to)).size).toBe(pairs.length);
});

describe("what is not certain", () => {
  test("by path: of two of one name the one whose way down is named alike", () => {
    const chain = (ids: readonly (readonly [id: string, name: string, parent: string | null])[]) =>
      ids.map(([id, name, parent]) => makeControl(id, { name, parent }));
    const from = chain([
      ["a", "body", null],
      ["b", "left", "a"],
      ["c", "tip", "b"],
      ["d", "right", "a"],
      ["e", "tip", "d"],
    ]);
    const to = chain([
      ["u", "root", null],
      ["v", "body", "u"],
      ["w", "right", "v"],
      ["x", "joint", "w"],
      ["y", "tip", "x"],
      ["z", "left", "v"],
      ["q", "tip", "z"],
    ]);
    const { pairs } = matchControls({ controls: from }, { controls: to }, {}, [byName, byPath]);
    expect(matched(pairs)).toEqual({ a: "v", b: "z", d: "w", c: "q", e: "y" });
  });

  test("two that both could be one are said, and neither is taken, until it is said by hand", () => {
    const from = ["left wing", "wing left"].map((name, n) => makeControl(`w${n}`, { name }));
    const to = [makeControl("wing", { name: "Wing.L" })];
    const twice = { id: "name" as const, title: "by chance", find: () => [0, 1].map((n) => ({ from: n, to: 0, sure: 0.5 })) };
    const open = matchControls({ controls: from }, { controls: to }, {}, [twice]);
    expect(open.pairs).toEqual([]);
    expect(open.contested).toEqual([{ to: "wing", from: ["w0", "w1"] }]);
    const said = matchControls({ controls: from }, { controls: to }, { w1: "wing", w0: null });
    expect(said.pairs).toEqual([{ from: "w1", to: "wing", by: "hand", sure: 1 }]);
    expect(said.contested).toEqual([]);
    expect(said.open).toEqual([]);
  });

  test("by place: what lies between two that are matched, when it is as many levels deep", () => {
    const chain = (names: readonly string[]) =>
      names.map((name, n) => makeControl(`${name}-${n}`, { name, parent: n ? `${names[n - 1]}-${n - 1}` : null }));
    const between = (inner: readonly string[]) =>
      matched(
        matchControls({ controls: chain(["top", "p", "q", "end"]) }, { controls: chain(["top", ...inner, "end"]) }, {}, [byName, byPlace])
          .pairs,
      );
    expect(between(["x", "y"])).toEqual({ "top-0": "top-0", "p-1": "x-1", "q-2": "y-2", "end-3": "end-3" });
    expect(between(["x"])).toEqual({ "top-0": "top-0", "end-3": "end-2" });
  });
});

function withTwists(bones: readonly Bone[]): Bone[] {
  return bones.flatMap((bone) => {
    if (!/^hand /.test(bone.name)) return [bone];
    const fore = bones[bone.parent as number];
    const place = bone.place.map((x, k) => (x + fore.place[k]) / 2) as [number, number, number];
    const twist: Bone = { at: bone.at + 100, name: `twist ${bone.name}`, parent: bone.parent, place };
    return [twist, { ...bone, parent: twist.at }];
  });
}

function without(bones: readonly Bone[], names: readonly string[]): Bone[] {
  const kept = (at: number | null): number | null => (at !== null && names.includes(bones[at].name) ? kept(bones[at].parent) : at);
  return bones.filter(({ name }) => !names.includes(name)).map((bone) => ({ ...bone, parent: kept(bone.parent) }));
}

function inOtherOrder(bones: readonly Bone[]): Bone[] {
  const rank = ({ name }: Bone) => (/left|right/.test(name) ? (/right/.test(name) ? 2 : 3) : 1);
  return [...bones].sort((a, b) => rank(a) - rank(b) || a.at - b.at);
}

function stretchedOut(bones: readonly Bone[]): Bone[] {
  const upper = (side: string) => bones.find(({ name }) => name === `upper ${side}`) as Bone;
  return bones.map((bone) => {
    const side = /(left|right)$/.exec(bone.name)?.[0];
    if (!side || !/^(fore|hand|thumb|finger)/.test(bone.name)) return bone;
    const [x, y, z] = upper(side).place;
    const out = side === "left" ? 1 : -1;
    return { ...bone, place: [x + out * (y - bone.place[1]), y + out * (bone.place[0] - x), z + (bone.place[2] - z)] };
  });
}
