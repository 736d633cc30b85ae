import { listAnimations } from "../../src/formats/gltf/read.ts";
import { readShot } from "../../src/formats/formats.ts";

const bytes = (json: object) => new TextEncoder().encode(JSON.stringify({ asset: { version: "2.0" }, ...json }));

const buffer = (numbers: readonly number[]) => ({
  byteLength: numbers.length * 4,
  uri: `data:application/octet-stream;base64,${Buffer.from(new Float32Array(numbers).buffer).toString("base64")}`,
});

test("lights and nodes that only hold a mesh are set aside where nothing moves them, and that is said", async () => {
  const file = bytes({
    nodes: [
      { name: "Root", children: [1, 2] },
      { name: "Arm", translation: [0, 1, 0], children: [4] },
      { name: "Skin of the arm", mesh: 0 },
      { name: "Lamp", translation: [900, 400, 0], extensions: { KHR_lights_punctual: { light: 0 } } },
      { name: "Hand", translation: [0, 1, 0] },
    ],
    meshes: [{ primitives: [{ attributes: {} }] }],
  });
  const { shot, notes } = await readShot(file, "lit.gltf");
  expect(shot.rig.controls.map(({ name }) => name)).toEqual(["Root", "Arm", "Hand"]);
  expect(notes.join(" ")).toContain("Set aside, as nothing moves them: 1 light, 1 node that only holds a mesh. They stay in the file.");
});

test("the length of an animation is told though the file has many more of them", async () => {
  // Eighty animations, each with times of its own: the last one is 109 frames long.
  const times = Array.from({ length: 80 }, (_, n) => [0, n === 79 ? 108 / 24 : 1 + n / 100]);
  const data = [...times.flat(), 0, 0, 0, 1, 0, 0, 0, 1];
  const accessor = (n: number) => ({
    bufferView: 0,
    byteOffset: n * 8,
    componentType: 5126,
    count: 2,
    type: "SCALAR",
    min: [times[n][0]],
    max: [times[n][1]],
  });
  const file = bytes({
    nodes: [{ name: "Root" }],
    buffers: [buffer(data)],
    bufferViews: [{ buffer: 0, byteLength: data.length * 4 }],
    accessors: [...times.map((_, n) => accessor(n)), { bufferView: 0, byteOffset: 640, componentType: 5126, count: 2, type: "VEC4" }],
    animations: times.map((_, n) => ({
      name: `Way ${n}`,
      channels: [{ sampler: 0, target: { node: 0, path: "rotation" } }],
      samplers: [{ input: n, output: 80 }],
    })),
  });
  const listed = await listAnimations({ bytes: file, name: "many.gltf" });
  expect(listed).toHaveLength(80);
  expect(listed[79].seconds).toBeCloseTo(4.5, 5);
  expect(listed.every(({ seconds }) => seconds >= 1)).toBe(true);
});
