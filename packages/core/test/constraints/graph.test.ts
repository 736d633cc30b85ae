import { graphOf, orderOf, refuseCircles } from "../../src/constraints/graph.ts";
import { constantCurve } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Constraint, Shot } from "../../src/model/shot.ts";
import { layerCurves, withLayerCurves } from "../../src/model/shot.ts";
import { ownControl } from "../../src/evaluate/ownControl.ts";
import { operationById } from "../../src/operations/catalogue.ts";
import { noContext, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { followOf } from "../help/follows.ts";
import { control, movingShot, smallShot } from "../help/shots.ts";

const still = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

function follow(of: string, target: string, more: Partial<Parameters<typeof followOf>[0]> = {}): Constraint {
  return followOf({
    id: `${of}-${target}`,
    control: of,
    target,
    position: true,
    rotation: true,
    strength: constantCurve(1),
    offset: still,
    on: true,
    ...more,
  });
}

/** The rig with a lantern that stands before everything else in the list. */
function withLantern(constraints: readonly Constraint[]): Shot {
  const shot = smallShot();
  return { ...shot, rig: { ...shot.rig, controls: [control("lantern", null, [0, 0, 0]), ...shot.rig.controls] }, constraints };
}

const everyone = ({ rig }: Shot) => rig.controls.map((_, i) => i);

test("what something needs is worked out first, wherever it stands in the rig", () => {
  const shot = withLantern([follow("lantern", "hand-right")]);
  const order = orderOf(graphOf(shot.rig, shot.constraints), everyone(shot));
  const step = (id: string) => order.indexOf(shot.rig.controls.findIndex((one) => one.id === id));
  const applied = order.indexOf(shot.rig.controls.length);
  expect(applied).toBeGreaterThan(step("hand-right"));
  expect(applied).toBeGreaterThan(step("lantern"));
  expect(order).toHaveLength(shot.rig.controls.length + 1);
});

test("for some controls only what they need is worked out", () => {
  const shot = withLantern([follow("lantern", "hand-right")]);
  const graph = graphOf(shot.rig, shot.constraints);
  const names = (wanted: string) =>
    orderOf(graph, [shot.rig.controls.findIndex(({ id }) => id === wanted)]).map((step) => graph.names[step]);
  expect(names("spine").sort()).toEqual(["root", "spine"]);
  expect(names("lantern")).toContain("hand right");
  expect(names("lantern")).not.toContain("hand left");
});

test("constraints that are off, or whose controls are gone, are no part of it", () => {
  const shot = withLantern([follow("lantern", "hand-right", { on: false }), follow("lantern", "moon")]);
  expect(graphOf(shot.rig, shot.constraints).parts).toHaveLength(0);
});

test("what follows what follows is led along the whole chain", () => {
  const shot = withLantern([follow("lantern", "hand-left"), follow("hand-left", "hand-right")]);
  const player = makePlayer({ ...shot, base: { "root.moveY": constantCurve(3) } });
  player.pose(1);
  const at = (id: string) => [...player.worlds.subarray((player.controlIndex.get(id) as number) * 16 + 12).subarray(0, 3)];
  expect(at("lantern")).toEqual(at("hand-right"));
});

test("two that lead one control are applied in the order of the list", () => {
  const place = (constraints: readonly Constraint[]) => {
    const player = makePlayer(withLantern(constraints));
    player.pose(1);
    return player.worlds[12];
  };
  const [left, right] = [follow("lantern", "hand-left"), follow("lantern", "hand-right")];
  expect(place([left, right])).toBeLessThan(0);
  expect(place([right, left])).toBeGreaterThan(0);
});

test("circles are refused with the names of all that are in them, also of what is switched off", () => {
  const shot = withLantern([follow("lantern", "hand-left"), follow("root", "lantern", { on: false })]);
  expect(() => refuseCircles(shot)).toThrow(/"hand left".*moves with.*a circle/);
  expect(() => refuseCircles(shot)).toThrow(/"lantern"/);
  expect(() => refuseCircles(withLantern([follow("lantern", "hand-left")]))).not.toThrow();
});

describe("what a constraint has over time", () => {
  const constraint = follow("hand-left", "hand-right");
  const shot = movingShot({ constraints: [constraint] });

  test("is a layer with a control of its own", () => {
    expect(ownControl(shot, constraint.id)?.channels).toEqual(["strength"]);
    const key = `${constraint.id}.strength`;
    expect(Object.keys(layerCurves(shot, constraint.id))).toEqual([key]);
    expect(layerCurves(withLayerCurves(shot, constraint.id, {}), constraint.id)).toEqual({});
  });

  test("is known to the operations", async () => {
    const operation = operationById("scale-values");
    const scope = { ...WHOLE_FIGURE, layer: constraint.id };
    const { shot: after } = await runOperation(operation, shot, scope, operation.settings.parse({ factor: 50 }), noContext);
    expect(after.constraints[0].curves[`${constraint.id}.strength`].values[0]).toBeCloseTo(0.5, 12);
    expect(after.base).toBe(shot.base);
  });

  test("is left alone when it is locked", async () => {
    const operation = operationById("scale-values");
    const locked = { ...shot, locked: [`${constraint.id}.strength`] };
    const scope = { ...WHOLE_FIGURE, layer: constraint.id };
    await expect(runOperation(operation, locked, scope, operation.settings.parse({}), noContext)).rejects.toThrow(/locked/);
  });
});
