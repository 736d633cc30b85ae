import * as fc from "fast-check";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { addFollow, followOffset } from "../help/follows.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { readShot } from "../../src/formats/formats.ts";
import { readGltf } from "../../src/formats/gltf/read.ts";
import { encodeText, decodeText } from "../../src/formats/utf8.ts";
import { writeBvh } from "../../src/formats/bvhWrite.ts";
import { writeGltf } from "../../src/formats/gltf/write.ts";
import { writeKneader } from "../../src/formats/kneaderJson.ts";
import type { Shot } from "../../src/model/shot.ts";
import { framesPerSecond } from "../../src/model/rate.ts";
import { readCsv, writeCsv } from "../../src/formats/csv.ts";
import { switchSpace } from "../../src/operations/spaces/switchSpace.ts";
import { apart, worldOf } from "../help/posed.ts";
import { run } from "../help/run.ts";
import { movingShot } from "../help/shots.ts";
import { bvhInThree, gltfInThree } from "../help/three.ts";

const factor = fc.oneof(fc.double({ min: 0.2, max: 4, noNaN: true }), fc.double({ min: -3, max: -0.3, noNaN: true }), fc.constant(100));
const scales = fc.dictionary(fc.constantFrom("root", "spine", "arm-left", "hand-left", "arm-right"), fc.tuple(factor, factor, factor), {
  maxKeys: 3,
});

const anyShot: fc.Arbitrary<Shot> = fc
  .record({
    scales,
    even: fc.boolean(),
    follow: fc.option(fc.record({ at: fc.integer({ min: 1, max: 49 }), strength: fc.double({ min: 0, max: 1, noNaN: true }) })),
  })
  .map(({ scales: given, even, follow }) => {
    const shot = movingShot();
    const base = { ...shot.base };
    for (const [id, three] of Object.entries(given))
      ["X", "Y", "Z"].forEach((axis, k) => {
        base[`${id}.scale${axis}`] = constantCurve(even ? three[0] : three[k]);
      });
    const controls = shot.rig.controls.map((control) => ({ ...control, channels: [...control.channels, "scaleX", "scaleY", "scaleZ"] }));
    const scaled = { ...shot, rig: { ...shot.rig, controls }, base };
    if (!follow) return scaled;
    const offset = followOffset(scaled, "hand-right", "hand-left", follow.at);
    const strength = curveFrom([
      [1, 0],
      [20, follow.strength],
      [49, 1],
    ]);
    return addFollow(scaled, {
      id: "f",
      control: "hand-right",
      target: "hand-left",
      position: true,
      rotation: true,
      strength,
      offset,
      on: true,
    });
  });

function sizeOf(shot: Shot): number {
  const player = makePlayer(shot);
  let size = 1;
  for (let frame = 1; frame <= 49; frame += 8) {
    player.pose(frame);
    for (let i = 0; i < shot.rig.controls.length; i++)
      size = Math.max(size, Math.hypot(...player.worlds.subarray(i * 16 + 12, i * 16 + 15)));
  }
  return size;
}

const frames = [1, 5, 13, 20, 27, 33, 40, 48];

/** Worst distance of a shot's joints from places by joint and frame. */
function worst(shot: Shot, places: readonly { x: number; y: number; z: number }[][]): number {
  const player = makePlayer(shot);
  let most = 0;
  frames.forEach((frame, n) => {
    player.pose(frame);
    shot.rig.controls.forEach((_, i) => {
      const o = i * 16 + 12;
      const { x, y, z } = places[i][n];
      most = Math.max(most, Math.hypot(x - player.worlds[o], y - player.worlds[o + 1], z - player.worlds[o + 2]));
    });
  });
  return most;
}

const seconds = (shot: Shot) => frames.map((frame) => (frame - 1) / framesPerSecond(shot.rate) + 1e-6);
const isSheared = (notes: readonly string[]) => notes.some((note) => /shears/.test(note));

// Many files by chance go through two programs.
jest.setTimeout(60_000);

describe("what is written plays in three and here as it did, scaled, mirrored and following", () => {
  test("glTF", async () => {
    await fc.assert(
      fc.asyncProperty(anyShot, async (shot) => {
        const { bytes, notes } = await writeGltf(shot, true);
        const near = 1e-4 * sizeOf(shot);
        const places = (await gltfInThree(bytes))(
          shot.rig.controls.map(({ name }) => name),
          seconds(shot),
        );
        // The file that is written says what was read back …
        expect(worst((await readGltf({ bytes, name: "back" })).shot, places)).toBeLessThan(near);
        // … and it is the shot, but for a shear that the format cannot hold, which is said.
        if (!isSheared(notes)) expect(worst(shot, places)).toBeLessThan(near);
      }),
      { numRuns: 120, seed: 3 },
    );
  });

  test("BVH, which knows no scale, has every joint where it stands", async () => {
    await fc.assert(
      fc.asyncProperty(anyShot, async (shot) => {
        const { bytes } = writeBvh(shot);
        const near = 1e-4 * sizeOf(shot);
        const play = bvhInThree(decodeText(bytes));
        const places = play(
          shot.rig.controls.map(({ name }) => name.replaceAll(" ", "_")),
          seconds(shot),
        );
        expect(worst(shot, places)).toBeLessThan(near);
        const back = (await readShot(bytes, "back.bvh")).shot;
        const order = back.rig.controls.map(({ name }) => places[shot.rig.controls.findIndex((c) => c.name.replaceAll(" ", "_") === name)]);
        expect(worst(back, order)).toBeLessThan(near);
      }),
      { numRuns: 120, seed: 4 },
    );
  });

  test("the shot's own JSON, bit for bit", async () => {
    await fc.assert(
      fc.asyncProperty(anyShot, async (shot) => {
        const back = (await readShot(writeKneader(shot).bytes, "back.json")).shot;
        const [a, b] = [makePlayer(shot), makePlayer(back)];
        for (const frame of frames) {
          a.pose(frame + 0.3);
          b.pose(frame + 0.3);
          expect([...b.worlds]).toEqual([...a.worlds]);
        }
      }),
      { numRuns: 60, seed: 5 },
    );
  });
});

describe("glTF files of others", () => {
  const file = (json: object) => encodeText(JSON.stringify({ asset: { version: "2.0" }, ...json }));
  const read = async (json: object) => (await readGltf({ bytes: file(json), name: "other" })).shot;

  test("a constant scale stays, in scale and in a matrix, mirrored too", async () => {
    const nodes = [
      { name: "top", scale: [100, 100, 100], children: [1, 2] },
      { name: "arm", translation: [1, 2, 3] },
      { name: "glass", matrix: [-2, 0, 0, 0, 0, 3, 0, 0, 0, 0, 0.5, 0, 4, 5, 6, 1], children: [3] },
      { name: "end", translation: [1, 1, 1] },
    ];
    const json = { nodes, scenes: [{ nodes: [0] }], scene: 0 };
    const shot = await read(json);
    const player = makePlayer(shot);
    player.pose(1);
    // three itself, from the same text.
    const places = (await gltfInThree(file(json)))(
      nodes.map(({ name }) => name),
      [0],
    );
    shot.rig.controls.forEach((control, i) => {
      const n = nodes.findIndex(({ name }) => name === control.name);
      [places[n][0].x, places[n][0].y, places[n][0].z].forEach((at, k) => {
        expect(player.worlds[i * 16 + 12 + k]).toBeCloseTo(at, 6);
      });
    });
    expect(shot.base["top.scaleX"].values[0]).toBe(100);
  });

  test("key times of like length, ends and sum stay apart: 0 3 12 21 30 reads back so", async () => {
    const shot = movingShot();
    const one = curveFrom([0, 3, 12, 21, 30].map((time, i) => [time, i]));
    const other = curveFrom([0, 9, 12, 18, 30].map((time, i) => [time, i]));
    // Both have five times from 0 to 30, and the same weighted sum: 3·2 + 12·3 + 21·4 = 9·2 + 12·3 + 18·4.
    const base = { "root.moveX": one, "hand-left.moveX": other };
    const { bytes } = await writeGltf({ ...shot, base, range: { start: 0, end: 30 } }, true);
    const back = (await readGltf({ bytes, name: "back" })).shot;
    expect([...back.base["root.moveX"].times]).toEqual([...one.times]);
    expect([...back.base["hand-left.moveX"].times]).toEqual([...other.times]);
  });

  test("a file of meshes only can be posed by them, and written again", async () => {
    const shot = await read({
      nodes: [
        { name: "crate", mesh: 0 },
        { name: "barrel", mesh: 0 },
      ],
    });
    expect(shot.rig.controls.map(({ name }) => name)).toEqual(["crate", "barrel"]);
    const { bytes } = await writeGltf(shot, true);
    expect((await readGltf({ bytes, name: "again" })).shot.rig.controls.length).toBe(2);
  });

  test.each<[string, string, RegExp]>([
    ["version 1", JSON.stringify({ asset: { version: "1.0" }, nodes: { a: {} }, scene: "main" }), /version 1\.0; version 2 is read/],
    ["no asset", JSON.stringify({ nodes: [] }), /no "asset"/],
    ["a scene that is a word", JSON.stringify({ asset: { version: "2.0" }, scene: "main", nodes: [{}] }), /scene should be a number/],
  ])("%s is refused in words", async (_name, text, message) => {
    await expect(readGltf({ bytes: encodeText(text), name: "other" })).rejects.toThrow(message);
  });

  test("buffers beside the file are read when they are handed over, and named when they are missing", async () => {
    const shot = movingShot();
    const text = decodeText((await writeGltf(shot, false)).bytes);
    const json = JSON.parse(text) as { buffers: { uri: string }[] };
    const data = Uint8Array.from(atob(json.buffers[0].uri.slice(json.buffers[0].uri.indexOf(",") + 1)), (c) => c.charCodeAt(0));
    json.buffers[0].uri = "motion.bin";
    const bytes = encodeText(JSON.stringify(json));
    const asked: string[] = [];
    const beside = (path: string) => {
      asked.push(path);
      return data;
    };
    const back = (await readGltf({ bytes, name: "apart", beside })).shot;
    expect([...new Set(asked)]).toEqual(["motion.bin"]);
    expect(Object.keys(back.base).sort()).toEqual(
      Object.keys((await readGltf({ bytes: encodeText(text), name: "whole" })).shot.base).sort(),
    );
    await expect(readGltf({ bytes, name: "apart" })).rejects.toThrow(/"motion.bin" is another file/);
  });
});

test("formats without constraints get the motion baked, and say whose", async () => {
  const { shot } = await run(switchSpace, movingShot(), { space: "*world", frame: 20 }, { controls: ["hand-left"] });
  for (const write of [writeBvh, writeCsv]) {
    const { bytes, notes } = write(shot);
    expect(notes).toContain("Constraints, spaces and carriers are baked into the motion of 1 control: hand left.");
    expect(bytes.length).toBeGreaterThan(100);
  }
  // In the table it stands where it stood, told under what it hangs on.
  const table = readCsv({ bytes: writeCsv(shot).bytes, name: "table" }).shot;
  // Its headings are names, which the table's rig takes for ids.
  const byId = Object.entries(table.base).map(([key, curve]) => [key.replaceAll(" ", "-"), curve]);
  const plain = { ...shot, constraints: [], base: Object.fromEntries(byId) };
  for (const frame of [1, 13, 20, 35, 49])
    expect(apart(worldOf(plain, "hand-left", frame), worldOf(shot, "hand-left", frame))).toBeLessThan(1e-9);
});
