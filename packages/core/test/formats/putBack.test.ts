import { MeshoptDecoder } from "meshoptimizer/decoder";
import { AnimationMixer, BufferGeometry, LoopOnce, type Object3D, PropertyBinding, Vector3 } from "three";
import { type GLTF, GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { validateBytes } from "gltf-validator";
import { addControl, reparent } from "../../src/constraints/editRig.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { readShot } from "../../src/formats/formats.ts";
import { putBack } from "../../src/formats/gltf/putBack.ts";
import { makeControl } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { framesPerSecond } from "../../src/model/rate.ts";
import { type CharacterKind, makeCharacter, takeApart, withJson } from "../help/characters.ts";
import { followOf } from "../help/follows.ts";
import { passOf } from "../help/shots.ts";

// Whole files are made, read and played.
jest.setTimeout(30_000);

// three's loader reports its progress with an event that Node does not have.
Object.assign(globalThis, { ProgressEvent: class extends Event {}, self: globalThis });

/** three's own loader, its pictures and Draco's shapes left out: joints are looked at here. */
async function inThree(bytes: Uint8Array): Promise<GLTF> {
  const loader = new GLTFLoader();
  loader.setMeshoptDecoder(MeshoptDecoder);
  const none = {
    preload: () => undefined,
    decodeDracoFile: (_: unknown, done: (geometry: BufferGeometry) => void) => done(new BufferGeometry()),
  };
  loader.setDRACOLoader(none as never);
  loader.register(() => ({ name: "no pictures", loadTexture: () => Promise.resolve(null) }) as never);
  return loader.parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer, "");
}

/** Worst distance between our joints and those three plays from the file, at every frame, as a part of the figure's size. */
async function worstInThree(shot: Shot, bytes: Uint8Array): Promise<number> {
  const gltf = await inThree(bytes);
  const mixer = new AnimationMixer(gltf.scene);
  const clip = gltf.animations.find(({ name }) => name === shot.name) ?? gltf.animations[shot.asset?.animation ?? 0];
  // Once, and to its very end.
  const action = mixer.clipAction(clip).setLoop(LoopOnce, 1);
  action.clampWhenFinished = true;
  action.play();
  const player = makePlayer(shot);
  const place = new Vector3();
  const drawn = shot.rig.controls.flatMap(({ name }, i) => {
    const object = gltf.scene.getObjectByName(PropertyBinding.sanitizeNodeName(name));
    return object ? [{ object: object as Object3D, i }] : [];
  });
  expect(drawn.length).toBeGreaterThan(15);
  let worst = 0;
  for (let frame = shot.range.start; frame <= shot.range.end; frame++) {
    // Key times are 32-bit floats, so a step may come a hair late.
    mixer.setTime((frame - (shot.asset?.firstFrame ?? 1)) / framesPerSecond(shot.rate) + 1e-6);
    gltf.scene.updateMatrixWorld(true);
    player.pose(frame);
    for (const { object, i } of drawn) {
      place.setFromMatrixPosition(object.matrixWorld);
      const o = i * 16 + 12;
      worst = Math.max(worst, Math.hypot(place.x - player.worlds[o], place.y - player.worlds[o + 1], place.z - player.worlds[o + 2]));
    }
  }
  return worst / SIZE;
}

/** The heron is about so tall. */
const SIZE = 1.3;

const findings = async (bytes: Uint8Array) => (await validateBytes(bytes, { maxIssues: 0 })).issues;

type Json = Record<string, unknown>;

/** Bytes of every buffer view that something other than the animations names, in order. */
function otherData(bytes: Uint8Array): string[] {
  const { json, data } = takeApart(bytes);
  const accessors = json.accessors as { bufferView?: number }[];
  const views = json.bufferViews as {
    buffer: number;
    byteOffset?: number;
    byteLength: number;
    extensions?: { EXT_meshopt_compression?: never };
  }[];
  const animated = new Set(
    ((json.animations ?? []) as { samplers: { input: number; output: number }[] }[])
      .flatMap(({ samplers }) => samplers.flatMap(({ input, output }) => [input, output]))
      .map((i) => accessors[i].bufferView),
  );
  return views.flatMap((view, i) => {
    if (animated.has(i)) return [];
    const { byteOffset = 0, byteLength } = view.extensions?.EXT_meshopt_compression ?? view;
    return [Buffer.from(data.subarray(byteOffset, byteOffset + byteLength)).toString("base64")];
  });
}

const kinds: readonly (readonly [string, CharacterKind])[] = [
  ["one joint a vertex", { influences: 1 }],
  ["two", { influences: 2 }],
  ["three, with keys on splines", { influences: 3, interpolation: "CUBICSPLINE" }],
  ["four, in steps", { influences: 4, interpolation: "STEP" }],
  ["two skins", { skins: 2, influences: 4 }],
  ["shapes to morph between", { morphs: true }],
  ["shapes on splines", { morphs: true, interpolation: "CUBICSPLINE" }],
  ["sparse numbers", { morphs: true, sparse: true }],
  ["quantised", { packed: "quantised" }],
  ["Draco", { packed: "draco" }],
  ["meshopt", { packed: "meshopt" }],
  ["meshopt with shapes, a camera and a picture", { packed: "meshopt", morphs: true, camera: true, picture: true }],
  ["a camera", { camera: true }],
  ["a matrix node and a mirrored one", { oddNodes: true }],
  ["what nobody knows", { strange: true, picture: true }],
  ["two scenes", { scenes: 2 }],
  ["four animations", { animations: 4, strange: true }],
  [
    "all of it",
    { influences: 4, skins: 2, morphs: true, camera: true, oddNodes: true, strange: true, scenes: 2, animations: 4, picture: true },
  ],
];

/** The shot leaning to the side in a pass. */
const leaning = (shot: Shot): Shot => ({
  ...shot,
  passes: [passOf("adds", { "Body.rotateZ": constantCurve(12), "Neck.rotateX": constantCurve(-20), "Beak.rotateX": constantCurve(8) })],
});

describe.each(kinds)("a character with %s", (_name, kind) => {
  let file: Uint8Array;
  let shot: Shot;
  beforeAll(async () => {
    file = await makeCharacter(kind);
    shot = leaning((await readShot(file, "heron.glb")).shot);
  });

  test("goes back into its file with a lean: all else byte for byte, played alike by three, nothing new for the validator", async () => {
    const { bytes } = await putBack(shot, { asset: file });
    expect(otherData(bytes)).toEqual(otherData(file));
    const [before, after] = [takeApart(file).json as Json, takeApart(bytes).json as Json];
    for (const name of Object.keys(before).filter((one) => !["animations", "accessors", "bufferViews", "buffers", "nodes"].includes(one)))
      expect(after[name]).toEqual(before[name]);
    const shape = ({ name, extras, extensions, mesh, skin, children, camera }: Json) => ({
      name,
      extras,
      extensions,
      mesh,
      skin,
      children,
      camera,
    });
    expect((after.nodes as Json[]).map(shape)).toEqual((before.nodes as Json[]).map(shape));
    expect((after.animations as Json[]).length).toBe((before.animations as Json[]).length);
    expect((after.animations as Json[]).slice(1).map(({ name }) => name)).toEqual(
      (before.animations as Json[]).slice(1).map(({ name }) => name),
    );
    expect(await worstInThree(shot, bytes)).toBeLessThan(1e-4);
    const [was, is] = [await findings(file), await findings(bytes)];
    for (const count of ["numErrors", "numWarnings", "numInfos", "numHints"] as const) expect(is[count]).toBeLessThanOrEqual(was[count]);
  });

  test("beside the animation it began with, under a name of its own", async () => {
    const { bytes } = await putBack(shot, { asset: file, adds: true, animation: "Leaning" });
    const [before, after] = [takeApart(file).json.animations as Json[], takeApart(bytes).json.animations as Json[]];
    expect(after.slice(0, -1)).toEqual(before);
    expect(after.at(-1)?.name).toBe("Leaning");
    expect(await worstInThree({ ...shot, name: "Leaning" }, bytes)).toBeLessThan(1e-4);
    expect((await findings(bytes)).numErrors).toBe(0);
  });

  test("opened, moves as three moves it", async () => {
    expect(await worstInThree({ ...shot, passes: [] }, file)).toBeLessThan(4e-4);
  });
});

describe("a rig that was changed", () => {
  test("a carrier put above a control is baked into the nodes there are; the picture is the same", async () => {
    const file = await makeCharacter({ influences: 4 });
    const { shot } = await readShot(file, "heron.glb");
    const made = makeControl("Carrier", { parent: "Body", rest: [0, 0.3, 0] });
    const carried = reparent(addControl(shot, made), ["Neck"], made.id);
    const moved = {
      ...carried,
      base: {
        ...carried.base,
        "Carrier.rotateY": curveFrom([
          [1, 0],
          [13, 40],
          [25, -10],
        ]),
        "Carrier.moveX": constantCurve(0.05),
      },
    };
    const { bytes, notes } = await putBack(moved, { asset: file });
    expect(notes.join()).toMatch(/1 control not in the file \(Carrier\)/);
    expect(await worstInThree(moved, bytes)).toBeLessThan(1e-4);
    expect((takeApart(bytes).json.nodes as Json[]).map(({ name }) => name)).toEqual(
      (takeApart(file).json.nodes as Json[]).map(({ name }) => name),
    );
  });

  test("what follows something is baked, with what it follows left free", async () => {
    const file = await makeCharacter({ influences: 2 });
    const { shot } = await readShot(file, "heron.glb");
    const following = {
      ...shot,
      constraints: [
        followOf({
          id: "f",
          control: "Wing tip_L",
          target: "Head",
          position: true,
          rotation: true,
          strength: constantCurve(1),
          on: true,
          offset: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0.2, 0, 0, 1],
        }),
      ],
    };
    const { bytes } = await putBack(following, { asset: file });
    expect(await worstInThree(following, bytes)).toBeLessThan(1e-4);
    expect(await worstInThree(shot, bytes)).toBeGreaterThan(0.05);
  });

  test("only some controls, a rate of one's own, samples throughout", async () => {
    const file = await makeCharacter({ interpolation: "STEP" });
    const { shot } = await readShot(file, "heron.glb");
    const some = takeApart((await putBack(shot, { asset: file, controls: ["Neck", "Heron"] })).bytes).json;
    const [{ channels, samplers }] = some.animations as {
      channels: { target: { node: number } }[];
      samplers: { interpolation: string; input: number }[];
    }[];
    // What is not meant moves as it did, its samplers as they were; what is meant stands there once.
    const [before] = takeApart(file).json.animations as { channels: unknown[] }[];
    expect(channels.length).toBe(before.channels.length);
    const moved = channels.map(({ target }) => (some.nodes as Json[])[target.node].name);
    for (const name of ["Neck", "Heron"]) expect(moved.filter((one) => one === name)).toHaveLength(1);
    expect(new Set(samplers.map(({ interpolation }) => interpolation))).toEqual(new Set(["STEP"]));
    const dense = takeApart((await putBack(shot, { asset: file, motion: "samples", rate: 48 })).bytes).json;
    const [{ samplers: all }] = dense.animations as { samplers: { input: number; interpolation: string }[] }[];
    const counts = all.map(({ input }) => (dense.accessors as { count: number }[])[input].count);
    expect(Math.max(...counts)).toBe(49);
  });
});

describe("a file as others make them", () => {
  test("what an animation moves by an extension nobody knows stays in it, its sampler and data too", async () => {
    const made = await makeCharacter();
    const file = withJson(made, (given) => {
      const json = given as unknown as { extensionsUsed?: string[]; animations: { channels: object[] }[] };
      json.extensionsUsed = ["LANDING_pointer"];
      json.animations[0].channels.push({ sampler: 2, target: { path: "pointer", extensions: { LANDING_pointer: { at: "/tides/0" } } } });
    });
    const { shot } = await readShot(file, "heron.glb");
    const back = takeApart((await putBack(leaning(shot), { asset: file })).bytes).json;
    const old = takeApart(file).json;
    type Motion = { channels: { sampler: number; target: { path: string } }[]; samplers: { input: number; output: number }[] };
    const [[was], [is]] = [old.animations as Motion[], back.animations as Motion[]];
    const pointer = is.channels.filter(({ target }) => target.path === "pointer");
    expect(pointer.map(({ target }) => target)).toEqual([was.channels[was.channels.length - 1].target]);
    const [sampler, before] = [is.samplers[pointer[0].sampler], was.samplers[2]];
    expect(sampler).toEqual(before);
    for (const i of [sampler.input, sampler.output]) expect((back.accessors as unknown[])[i]).toEqual((old.accessors as unknown[])[i]);
  });

  test("meshes that are damaged do not keep the motion from being opened", async () => {
    const file = withJson(await makeCharacter(), (json) => Object.assign(json, { meshes: [{ primitives: "none" }] }));
    const { shot, notes } = await readShot(file, "heron.glb");
    expect(notes.join()).toMatch(/meshes are not as they should be/);
    expect([shot.asset?.isDrawn, Object.keys(shot.base).length > 20]).toEqual([false, true]);
  });

  test("text with its data in other files comes back as one file with everything inside", async () => {
    const { json, data } = takeApart(await makeCharacter({ picture: true, strange: true }));
    const buffers = [{ ...(json.buffers as Json[])[0], uri: "heron.bin" }];
    const bytes = new TextEncoder().encode(JSON.stringify({ ...json, buffers }));
    const { shot, asset } = await readShot(bytes, "heron.gltf", (path) => (path === "heron.bin" ? data : null));
    expect(shot.asset?.name).toBe("heron.gltf");
    const back = JSON.parse(new TextDecoder().decode((await putBack(leaning(shot), { asset })).bytes)) as Json;
    expect(back.meshes).toEqual(json.meshes);
    expect(back.extensions).toEqual(json.extensions);
    const [{ uri }] = back.buffers as { uri: string }[];
    const inside = Buffer.from(uri.slice(uri.indexOf(",") + 1), "base64");
    for (const { bufferView } of json.images as { bufferView: number }[]) {
      const { byteOffset = 0, byteLength } = (json.bufferViews as { byteOffset?: number; byteLength: number }[])[bufferView];
      expect(
        inside.subarray(byteOffset, byteOffset + byteLength).equals(Buffer.from(data.subarray(byteOffset, byteOffset + byteLength))),
      ).toBe(true);
    }
  });

  test("opened and handed back again and again it does not grow", async () => {
    let file = await makeCharacter({ animations: 2, morphs: true });
    const sizes: number[] = [];
    for (let round = 0; round < 4; round++) {
      const { shot } = await readShot(file, "heron.glb");
      file = (await putBack(leaning(shot), { asset: file })).bytes;
      sizes.push(file.length);
    }
    expect(sizes[3]).toBeLessThan(sizes[0] * 1.02 + 200);
  });
});
