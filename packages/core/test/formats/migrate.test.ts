import { readFileSync } from "node:fs";
import { join } from "node:path";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { formats, readShot } from "../../src/formats/formats.ts";
import type { Shot } from "../../src/model/shot.ts";
import { writeKneader } from "../../src/formats/kneaderJson.ts";
import { migrate } from "../../src/formats/migrate.ts";
import { controlById } from "../../src/model/rig.ts";
import { movingShot } from "../help/shots.ts";

const folder = join(__dirname, "../../../../reference/corpus/shots");
const read = (name: string) => new Uint8Array(readFileSync(join(folder, name)));

/** Shots by chance with follows, as version 1 wrote them. */
describe.each(["random-1.json", "random-2.json", "random-3.json", "random-4.json"])("%s of version 1", (name) => {
  const written = JSON.parse(new TextDecoder().decode(read(name)));
  let shot: Shot;
  beforeAll(async () => {
    ({ shot } = await readShot(read(name), name));
  });

  test("has each of its follows as a constraint with a strength of its own", () => {
    expect(shot.constraints.map(({ id }) => id)).toEqual(written.shot.follows.map(({ id }: { id: string }) => id));
    for (const [n, { id, kind, on, settings, curves }] of shot.constraints.entries()) {
      const { control, target, position, rotation, offset, strength } = written.shot.follows[n];
      expect(kind).toBe("follow");
      expect(on).toBe(true);
      expect(settings).toEqual({ control, target, position, rotation, offset });
      expect([...curves[`${id}.strength`].values]).toEqual(strength.values);
    }
  });

  test("has roles in place of a part that was called set", () => {
    expect(controlById(shot.rig, "camera")?.role).toBe("camera");
    expect(controlById(shot.rig, "prop")?.role).toBe("set");
    expect(controlById(shot.rig, "hips")?.role).toBe("figure");
    expect(shot.rig.controls.some(({ part }) => part === "set")).toBe(false);
  });

  test("is, written and read again, played alike", async () => {
    const again = (await readShot(writeKneader(shot).bytes, name)).shot;
    const [one, other] = [makePlayer(shot), makePlayer(again)];
    for (const frame of [1, 12.5, 30]) {
      one.pose(frame);
      other.pose(frame);
      expect([...other.worlds]).toEqual([...one.worlds]);
    }
  });
});

test("fields that files may leave out are filled in", async () => {
  const { cyclic, locked, sets, versions, poseMarks, constraints, ...old } = JSON.parse(
    new TextDecoder().decode(writeKneader(movingShot()).bytes),
  ).shot;
  expect([cyclic, locked, sets, versions, poseMarks, constraints]).toEqual([false, [], [], [], [], []]);
  const bytes = new TextEncoder().encode(JSON.stringify({ format: "kneader-shot", version: 1, shot: old }));
  const { shot } = await readShot(bytes, "old.json");
  expect({ ...shot, id: "" }).toEqual({ ...movingShot(), id: "" });
});

test("what is no shot at all is left for the reader to name", () => {
  for (const odd of [null, 3, "no", [], { follows: 3 }, { rig: 1, passes: "x" }, { rig: { controls: [null, 1] }, follows: [null] }])
    expect(() => migrate("shot", 1, odd)).not.toThrow();
  expect(() => migrate("shot", 99, {})).toThrow(/newer Kneader/);
});

test("a prop is what follows something, with all that hangs on it", () => {
  const control = (id: string, parent: string | null, part = "") => ({ id, name: id, parent, part });
  const rig = {
    controls: [control("body", null), control("lantern", null, "lantern"), control("flame", "lantern"), control("boat", null, "set")],
  };
  const migrated = migrate("shot", 1, { rig, follows: [{ id: "f", control: "lantern", target: "body" }] }) as {
    rig: { controls: { role: string }[] };
  };
  expect(migrated.rig.controls.map(({ role }) => role)).toEqual(["figure", "prop", "prop", "set"]);
});

test("roles come back from glTF, also from files that told them by a part", async () => {
  const shot = movingShot();
  const controls = shot.rig.controls.map((one) => (one.id === "root" ? { ...one, role: "camera" as const } : one));
  const gltf = formats.find(({ id }) => id === "gltf");
  const written = (await gltf?.write({ ...shot, rig: { ...shot.rig, controls } }))?.bytes as Uint8Array;
  expect((await readShot(written, "a.gltf")).shot.rig.controls[0].role).toBe("camera");
  const old = new TextDecoder().decode(written).replace('"role":"camera","part":"body"', '"part":"set"');
  expect((await readShot(new TextEncoder().encode(old), "a.gltf")).shot.rig.controls[0].role).toBe("set");
});
