import { KneaderError } from "../../src/errors.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { clipFromText, clipToText } from "../../src/formats/clipText.ts";
import { formats, readShot } from "../../src/formats/formats.ts";
import { drawable } from "../../src/formats/gltf/skins.ts";
import { originFile } from "../../src/formats/originFile.ts";
import { readAction, writeAction } from "../../src/formats/kneaderJson.ts";
import { decodeText, encodeText } from "../../src/formats/utf8.ts";
import type { Shot } from "../../src/model/shot.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { actionOf } from "./actions.ts";
import { Chance } from "./chance.ts";
import { makeCharacter } from "./characters.ts";
import { followOf } from "./follows.ts";
import { movingShot, passOf } from "./shots.ts";
import { passFor } from "./passes.ts";

const hostile: readonly unknown[] = [
  null,
  true,
  "",
  "constructor",
  "__proto__",
  "toString",
  [],
  {},
  [null],
  0,
  -1,
  -0,
  0.5,
  1e9,
  1e300,
  -1e308,
  1e-308,
  2 ** 53,
  "1e9",
  4294967296,
  [1, 2, 3],
  { a: 1 },
];
const numbers = ["1e9", "-1e308", "1e309", "NaN", "0", "-1", "999999999", "1e-320", "", "0x10", "--3", "1.2.3", "constructor"];

/** A small shot with something of everything. */
export function everything(): Shot {
  const shot = movingShot();
  const loop = { ...shot.base["spine.rotateX"], runOut: { kind: "travel", rounds: 2 } as const };
  return {
    ...shot,
    base: {
      ...shot.base,
      "spine.rotateX": loop,
      "arm-left.scaleX": curveFrom([
        [1, 1],
        [20, -2],
      ]),
    },
    passes: [
      passOf(
        "adds",
        {
          "spine.rotateX": curveFrom([
            [1, 0],
            [30, 20],
          ]),
        },
        { id: "a", range: { start: 2, end: 40, easeIn: 3, easeOut: 3 } },
      ),
      passFor("tremor", { rotate: 2 }, { members: ["hand-left.rotateX"] }),
      passFor("stepping", { pattern: [2, 3] }),
    ],
    constraints: [
      followOf({
        id: "f",
        control: "hand-right",
        target: "hand-left",
        position: true,
        rotation: true,
        strength: curveFrom([
          [1, 0],
          [20, 1],
        ]),
        offset: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0.1, 0, 0, 1],
        on: true,
      }),
    ],
  };
}

interface Seed {
  readonly name: string;
  readonly bytes: Uint8Array;
  read(bytes: Uint8Array): Promise<Shot | null> | null;
}

const nothing = (_read: unknown) => null;

async function seeds(): Promise<Seed[]> {
  const shot = everything();
  const shots = await Promise.all(
    formats.map(
      async (format): Promise<Seed> => ({
        name: `shot${format.extension}`,
        bytes: (await format.write(shot)).bytes,
        read: async (bytes) => (await readShot(bytes, `shot${format.extension}`)).shot,
      }),
    ),
  );
  // A character's file, which must also go back into itself.
  const character: Seed = {
    name: "heron.glb",
    bytes: await makeCharacter({ morphs: true, strange: true, camera: true, skins: 2, oddNodes: true, animations: 2 }),
    read: async (bytes) => {
      const { shot, asset } = await readShot(bytes, "heron.glb");
      await originFile.write(shot, { asset });
      drawable(bytes);
      return shot;
    },
  };
  const action = writeAction(actionOf(shot, 1, 30));
  const clip = encodeText(clipToText(liftKeys(shot, WHOLE_FIGURE)));
  return [
    ...shots,
    character,
    { name: "action.json", bytes: action, read: (bytes) => nothing(readAction(bytes)) },
    { name: "clip.txt", bytes: clip, read: (bytes) => nothing(clipFromText(decodeText(bytes))) },
  ];
}

/** Put something else in some places of a JSON value. */
function bent(value: unknown, chance: Chance, share: number): unknown {
  if (chance.next() < share) return chance.of(hostile);
  if (Array.isArray(value)) {
    const list = value.map((part) => bent(part, chance, share));
    if (chance.next() < share) list.push(...list.slice(0, 3));
    if (chance.next() < share) list.splice(chance.below(list.length + 1), 1);
    return list;
  }
  if (typeof value !== "object" || value === null) return value;
  const entries = Object.entries(value).flatMap(([name, part]): [string, unknown][] => {
    const dice = chance.next();
    if (dice < share / 2) return [];
    if (dice < share) return [[chance.of(["constructor", "__proto__", "", "x.y", name.toUpperCase()]), part]];
    return [[name, bent(part, chance, share)]];
  });
  return Object.fromEntries(entries);
}

function bytesBent(bytes: Uint8Array, chance: Chance): Uint8Array {
  const out = Uint8Array.from(bytes);
  for (let n = 1 + chance.below(8); n > 0; n--)
    out[chance.below(out.length)] = chance.of([0, 10, 32, 34, 44, 45, 46, 48, 57, 91, 123, 125, 255, chance.below(256)]);
  return out;
}

function textBent(bytes: Uint8Array, chance: Chance): Uint8Array {
  const words = decodeText(bytes).split(/(\s+|,|:|\[|\]|\{|\})/);
  for (let n = 1 + chance.below(4); n > 0; n--) {
    const at = chance.below(words.length);
    const dice = chance.below(4);
    if (dice === 0) words[at] = chance.of(numbers);
    else if (dice === 1) words.splice(at, 1 + chance.below(6));
    else if (dice === 2) words.splice(at, 0, ...words.slice(at, at + chance.below(40)));
    else words[at] = words[chance.below(words.length)];
  }
  return encodeText(words.join(""));
}

function jsonBent(bytes: Uint8Array, chance: Chance): Uint8Array {
  return encodeText(JSON.stringify(bent(JSON.parse(decodeText(bytes)), chance, chance.of([0.0005, 0.002, 0.01]))));
}

/** A .glb whose JSON is bent, its data kept. */
function glbBent(bytes: Uint8Array, chance: Chance): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(12, true);
  const json = jsonBent(bytes.subarray(20, 20 + length), chance);
  const padded = Math.ceil(json.length / 4) * 4;
  const rest = bytes.subarray(20 + length);
  const out = new Uint8Array(20 + padded + rest.length).fill(32, 20, 20 + padded);
  out.set(bytes.subarray(0, 12));
  out.set(json, 20);
  out.set(rest, 20 + padded);
  const head = new DataView(out.buffer);
  head.setUint32(8, out.length, true);
  head.setUint32(12, padded, true);
  head.setUint32(16, 0x4e4f534a, true);
  return out;
}

function bentFile({ name, bytes }: Seed, chance: Chance): Uint8Array {
  const dice = chance.below(10);
  if (dice === 0) return bytes.subarray(0, chance.below(bytes.length));
  if (dice < 3) return bytesBent(bytes, chance);
  if (name.endsWith(".glb")) return glbBent(bytes, chance);
  if (dice < 6 && /json|gltf|txt/.test(name)) return jsonBent(bytes, chance);
  if (/json|gltf|txt/.test(name) && dice < 9) return jsonBent(bytes, chance);
  return textBent(bytes, chance);
}

/** Frames at which an accepted shot is looked at: its ends, between, and beyond. */
export function mustPlay(shot: Shot): void {
  const player = makePlayer(shot);
  const { start, end } = shot.range;
  for (const frame of [start, (start + end) / 2, end, start - 7.3, end + 11.9]) {
    player.pose(frame);
    player.readValues(frame);
    for (const column of [player.worlds, player.values])
      if (!column.every(Number.isFinite)) throw new Error(`It does not play finite at frame ${frame}.`);
  }
}

/** Writing one sample a frame of every control takes as long as it takes; here it is done for shots of some size. */
const WRITTEN = 20_000;

async function mustGoRound(shot: Shot): Promise<void> {
  if (shot.rig.controls.length * (shot.range.end - shot.range.start + 1) > WRITTEN) return;
  for (const format of formats) {
    const { bytes } = await format.write(shot);
    mustPlay((await readShot(bytes, `again${format.extension}`)).shot);
  }
}

export interface Fuzzed {
  accepted: number;
  refused: number;
  slowest: number;
  /** What should not have happened: the file's number, its kind, and what did. */
  readonly faults: { readonly n: number; readonly file: string; readonly what: string }[];
}

/** Milliseconds after which something hangs, however busy the machine is. */
export const HANGS = 30_000;

/** Read `count` damaged files, from number `from`: only errors of ours, none over `patience` (ms), and what is accepted can be used. */
export async function fuzzFiles(from: number, count: number, patience = HANGS): Promise<Fuzzed> {
  const list = await seeds();
  const result: Fuzzed = { accepted: 0, refused: 0, slowest: 0, faults: [] };
  for (let n = from; n < from + count; n++) {
    const chance = new Chance(n);
    const seed = list[n % list.length];
    const file = bentFile(seed, chance);
    const started = performance.now();
    try {
      const shot = await seed.read(file);
      result.slowest = Math.max(result.slowest, performance.now() - started);
      result.accepted++;
      if (shot) {
        mustPlay(shot);
        await mustGoRound(shot);
      }
    } catch (error) {
      result.refused++;
      if (!(error instanceof KneaderError))
        result.faults.push({ n, file: seed.name, what: String((error as Error)?.stack ?? error).slice(0, 600) });
    }
    const took = performance.now() - started;
    if (took > patience) result.faults.push({ n, file: seed.name, what: `took ${Math.round(took)} ms` });
  }
  return result;
}
