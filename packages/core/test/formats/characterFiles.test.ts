import { curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { checkFileSize, formatOf, readShot } from "../../src/formats/formats.ts";
import { listAnimations, listRests } from "../../src/formats/gltf/read.ts";
import { drawable } from "../../src/formats/gltf/skins.ts";
import { writeKneader } from "../../src/formats/kneaderJson.ts";
import { originFile } from "../../src/formats/originFile.ts";
import { channelUnit, FIELD_OF_VIEW } from "../../src/model/rig.ts";
import { makeCharacter, takeApart, withJson } from "../help/characters.ts";

// Whole files are made, read and played.
jest.setTimeout(30_000);

type Json = Record<string, unknown>;
interface Loose {
  readonly nodes: Json[];
  readonly meshes: { primitives: { attributes: Record<string, number> }[] }[];
  readonly accessors: { bufferView: number; count: number }[];
  readonly bufferViews: { byteOffset?: number; byteLength: number }[];
  readonly images: Json[];
  animations: { channels: unknown[]; samplers: unknown[] }[];
}
const changed = (bytes: Uint8Array, change: (json: Loose, data: Uint8Array) => void) =>
  withJson(bytes, (json, data) => change(json as unknown as Loose, data));

/** Joints over the whole shot, to be compared. */
async function places(bytes: Uint8Array, choices: Parameters<typeof readShot>[3]): Promise<number[]> {
  const { shot } = await readShot(bytes, "heron.glb", undefined, choices);
  const player = makePlayer(shot);
  const all: number[] = [];
  for (let frame = shot.range.start; frame <= shot.range.end; frame += 1) {
    player.pose(frame);
    all.push(...player.worlds);
  }
  return all;
}

describe("a file with four animations", () => {
  test("lists them, and opens each as a shot of the same rig and file", async () => {
    const bytes = await makeCharacter({ animations: 4, seconds: 2 });
    const listed = await listAnimations({ bytes, name: "heron" });
    expect(listed.map(({ name, seconds }) => [name, seconds])).toEqual([
      ["Wade", 2],
      ["Preen", 2],
      ["Start up", 2],
      ["Stand", 2],
    ]);
    const shots = await Promise.all(
      [0, 1, 2, 3].map(async (animation) => (await readShot(bytes, "heron.glb", undefined, { animation })).shot),
    );
    expect(shots.map(({ name }) => name)).toEqual(["heron – Wade", "heron – Preen", "heron – Start up", "heron – Stand"]);
    expect(new Set(shots.map(({ asset }) => asset?.hash)).size).toBe(1);
    for (const { rig, base } of shots) {
      expect(rig).toEqual(shots[0].rig);
      expect(Object.keys(base).sort()).toEqual(Object.keys(shots[0].base).sort());
    }
    expect(shots[1].base["Neck.rotateX"].values).not.toEqual(shots[0].base["Neck.rotateX"].values);
  });
});

describe("the rest pose", () => {
  /** The skin was bound straight; the nodes stand with a bent neck. */
  const bent = async () =>
    changed(await makeCharacter({ morphs: true }), ({ nodes }) => {
      for (const node of nodes) if (node.name === "Neck") Object.assign(node, { rotation: [Math.sin(0.4), 0, 0, Math.cos(0.4)] });
    });

  test("is taken from the nodes, from the pose it was bound in or from the first frame; the motion is the same", async () => {
    const bytes = await bent();
    expect(await listRests({ bytes, name: "heron" })).toEqual(["nodes", "bind", "first"]);
    const rests = await Promise.all(
      (["nodes", "bind", "first"] as const).map(async (rest) => {
        const { shot } = await readShot(bytes, "heron.glb", undefined, { rest });
        return shot.rig.controls.find(({ id }) => id === "Neck")?.restTurn;
      }),
    );
    expect(rests[0]?.[0]).toBeCloseTo(Math.sin(0.4), 6);
    expect(rests[1]?.[3]).toBeCloseTo(1, 6);
    expect(rests[2]).not.toEqual(rests[0]);
    const all = await Promise.all((["nodes", "bind", "first"] as const).map((rest) => places(bytes, { rest })));
    for (const other of all.slice(1))
      other.forEach((value, i) => {
        // Curves of angles on another rest pose keep to the file within 0.01° each.
        expect(Math.abs(value - all[0][i])).toBeLessThan(2e-3);
      });
  });

  test("is told apart where the nodes do not stand as they were bound", async () => {
    expect((await readShot(await bent(), "heron.glb")).notes.join()).toMatch(/do not stand in the pose its skin was bound in/);
    expect(await listRests({ bytes: await makeCharacter(), name: "heron" })).toEqual(["nodes", "first"]);
  });
});

test("shapes are channels in percent, a camera has its field of view, and what stands still has its value", async () => {
  const { shot } = await readShot(await makeCharacter({ morphs: true, camera: true, animations: 0 }), "heron.glb");
  const shape = shot.rig.controls.find(({ id }) => id === "Shape");
  expect(shape?.channels).toEqual(expect.arrayContaining(["puffed %", "ruffled %"]));
  expect(channelUnit("puffed %")).toBe("percent");
  expect(shot.base["Shape.puffed %"].values[0]).toBeCloseTo(20, 5);
  const camera = shot.rig.controls.find(({ role }) => role === "camera");
  expect(camera?.name).toBe("Watcher");
  expect(shot.base[`${camera?.id}.${FIELD_OF_VIEW}`].values[0]).toBeCloseTo((0.6 * 180) / Math.PI, 4);
});

test("a scene written without the mesh says that its shapes are left out, and a field of view that changes is said", async () => {
  const file = await makeCharacter({ morphs: true, camera: true });
  const { shot } = await readShot(file, "heron.glb");
  const scene = await formatOf("a.glb").write(shot);
  expect(scene.notes.join()).toMatch(/2 shapes of a mesh left out/);
  const zoomed = {
    ...shot,
    base: {
      ...shot.base,
      [`Watcher.${FIELD_OF_VIEW}`]: curveFrom([
        [1, 30],
        [20, 12],
      ]),
    },
  };
  expect((await originFile.write(zoomed, { asset: file })).notes.join()).toMatch(/field of view changes/);
  expect((await originFile.write(shot, { asset: file })).notes.join()).not.toMatch(/field of view|shapes/);
});

describe("the shot's own file", () => {
  const open = async (bytes: Uint8Array) => readShot(bytes, "heron.json");

  test("holds the character's file when that is wished, and says so when it does not", async () => {
    const file = await makeCharacter({ picture: true });
    const { shot } = await readShot(file, "heron.glb");
    const { bytes, notes } = writeKneader(shot, { asset: file });
    expect(notes).toEqual([]);
    const again = await open(bytes);
    expect([again.asset, again.shot.asset]).toEqual([file, shot.asset]);
    const plain = writeKneader(shot);
    expect(plain.notes.join()).toMatch(/"heron.glb"\) is not inside/);
    expect((await open(plain.bytes)).asset).toBeUndefined();
    expect((await originFile.write(again.shot, { asset: again.asset })).bytes.length).toBeGreaterThan(1000);
  });

  test.each([
    ["another file", Buffer.from("another").toString("base64")],
    ["no base64", "*** no ***"],
  ])("with %s inside opens with its motion, and says what was left out", async (_name, inside) => {
    const { shot } = await readShot(await makeCharacter(), "heron.glb");
    const json = JSON.parse(new TextDecoder().decode(writeKneader(shot).bytes));
    const again = await open(new TextEncoder().encode(JSON.stringify({ ...json, asset: inside })));
    expect(again.notes.join()).toMatch(/file inside is damaged and was left out/);
    expect(Object.keys(again.shot.base)).toEqual(Object.keys(shot.base));
  });
});

describe("what is wrong with a file is said, and its motion is opened", () => {
  const open = async (bytes: Uint8Array) => {
    const { shot, notes } = await readShot(bytes, "heron.glb");
    expect(shot.rig.controls.length).toBeGreaterThan(15);
    return { shot, said: notes.join(" ") };
  };

  test("a mesh without skin data stands unbound in the view, and goes back as it came", async () => {
    const bytes = changed(await makeCharacter(), ({ meshes }) => {
      for (const { attributes } of meshes[0].primitives) {
        delete attributes.JOINTS_0;
        delete attributes.WEIGHTS_0;
      }
    });
    const { shot, said } = await open(bytes);
    expect(said).toMatch(/1 mesh bound to a skin without saying which joints move it/);
    const shown = takeApart(drawable(bytes)).json as unknown as Loose;
    expect(shown.nodes.some(({ skin }) => skin !== undefined)).toBe(false);
    const back = takeApart((await originFile.write(shot, { asset: bytes })).bytes).json as unknown as Loose;
    expect(back.nodes.filter(({ skin }) => skin !== undefined)).toHaveLength(1);
    expect(drawable(await makeCharacter())).toEqual(await makeCharacter());
  });

  test("weights that sum to 0", async () => {
    const bytes = changed(await makeCharacter(), ({ meshes, accessors, bufferViews }, data) => {
      const { bufferView } = accessors[meshes[0].primitives[0].attributes.WEIGHTS_0];
      const { byteOffset = 0 } = bufferViews[bufferView];
      const at = byteOffset + ((accessors[meshes[0].primitives[0].attributes.WEIGHTS_0] as { byteOffset?: number }).byteOffset ?? 0);
      const stride = (bufferViews[bufferView] as { byteStride?: number }).byteStride ?? 16;
      for (let n = 0; n < 3; n++) data.fill(0, at + n * stride, at + n * stride + 16);
    });
    expect((await open(bytes)).said).toMatch(/3 vertices with weights that sum to 0/);
  });

  test("a picture that is not there, and one of another kind than it says", async () => {
    const made = await makeCharacter({ picture: true });
    const missing = changed(made, ({ images }) => {
      images[0] = { uri: "feathers.png", name: "Feathers" };
    });
    expect((await open(missing)).said).toMatch(/1 picture \("feathers.png"\) not there/);
    const wrong = changed(made, ({ images }) => Object.assign(images[0], { mimeType: "image/jpeg" }));
    expect((await open(wrong)).said).toMatch(/1 picture \(1\) of another kind than the file says/);
  });

  test("two nodes of one name, told apart and both handed back", async () => {
    const bytes = changed(await makeCharacter(), ({ nodes }) => {
      for (const node of nodes) if (/^Wing_/.test(String(node.name))) node.name = "Wing";
    });
    const { shot, said } = await open(bytes);
    expect(said).toMatch(/2 nodes are named "Wing"/);
    expect(shot.rig.controls.filter(({ name }) => name === "Wing").map(({ id }) => id)).toEqual(["Wing", "Wing 2"]);
    const back = takeApart((await originFile.write(shot, { asset: bytes })).bytes).json as unknown as Loose;
    expect(back.nodes.filter(({ name }) => name === "Wing")).toHaveLength(2);
  });

  test("an animation without keys", async () => {
    const bytes = changed(await makeCharacter(), (json) => {
      json.animations = [{ channels: [], samplers: [] }];
    });
    expect((await open(bytes)).said).toMatch(/no keys; the figure stands at rest/);
  });

  test("300 MB, before a byte is read", () => {
    expect(() => checkFileSize("heron.glb", 300 * 1024 * 1024)).toThrow(/has 300 MB; up to 256 MB can be opened/);
  });

  test("another file than the one it came from, or none", async () => {
    const { shot } = await open(await makeCharacter());
    const write = async (asset: Uint8Array | null) => originFile.write(shot, { asset });
    await expect(write(null)).rejects.toThrow(/is not here/);
    await expect(write(await makeCharacter({ camera: true }))).rejects.toThrow(/not the one this character came from \("heron.glb"\)/);
  });
});

test("pictures that are no list, or lead nowhere, cost nothing but themselves: read, drawn, and handed back", async () => {
  const bytes = await makeCharacter({ seconds: 1, picture: true });
  const { json, data } = takeApart(bytes);
  const buffers = [{ byteLength: data.length, uri: "body.bin" }];
  for (const images of [{}, 7, "all", [null, 3], [{ uri: "%E0%A4%A" }], [{ uri: "fur.png" }]]) {
    const text = new TextEncoder().encode(JSON.stringify({ ...json, buffers, images }));
    const asked: string[] = [];
    const { shot, asset } = await readShot(text, "heron.gltf", (path) => {
      asked.push(path);
      return path === "body.bin" ? data : null;
    });
    expect(asked).toContain("body.bin");
    expect(shot.rig.controls.length).toBeGreaterThan(5);
    expect(drawable(asset as Uint8Array).length).toBeGreaterThan(0);
    expect((await originFile.write(shot, { asset, body: null })).bytes.length).toBeGreaterThan(0);
  }
});
