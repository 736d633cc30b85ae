import { KneaderError } from "../../src/errors.ts";
import { formats, readShot } from "../../src/formats/formats.ts";
import { originFile } from "../../src/formats/originFile.ts";
import { encodeText } from "../../src/formats/utf8.ts";
import type { Shot } from "../../src/model/shot.ts";
import { writeKneader } from "../../src/formats/kneaderJson.ts";
import { makeCharacter, withJson } from "../help/characters.ts";
import { everything, fuzzFiles, HANGS } from "../help/fuzz.ts";

/** Numbers as data inside the file. */
const uriOf = (values: readonly number[]) =>
  `data:application/octet-stream;base64,${Buffer.from(new Float32Array(values).buffer).toString("base64")}`;

/** A glTF file of two keys, 0 and `seconds`, with what is damaged about it. */
function gltf(more: object = {}, seconds = 1): Uint8Array {
  return encodeText(
    JSON.stringify({
      asset: { version: "2.0" },
      nodes: [{ name: "a" }],
      animations: [{ channels: [{ sampler: 0, target: { node: 0, path: "rotation" } }], samplers: [{ input: 0, output: 1 }] }],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 2, type: "SCALAR" },
        { bufferView: 1, componentType: 5126, count: 2, type: "VEC4" },
      ],
      bufferViews: [
        { buffer: 0, byteLength: 8 },
        { buffer: 0, byteOffset: 8, byteLength: 32 },
      ],
      buffers: [{ byteLength: 40, uri: uriOf([0, seconds, 0, 0, 0, 1, 0, 1, 0, 0]) }],
      ...more,
    }),
  );
}

/** Reading takes little memory and does not hang, whatever comes of it. */
async function read(bytes: Uint8Array, name: string): Promise<{ shot: Shot | null; message: string }> {
  const before = process.memoryUsage().rss;
  const started = performance.now();
  let answer: Awaited<ReturnType<typeof read>>;
  try {
    answer = { shot: (await readShot(bytes, name)).shot, message: "" };
  } catch (error) {
    expect(error).toBeInstanceOf(KneaderError);
    answer = { shot: null, message: (error as Error).message };
  }
  expect(performance.now() - started).toBeLessThan(HANGS);
  expect(process.memoryUsage().rss - before).toBeLessThan(500 * 1048576);
  return answer;
}

const joints = (count: number, nested: boolean) => {
  const joint = (n: number) => `JOINT j${n}\n{\nOFFSET 0 1 0\nCHANNELS 3 Zrotation Xrotation Yrotation\n`;
  const body = Array.from({ length: count }, (_, n) => (nested ? joint(n) : `${joint(n)}End Site\n{\nOFFSET 0 1 0\n}\n}`)).join("\n");
  const tail = nested ? `End Site\n{\nOFFSET 0 1 0\n}\n${"}\n".repeat(count)}` : "";
  const zeros = "0 ".repeat(count * 3 + 6);
  return encodeText(
    `HIERARCHY\nROOT r\n{\nOFFSET 0 0 0\nCHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation\n${body}\n${tail}}\nMOTION\nFrames: 2\nFrame Time: 0.04\n${zeros}\n${zeros}\n`,
  );
};

describe("small files that ask for much", () => {
  test("a key at a million seconds", async () =>
    expect((await read(gltf({}, 1e6), "far.gltf")).message).toMatch(/reaches over 24000000 frames; up to 200000 can be opened/));

  test("a thousand million elements, with data and without", async () => {
    const accessors = (more: object) => ({
      accessors: [
        { componentType: 5126, count: 1_000_000_000, type: "SCALAR", ...more },
        { bufferView: 1, componentType: 5126, count: 2, type: "VEC4" },
      ],
    });
    expect((await read(gltf(accessors({ bufferView: 0 })), "many.gltf")).message).toMatch(/says that it has 1000000000 elements/);
    expect((await read(gltf(accessors({})), "many.gltf")).message).toMatch(/1000000000 elements/);
  });

  test("a stride of nothing", async () => {
    const bufferViews = [
      { buffer: 0, byteLength: 8, byteStride: 0 },
      { buffer: 0, byteOffset: 8, byteLength: 32 },
    ];
    const accessors = [
      { bufferView: 0, componentType: 5126, count: 10_000_000, type: "SCALAR" },
      { bufferView: 1, componentType: 5126, count: 2, type: "VEC4" },
    ];
    expect((await read(gltf({ bufferViews, accessors }), "stride.gltf")).message).toMatch(/stride of 0 bytes, less than one element/);
  });

  test("a chain of 20 000 nodes, 20 000 of one name, 3 000 joints below or beside one another", async () => {
    const chain = Array.from({ length: 20_000 }, (_, i) => ({ name: `n${i}`, ...(i < 19_999 ? { children: [i + 1] } : {}) }));
    expect((await read(gltf({ nodes: chain }), "chain.gltf")).message).toMatch(/20000 nodes; up to 5000/);
    const alike = Array.from({ length: 4000 }, () => ({ name: "twin" }));
    const { shot } = await read(gltf({ nodes: alike }), "twins.gltf");
    expect(new Set(shot?.rig.controls.map(({ id }) => id)).size).toBe(4000);
    for (const nested of [true, false]) {
      const many = (await read(joints(3000, nested), "joints.bvh")).shot;
      expect(many?.rig.controls).toHaveLength(3001);
      if (many) for (const format of formats) expect((await format.write(many)).bytes.length).toBeGreaterThan(0);
    }
  }, 60_000);

  test("120 MB of zeros, under any name", async () => {
    const zeros = new Uint8Array(120 * 1048576);
    for (const { extension } of formats) expect((await read(zeros, `zeros${extension}`)).shot).toBeNull();
  });
});

type Json = { [name: string]: Json } & Json[];

/** Put something at a path of a JSON value. */
function put(top: Json, path: string, value: unknown): void {
  const names = path.split("/");
  const last = names.pop() as string;
  const inside = names.reduce((at, name) => at[name], top);
  inside[last] = value as Json;
}

describe("the gate", () => {
  const shot = everything();
  const written = JSON.parse(Buffer.from(writeKneader(shot).bytes).toString()) as Json;
  const [follow] = JSON.parse(JSON.stringify(written.shot.constraints)) as { settings: object }[];
  const following = (control: string, target: string) => ({ ...follow, id: "g", settings: { ...follow.settings, control, target } });
  const living = (control: string, spaces: (string | null)[]) => ({ ...follow, id: "g", kind: "space", settings: { control, spaces } });
  const carrying = (carrier: string, controls: string[]) => ({ ...follow, id: "g", kind: "carry", settings: { carrier, controls } });
  const planted = (limb: string[], x = 0) => {
    const place = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, 0, 1];
    const contacts = [{ start: 1, end: 5, easeIn: 0, easeOut: 0, place }];
    const settings = { limb, ground: null, spot: [0, 0, 0], turns: true, hinge: [0, 0, 1], stretches: false, contacts };
    return { ...follow, id: "g", kind: "plant", settings };
  };
  const control = shot.rig.controls[0];

  test.each<[string, string, unknown, RegExp]>([
    ["a range turned round", "range", { start: 25, end: 1 }, /ends before it starts/],
    ["a range of a thousand million frames", "range/end", 1e9, /beyond ±10000000/],
    ["a value of 1e308", "base/root.moveX/values/0", 1e308, /root\.moveX.*between ±/],
    ["a negative unit", "unitMetres", -1, /unitMetres should/],
    ["a rate of 1e300", "rate", { num: 1e300, den: 1 }, /1e\+300 frames a second/],
    ["an unknown follower", "constraints/0/settings/control", "moon", /names the control "moon"/],
    ["an unknown partner", "rig/controls/2/partner", "moon", /has the partner "moon"/],
    ["a circle of follows", "constraints/1", following("hand-left", "hand-right"), /a circle/],
    [
      "a circle of a space and a follow",
      "constraints/1",
      living("hand-left", ["arm-left", "hand-right"]),
      /"hand right" moves with .*a circle/,
    ],
    ["a circle through three controls", "constraints/1", living("root", [null, "hand-left"]), /a circle/],
    ["a carrier that hangs on what it carries", "constraints/1", carrying("hand-left", ["spine"]), /a circle/],
    ["a limb of one bone", "constraints/1", planted(["arm-left", "hand-left"]), /limb/],
    ["a contact of 1e308", "constraints/1", planted(["spine", "arm-left", "hand-left"], 1e308), /beyond ±/],
    ["a follow of its own child", "constraints/0", following("spine", "hand-left"), /a circle/],
    ["no controls", "rig/controls", [], /no control/],
    ["two controls of one id", "rig/controls/3/id", "arm-left", /stands twice/],
  ])("%s is refused in words", async (_name, path, value, message) => {
    const copy = structuredClone(written);
    put(copy.shot, path, value);
    expect((await read(encodeText(JSON.stringify(copy)), "changed.json")).message).toMatch(message);
  });

  test("a few controls over 200 000 frames are too much to play at once, and it is said", async () => {
    const copy = structuredClone(written);
    put(copy.shot, "constraints", []);
    put(copy.shot, "range/end", 190_000);
    const controls = Array.from({ length: 20 }, (_, n) => ({ ...control, id: `x${n}`, partner: null }));
    put(copy.shot, "rig/controls", controls);
    expect((await read(encodeText(JSON.stringify(copy)), "changed.json")).message).toMatch(
      /20 controls over 190000 frames; together that is more than can be played at once/,
    );
  });

  test("empty names are given one, and names that mean something to JavaScript are names", async () => {
    const copy = structuredClone(written);
    put(copy.shot, "name", " ");
    put(copy.shot, "rig/controls/0/name", "");
    let text = JSON.stringify(copy);
    for (const [id, name] of [
      ["spine", "constructor"],
      ["hand-left", "__proto__"],
      ["arm-left", "toString"],
    ])
      text = text.replaceAll(`"${id}"`, `"${name}"`).replaceAll(`"${id}.`, `"${name}.`);
    const { shot: named, message } = await read(encodeText(text), "names.json");
    expect(message).toBe("");
    expect([named?.name, named?.rig.controls[0].name]).toEqual(["Unnamed", "root"]);
    for (const format of formats) {
      const { bytes } = await format.write(named as Shot);
      const again = (await readShot(bytes, `again${format.extension}`)).shot;
      expect(again.rig.controls.length).toBeGreaterThan(0);
    }
  });
});

test("nodes of a character named as every object's own things are: read, played, handed back", async () => {
  const heron = await makeCharacter({ morphs: true });
  for (const name of ["constructor", "toString", "__proto__", "valueOf"]) {
    const file = withJson(heron, (json: Record<string, unknown>) => {
      (json.nodes as { name: string }[])[3].name = name;
    });
    const { shot, asset } = await readShot(file, "heron.glb");
    const control = shot.rig.controls.find((each) => each.name === name);
    expect([control?.name, (control?.id ?? name) in Object.prototype]).toEqual([name, false]);
    const { bytes } = await originFile.write(shot, { asset });
    expect((await readShot(bytes, "again.glb")).shot.rig.controls.map((each) => each.name)).toContain(name);
  }
});

test("250 damaged files over the readers, a character among them: only our own errors, and what is accepted plays and goes through every format (npm run fuzz reads 20 000)", async () => {
  const { faults, accepted, refused } = await fuzzFiles(0, 250);
  expect(faults).toEqual([]);
  expect(accepted).toBeGreaterThan(50);
  expect(refused).toBeGreaterThan(120);
}, 120_000);
