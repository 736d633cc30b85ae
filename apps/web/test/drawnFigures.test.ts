import {
  bodyOf,
  channelKey,
  constantCurve,
  FIELD_OF_VIEW,
  formatOf,
  makePlayer,
  makePass,
  originFile,
  type Player,
  readShot,
  type Shot,
} from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { validateBytes } from "gltf-validator";
import { MeshoptDecoder } from "meshoptimizer/decoder";
import { AnimationMixer, LoopOnce, Mesh, type Object3D, PerspectiveCamera, Ray, Raycaster, SkinnedMesh, Vector3 } from "three";
import { type GLTF, GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { type CharacterKind, makeCharacter } from "../../../packages/core/test/help/characters.ts";
import { Chance } from "../../../packages/core/test/help/chance.ts";
import { captureShot } from "../../../packages/core/test/help/capture.ts";
import type { DrawnFigure } from "../src/bench/view/figures/drawn.ts";
import { placeCamera } from "../src/bench/view/cameras.ts";
import { drawnAsset } from "../src/bench/view/figures/drawnAsset.ts";
import { drawnBody } from "../src/bench/view/figures/drawnBody.ts";
import { bodyFor } from "../src/bench/view/figures/bodyFor.ts";
import { figureOf } from "../src/bench/view/figures/drawnFigure.ts";
import type { ControlHit } from "../src/bench/view/figures/skinPicker.ts";

// Whole files are made, read and played.
jest.setTimeout(30_000);

Object.assign(globalThis, { ProgressEvent: class extends Event {}, self: globalThis });

async function inThree(bytes: Uint8Array): Promise<GLTF> {
  const loader = new GLTFLoader();
  loader.setMeshoptDecoder(MeshoptDecoder);
  loader.register(() => ({ name: "no pictures", loadTexture: () => Promise.resolve(null) }) as never);
  const gltf = await loader.parseAsync(bytes.slice().buffer as ArrayBuffer, "");
  gltf.scene.traverse((object) => {
    const node = gltf.parser.associations.get(object)?.nodes;
    if (node !== undefined) object.userData.kneaderNode = node;
  });
  return gltf;
}

/** The figure of a shot whose character came from a file, drawn as in the view. */
async function drawn(shot: Shot, file: Uint8Array): Promise<DrawnFigure> {
  const { scene } = await inThree(file);
  if (!shot.asset) throw new Error("no asset");
  return drawnAsset({ hash: shot.asset.hash, scene }, shot.asset, shot.rig);
}

const meshesOf = (top: Object3D): Mesh[] => {
  const found: Mesh[] = [];
  top.traverse((object) => {
    if (object instanceof Mesh) found.push(object);
  });
  return found;
};

function vertex(mesh: Mesh, i: number): Vector3 {
  return mesh.getVertexPosition(i, new Vector3()).applyMatrix4(mesh.matrixWorld);
}

/** Worst distance between vertices by chance of our figure and those three plays from a file, over all frames. */
function worstVertex(shot: Shot, player: Player, figure: DrawnFigure, gltf: GLTF, frames: readonly number[]): number {
  const mixer = new AnimationMixer(gltf.scene);
  const action = mixer.clipAction(gltf.animations[0]).setLoop(LoopOnce, 1);
  action.clampWhenFinished = true;
  action.play();
  const [own, other] = [figure.meshes.map(({ mesh }) => mesh), meshesOf(gltf.scene)];
  expect(own.length).toBe(other.length);
  const chance = new Chance(5);
  let worst = 0;
  for (const frame of frames) {
    mixer.setTime((frame - frames[0]) / (shot.rate.num / shot.rate.den) + 1e-6);
    gltf.scene.updateMatrixWorld(true);
    player.pose(frame);
    figure.follow(player);
    figure.group.updateMatrixWorld(true);
    for (let n = 0; n < 200; n++) {
      const m = chance.below(own.length);
      const i = chance.below(own[m].geometry.getAttribute("position").count);
      worst = Math.max(worst, vertex(own[m], i).distanceTo(vertex(other[m], i)));
    }
  }
  return worst;
}

const framesOf = ({ range }: Shot, step = 1) => {
  const frames: number[] = [];
  for (let frame = range.start; frame <= range.end; frame += step) frames.push(frame);
  return frames;
};

/** The heron is about so tall. */
const SIZE = 1.3;

const kinds: readonly (readonly [string, CharacterKind])[] = [
  ["one joint a vertex", { influences: 1 }],
  ["two", { influences: 2 }],
  ["three", { influences: 3 }],
  ["four", { influences: 4 }],
  ["two skins, a mirrored node and a matrix", { influences: 4, skins: 2, oddNodes: true }],
  ["shapes to morph between", { morphs: true, influences: 3 }],
  ["sparse numbers", { morphs: true, sparse: true }],
  ["quantised numbers", { packed: "quantised" }],
  ["meshopt", { packed: "meshopt", morphs: true }],
];

describe.each(kinds)("a character with %s", (_name, kind) => {
  test("has 200 vertices by chance a frame where three's own skinning has them", async () => {
    const file = await makeCharacter(kind);
    const { shot } = await readShot(file, "heron.glb");
    const curves = { "Body.rotateZ": constantCurve(12), "Neck.rotateX": constantCurve(-20) };
    const leaning = { ...shot, passes: [makePass("lean", "Lean", "adds", curves)] };
    const back = (await originFile.write(leaning, { asset: file })).bytes;
    const worst = worstVertex(shot, makePlayer(leaning), await drawn(leaning, file), await inThree(back), framesOf(shot));
    expect(worst / SIZE).toBeLessThan(1e-4);
  });
});

describe("the otter", () => {
  test.each(demoShots.map(({ name, make }) => [name, make] as const))(
    "of %s is written with its skin, and three has it so at every frame",
    async (_name, make) => {
      const shot = await make();
      const body = bodyFor(shot.rig);
      const { bytes } = await formatOf("otter.glb").write(shot, { body });
      const { numErrors, numWarnings } = (await validateBytes(bytes)).issues;
      expect([numErrors, numWarnings]).toEqual([0, 0]);
      const gltf = await inThree(bytes);
      const figure = drawnBody(body, shot.rig);
      expect(worstVertex(shot, makePlayer(shot), figure, gltf, framesOf(shot, 5))).toBeLessThan(1e-4);
    },
  );

  test("opened again it is one's own character: drawn from its file, every vertex as it was", async () => {
    const shot = await demoShots[2].make();
    const { bytes } = await formatOf("otter.glb").write(shot, { body: bodyFor(shot.rig) });
    const { shot: again, asset } = await readShot(bytes, "otter.glb");
    expect([again.rig.figure, again.asset?.isDrawn, again.set]).toEqual([null, true, shot.set]);
    expect(again.rig.controls.map(({ id }) => id)).toEqual(shot.rig.controls.map(({ id }) => id));
    const figure = await drawn(again, asset as Uint8Array);
    const own = drawnBody(bodyFor(shot.rig), shot.rig);
    const [a, b] = [makePlayer(shot), makePlayer(again)];
    let worst = 0;
    for (const frame of framesOf(shot, 7)) {
      a.pose(frame);
      b.pose(frame);
      own.follow(a);
      figure.follow(b);
      for (const { group } of [own, figure]) group.updateMatrixWorld(true);
      for (const [m, { mesh }] of own.meshes.entries())
        for (let i = 0; i < mesh.geometry.getAttribute("position").count; i += 37)
          worst = Math.max(worst, vertex(mesh, i).distanceTo(vertex(figure.meshes[m].mesh, i)));
    }
    expect(worst).toBeLessThan(1e-4);
  });
});

describe("a press on the figure", () => {
  /** A ray straight at a control's place, from so far in front. */
  const at = (x: number, y: number, z: number, from: Vector3) => new Raycaster(from, new Vector3(x, y, z).sub(from).normalize());

  test("finds the control whose joint moves the spot most, in any pose", async () => {
    const file = await makeCharacter({ influences: 2, rings: 6, sides: 8 });
    const { shot } = await readShot(file, "heron.glb");
    const figure = figureOf(await drawn(shot, file));
    const player = makePlayer(shot);
    for (const frame of [1, 9, 20]) {
      player.pose(frame);
      figure.follow(player);
      figure.group.updateMatrixWorld(true);
      const head = (player.controlIndex.get("Head") as number) * 16 + 12;
      const neck = (player.controlIndex.get("Upper neck") as number) * 16 + 12;
      // A little above the upper neck's joint, on the way to the head: its own joint moves that most.
      const [x, y, z] = [0, 1, 2].map((k) => player.worlds[neck + k] * 0.7 + player.worlds[head + k] * 0.3);
      const hits = at(x, y, z, new Vector3(x, y, z + 5)).intersectObject(figure.group, true) as unknown as ControlHit[];
      expect(hits[0].control).toBe("Upper neck");
      // The nearest triangle is the one that is hit, as an honest look at all of them says.
      const [mesh] = meshesOf(figure.group).filter((one) => one.visible && one instanceof SkinnedMesh);
      expect(hits[0].distance).toBeCloseTo(nearest(mesh, new Vector3(x, y, z + 5), new Vector3(0, 0, -1)), 6);
    }
    figure.dispose();
  });

  function nearest(mesh: Mesh, from: Vector3, way: Vector3): number {
    const ray = new Ray(from, way);
    let least = Infinity;
    const index = mesh.geometry.index;
    for (let t = 0; t < (index?.count ?? 0); t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => vertex(mesh, index?.getX(t + k) ?? 0));
      const hit = ray.intersectTriangle(a, b, c, false, new Vector3());
      if (hit) least = Math.min(least, hit.distanceTo(from));
    }
    return least;
  }

  test("marks what is picked, and nothing else", () => {
    const shot = captureShot();
    const figure = figureOf(drawnBody(bodyOf(shot.rig), shot.rig));
    const marked = () => meshesOf(figure.group).filter((mesh) => mesh.visible && (mesh.parent as Mesh)?.isMesh);
    expect(marked()).toHaveLength(0);
    figure.pick(new Set(["LeftArm"]));
    const [mark, ...others] = marked();
    expect(others).toHaveLength(0);
    expect(mark.geometry.index?.count).toBeGreaterThan(30);
    figure.pick(new Set());
    expect(marked()).toHaveLength(0);
    figure.dispose();
  });
});

test("a camera of the file is the shot camera, where it stands and with its field of view; a key on it is seen", async () => {
  const { shot } = await readShot(await makeCharacter({ camera: true }), "heron.glb");
  const lens = channelKey("Watcher", FIELD_OF_VIEW);
  const seen = (one: Shot) => {
    const camera = new PerspectiveCamera(50, 1.5);
    const player = makePlayer(one);
    player.pose(1);
    placeCamera(camera, "shot", one, player);
    return camera;
  };
  expect(seen(shot).fov).toBeCloseTo((0.6 * 180) / Math.PI, 4);
  expect(
    seen(shot)
      .position.toArray()
      .map((value) => Math.round(value * 1e6) / 1e6),
  ).toEqual([0, 0.8, 3]);
  expect(seen({ ...shot, base: { ...shot.base, [lens]: constantCurve(20) } }).fov).toBeCloseTo(20, 9);
});

test("a pass over a shape shows in its weight", async () => {
  const file = await makeCharacter({ morphs: true });
  const { shot } = await readShot(file, "heron.glb");
  const puffed = channelKey("Shape", "puffed %");
  const figure = await drawn(shot, file);
  const weight = (one: Shot) => {
    const player = makePlayer(one);
    player.pose(1);
    figure.follow(player);
    return figure.meshes[0].mesh.morphTargetInfluences?.[0];
  };
  const plain = weight(shot) as number;
  expect(weight({ ...shot, passes: [makePass("puff", "Puff", "adds", { [puffed]: constantCurve(30) })] })).toBeCloseTo(plain + 0.3, 9);
  expect(weight({ ...shot, passes: [makePass("puff", "Puff", "replaces", { [puffed]: constantCurve(45) })] })).toBeCloseTo(0.45, 9);
});
