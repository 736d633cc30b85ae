import { AnimationMixer, type Object3D, PropertyBinding, Vector3 } from "three";
import { GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { validateBytes } from "gltf-validator";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { readGltf } from "../../src/formats/gltf/read.ts";
import { writeGltf } from "../../src/formats/gltf/write.ts";
import type { Shot } from "../../src/model/shot.ts";
import { framesPerSecond } from "../../src/model/rate.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { captureShot } from "../help/capture.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

// Whole files are made, read and played.
jest.setTimeout(30_000);

// three's loader reports its progress with an event that Node does not have.
Object.assign(globalThis, { ProgressEvent: class extends Event {} });

async function issuesOf(bytes: Uint8Array): Promise<{ numErrors: number; numWarnings: number; messages: unknown[] }> {
  return (await validateBytes(bytes)).issues;
}

/** Worst distance between our joints and those three plays from the file, at some frames. */
async function worstAgainstThree(shot: Shot, bytes: Uint8Array, frames: readonly number[], late = 0): Promise<number> {
  const loader = new GLTFLoader();
  const gltf = await loader.parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer, "");
  const mixer = new AnimationMixer(gltf.scene);
  mixer.clipAction(gltf.animations[0]).play();
  const player = makePlayer(shot);
  const place = new Vector3();
  const objects = shot.rig.controls.map(
    (control) => gltf.scene.getObjectByName(PropertyBinding.sanitizeNodeName(control.name)) as Object3D,
  );
  let worst = 0;
  for (const frame of frames) {
    // The last frame would wrap to the first, so it comes a hair early.
    mixer.setTime(Math.min((frame - 1) / framesPerSecond(shot.rate) + late, gltf.animations[0].duration - 1e-6));
    gltf.scene.updateMatrixWorld(true);
    player.pose(frame);
    shot.rig.controls.forEach((_, i) => {
      place.setFromMatrixPosition(objects[i].matrixWorld);
      const o = i * 16 + 12;
      worst = Math.max(worst, Math.hypot(place.x - player.worlds[o], place.y - player.worlds[o + 1], place.z - player.worlds[o + 2]));
    });
  }
  return worst;
}

const whole = (shot: Shot, step = 1) =>
  Array.from({ length: Math.floor((shot.range.end - shot.range.start) / step) + 1 }, (_, i) => shot.range.start + i * step);

describe("the open motion capture as glTF", () => {
  let bytes: Uint8Array;
  let notes: readonly string[];
  beforeAll(async () => {
    ({ bytes, notes } = await writeGltf(captureShot(), true));
  });

  test("has no errors and no warnings in the Khronos gltf-validator", async () => {
    const { numErrors, numWarnings, messages } = await issuesOf(bytes);
    expect({ numErrors, numWarnings, messages }).toEqual({ numErrors: 0, numWarnings: 0, messages: expect.anything() });
  });

  test("plays to the same joint positions within 1e-3 in three's GLTFLoader with AnimationMixer", async () => {
    expect(await worstAgainstThree(captureShot(), bytes, whole(captureShot()))).toBeLessThan(1e-3);
  });

  test("says what was sampled", () => {
    expect(notes.join()).toMatch(/sampled at every frame/);
  });
});

describe.each<[string, () => Shot | Promise<Shot>]>([
  ["a small shot", movingShot],
  ["the stepped hop of the demo", hopAboard],
  ["the lantern with its follows", handOverTheLantern],
  [
    "a pass on top",
    () => movingShot({ passes: [passOf("adds", { "root.moveY": constantCurve(0.2), "spine.rotateY": constantCurve(30) })] }),
  ],
])("%s", (_name, make) => {
  test.each([true, false])("is valid and plays alike in three (binary: %p)", async (binary) => {
    const shot = await make();
    const { bytes } = await writeGltf(shot, binary);
    const { numErrors, numWarnings } = await issuesOf(bytes);
    // Key times are 32-bit floats, so a step may come a hair late.
    expect([numErrors, numWarnings]).toEqual([0, 0]);
    expect(await worstAgainstThree(shot, bytes, whole(shot, 7), 1e-6)).toBeLessThan(1e-4);
  });

  test("reads back to the same joints at every whole frame", async () => {
    const shot = await make();
    const { shot: back } = await readGltf({ bytes: (await writeGltf(shot, true)).bytes, name: "back" });
    expect(
      back.rig.controls.map(({ id, order, partner, part, channels }) => ({ id, order, partner, part, channels: channels.length })),
    ).toEqual(shot.rig.controls.map(({ id, order, partner, part }) => ({ id, order, partner, part, channels: expect.any(Number) })));
    expect([back.range, back.rate, back.set]).toEqual([shot.range, shot.rate, shot.set]);
    const [a, b] = [makePlayer(shot), makePlayer(back)];
    for (const frame of whole(shot)) {
      a.pose(frame);
      b.pose(frame);
      for (let k = 0; k < a.worlds.length; k++) expect(Math.abs(a.worlds[k] - b.worlds[k])).toBeLessThan(2e-5);
    }
  });
});

describe("move curves are kept key for key", () => {
  const pairs: [number, number][] = [
    [1, 0],
    [9, 0.5],
    [20, -0.25],
    [49, 1],
  ];
  const moves = (kind: Curve["kindIn"][number]) => {
    const curve = curveFrom(pairs, kind as 0);
    return smallShot({ "root.moveX": curve, "root.moveY": curve, "root.moveZ": curve });
  };

  test.each([
    ["STEP", Tangent.stepped],
    ["LINEAR", Tangent.linear],
    ["CUBICSPLINE", Tangent.auto],
  ])("as %s", async (kind, tangent) => {
    const shot = moves(tangent);
    const { bytes, notes } = await writeGltf(shot, false);
    const json = JSON.parse(new TextDecoder().decode(bytes));
    expect(json.animations[0].samplers.map((s: { interpolation: string }) => s.interpolation)).toContain(kind);
    expect(notes.join()).toMatch(/1 track written key for key/);
    const { shot: back } = await readGltf({ bytes, name: "back" });
    expect([...back.base["root.moveX"].times]).toEqual([1, 9, 20, 49]);
    for (let t = 1; t <= 49; t += 0.37)
      expect(sampleCurve(back.base["root.moveX"], t)).toBeCloseTo(sampleCurve(shot.base["root.moveX"], t), 5);
  });

  test("where keys do not agree, or handles are weighted, every frame is sampled", async () => {
    const shot = moves(Tangent.auto);
    const apart = { ...shot, base: { ...shot.base, "root.moveY": curveFrom([...pairs.slice(1), [45, 1]]) } };
    expect((await writeGltf(apart, true)).notes.join()).toMatch(/^1 track sampled/);
  });
});

describe("other programs' files", () => {
  const file = (change: (json: Record<string, unknown>) => void, values: number[] = [0, 0.5, 1, 0, 0, 0, 1, 0, 1, 0, 0, 1, 0, 0, 0]) => {
    const data = new Float32Array(values);
    const json: Record<string, unknown> = {
      asset: { version: "2.0" },
      nodes: [
        { name: "hip", children: [1] },
        { name: "knee", translation: [0, -0.4, 0] },
      ],
      animations: [
        {
          channels: [{ sampler: 0, target: { node: 1, path: "rotation" } }],
          samplers: [{ input: 0, output: 1, interpolation: "LINEAR" }],
        },
      ],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 3, type: "SCALAR" },
        { bufferView: 1, componentType: 5126, count: 3, type: "VEC4" },
      ],
      bufferViews: [
        { buffer: 0, byteOffset: 0, byteLength: 12 },
        { buffer: 0, byteOffset: 12, byteLength: 48 },
      ],
      buffers: [{ byteLength: 60, uri: `data:application/octet-stream;base64,${Buffer.from(data.buffer).toString("base64")}` }],
    };
    change(json);
    return new TextEncoder().encode(JSON.stringify(json));
  };
  type Json = Record<string, never[] & Record<string, never>>;
  const read = (bytes: Uint8Array, name: string) => readGltf({ bytes, name });

  test("quaternion keys keep their times where three curves of angles hold between them", async () => {
    const { shot, notes } = await read(
      file(() => undefined),
      "leg",
    );
    expect(notes.join()).toMatch(/key times fit 24 frames a second/);
    expect([...shot.base["knee.rotateY"].times]).toEqual([1, 13, 25]);
    // Half-way from no turn to half a turn about Y, spherically.
    expect(Math.abs(sampleCurve(shot.base["knee.rotateY"], 7))).toBeCloseTo(90, 4);
  });

  test.each<[string, (json: Json) => void, RegExp]>([
    [
      "a buffer that is another file",
      (j) => Object.assign(j.buffers[0], { uri: "leg.bin" }),
      /data of buffer 0 is missing \("leg.bin" is another file\)/,
    ],
    ["a buffer that is not there", (j) => Object.assign(j, { buffers: [] }), /buffer 0 does not exist; the file has 0/],
    ["a buffer that is too short", (j) => Object.assign(j.buffers[0], { byteLength: 600 }), /should have 600 bytes but has 60/],
    ["a circle of nodes", (j) => Object.assign(j.nodes[1], { children: [0] }), /runs in a circle through node 0 \("hip"\)/],
    ["a child that does not exist", (j) => Object.assign(j.nodes[0], { children: [7] }), /Node 0 has the child 7, which does not exist/],
    ["a node under two others", (j) => Object.assign(j, { nodes: [{ children: [2] }, { children: [2] }, {}] }), /hangs under two nodes/],
    [
      "a node index out of range",
      (j) => Object.assign(j.animations[0], { channels: [{ sampler: 0, target: { node: 9, path: "rotation" } }] }),
      /node 9 does not exist; the file has 2/,
    ],
    [
      "a sampler out of range",
      (j) => Object.assign(j.animations[0], { channels: [{ sampler: 4, target: { node: 1, path: "rotation" } }] }),
      /sampler 4 does not exist/,
    ],
    [
      "an accessor out of range",
      (j) => Object.assign(j.animations[0], { samplers: [{ input: 0, output: 8 }] }),
      /accessor 8 does not exist/,
    ],
    ["an accessor of the wrong type", (j) => Object.assign(j.accessors[1], { type: "VEC3" }), /accessor 1 is of type VEC3; VEC4 is needed/],
    ["an unknown component type", (j) => Object.assign(j.accessors[0], { componentType: 77 }), /unknown component type 77/],
    ["an accessor past its view", (j) => Object.assign(j.accessors[1], { count: 900 }), /reaches to byte \d+ of a buffer view that ends/],
    ["no nodes", (j) => Object.assign(j, { nodes: [] }), /no nodes/],
    ["version 1", (j) => Object.assign(j.asset, { version: "1.0" }), /glTF version 1.0; version 2 is read/],
    ["a negative index", (j) => Object.assign(j.bufferViews[0], { buffer: -1 }), /bufferViews.0.buffer should not be below 0/],
    ["damaged base64", (j) => Object.assign(j.buffers[0], { uri: "data:;base64,AAAA*AAA" }), /base64 text is damaged at character 5/],
  ])("%s", async (_name, change, message) => {
    await expect(read(file(change as never), "bad")).rejects.toThrow(message);
  });

  test("values that are no numbers and times that do not rise", async () => {
    await expect(
      read(
        file(() => undefined, [0, 0.5, 1, Number.NaN]),
        "bad",
      ),
    ).rejects.toThrow();
    const nan = [0, 0.5, 1, Number.NaN, 0, 0, 1, 0, 1, 0, 0, 1, 0, 0, 0];
    await expect(
      read(
        file(() => undefined, nan),
        "bad",
      ),
    ).rejects.toThrow(/accessor 1, element 1 is not a number/);
    const back = [0, 1, 0.5, 0, 0, 0, 1, 0, 1, 0, 0, 1, 0, 0, 0];
    await expect(
      read(
        file(() => undefined, back),
        "bad",
      ),
    ).rejects.toThrow(/times do not rise at key 3/);
  });

  test("a .glb cut off, or one that is only text", async () => {
    const { bytes } = await writeGltf(movingShot(), true);
    await expect(read(bytes.slice(0, bytes.length - 50), "cut")).rejects.toThrow(/was cut off/);
    await expect(read(bytes.slice(0, 15), "cut")).rejects.toThrow(/header is damaged/);
    await expect(read(new TextEncoder().encode("{ not json"), "text")).rejects.toThrow(/JSON in the glTF file cannot be read/);
  });

  test("no animation is a figure at rest, not a failure", async () => {
    const { shot, notes } = await read(
      file((j) => Object.assign(j, { animations: [] })),
      "still",
    );
    expect(shot.rig.controls).toHaveLength(2);
    expect(notes.join()).toMatch(/no animation/);
  });
});
