import { BASE, type Curve, curveFrom, type Shot, withLayerCurves } from "@kneader/core";
import type { ShotHandle } from "../src/storage/shotDoor.ts";
import { isUndecodable, ShotRecords } from "../src/storage/shotRecords.ts";
import { demo, none, opened } from "./help/records.ts";

describe("records", () => {
  const record = (shot: unknown, more: object = {}) => ({
    id: "r",
    name: "R",
    version: 1,
    savedAt: 1,
    deletedAt: null,
    bytes: 0,
    curveKeys: [],
    shot,
    ...more,
  });
  const { base: _, ...rest } = demo;

  test.each<[string, unknown]>([
    ["no range", { ...rest, base: {}, range: undefined }],
    ["no rate", { ...rest, base: {}, rate: undefined }],
    ["controls that are nothing", { ...rest, base: {}, rig: { ...demo.rig, controls: [null] } }],
    [
      "a control without channels",
      { ...rest, base: {}, rig: { ...demo.rig, controls: [{ ...demo.rig.controls[0], channels: undefined }] } },
    ],
    ["passes of another shape", { ...rest, base: {}, passes: [7] }],
    ["a curve that is not listed", { ...rest, base: { "hips.moveX": "r/9" } }],
    [
      "a circle of follows",
      {
        ...rest,
        base: {},
        follows: ["hips", "chest"].map((id, n, both) => ({
          id,
          control: id,
          target: both[1 - n],
          position: true,
          rotation: true,
          strength: "r/1",
          offset: new Array(16).fill(0),
          on: true,
        })),
      },
    ],
  ])("with %s cannot be decoded, and that is said", async (_name, shot) => {
    const world = opened();
    await world.browser.shots.setItem("r", record(shot));
    const failed = await world
      .tab()
      .records.load("r")
      .catch((error: unknown) => error);
    expect(isUndecodable(failed)).toBe(true);
  });

  test("a store that fails just now is no reason to set a record aside", async () => {
    const world = opened();
    const { door, tab } = world.tab();
    const handle = await door.adopt(demo);
    await handle.save(demo);
    handle.release();
    const broken = new ShotRecords({
      ...tab.stores,
      curves: { ...tab.stores.curves, getItem: () => Promise.reject(new Error("The database connection is closing.")) },
    });
    const failed = await broken.load(demo.id).catch((error: unknown) => error);
    expect([isUndecodable(failed), (failed as Error).message]).toEqual([false, "The database connection is closing."]);
  });

  test("what older records do not have is filled in", async () => {
    const world = opened();
    const { versions: _v, sets: _s, poseMarks: _p, locked: _l, cyclic: _c, ...older } = { ...rest, base: {} };
    await world.browser.shots.setItem("r", record(older));
    expect((await world.tab().records.load("r"))?.shot).toMatchObject({ versions: [], sets: [], poseMarks: [], locked: [], cyclic: false });
  });

  test("curves keep their identity when read, so that nothing is written anew by an edit elsewhere", async () => {
    const world = opened();
    const { door, tab } = world.tab();
    const handle = await door.adopt(demo);
    await handle.save(demo);
    handle.release();
    const again = (await door.open(demo.id, none, () => undefined)) as { shot: Shot; handle: ShotHandle };
    const before = tab.written;
    const one: Curve = curveFrom([[1, 5]]);
    await again.handle.save(withLayerCurves(again.shot, BASE, { ...again.shot.base, "hips.rotateX": one }));
    // The new curve, the record, and the removal of the curve it replaced.
    expect(tab.written - before).toBe(3);
  });
});
