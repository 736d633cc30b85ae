import * as fc from "fast-check";
import type { Curve } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { KneaderError, sayError } from "../../src/errors.ts";
import { readCsv, writeCsv } from "../../src/formats/csv.ts";
import { curveFromBytes, curveToBytes } from "../../src/formats/curveBytes.ts";
import { curveSchema, curveToJson } from "../../src/formats/curveJson.ts";
import { checkFileSize, formatOf, formats, LARGEST_FILE, readShot } from "../../src/formats/formats.ts";
import { readAction, readKneader, writeKneader } from "../../src/formats/kneaderJson.ts";
import { checkVersion, SCHEMA_VERSION } from "../../src/formats/migrate.ts";
import { commit, currentShot, goTo, historyBytes, redo, startHistory, undo } from "../../src/operations/history.ts";
import type { Shot } from "../../src/model/shot.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { waitingOnBoard } from "../../../demo/src/shots/waitingOnBoard.ts";
import { demoActions, demoShots } from "../../../demo/src/index.ts";
import { anyCurve } from "../help/random.ts";
import { captureShot } from "../help/capture.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

/** A shot as it stands in a file: anything may be changed in it. */
// biome-ignore lint/suspicious/noExplicitAny: the tests break files on purpose
type Written = Record<string, any>;
const bytes = (text: string) => new TextEncoder().encode(text);
const withRuns = fc
  .tuple(anyCurve, fc.constantFrom("hold", "repeat", "travel", "pingpong", "straight"), fc.integer({ min: 0, max: 500 }))
  .map(
    ([curve, kind, rounds]): Curve => ({
      ...curve,
      runOut: kind === "hold" ? curve.runOut : { kind: kind as "repeat", rounds },
    }),
  );

describe("curves saved and read back, bit for bit", () => {
  test("as bytes", () => {
    fc.assert(
      fc.property(withRuns, (curve) => {
        expect(curveFromBytes(curveToBytes(curve))).toEqual(curve);
      }),
    );
  });

  test("as JSON", () => {
    fc.assert(
      fc.property(withRuns, (curve) => {
        expect(curveSchema.parse(JSON.parse(JSON.stringify(curveToJson(curve))))).toEqual(curve);
      }),
    );
  });

  test("the open motion capture's curves take one number a key", () => {
    const curve = captureShot().base["Hips.moveX"];
    expect(curveToBytes(curve).byteLength).toBeLessThan(2752 * 8 + 64);
  });

  test("damaged bytes are refused", () => {
    const good = curveToBytes(
      curveFrom([
        [1, 2],
        [5, 3],
        [9, 1],
      ]),
    );
    expect(() => curveFromBytes(good.slice(0, 10))).toThrow(/too short/);
    expect(() => curveFromBytes(good.slice(0, 40))).toThrow(/length is wrong/);
    const spoilt = (change: (view: DataView) => void) => {
      const copy = good.slice(0);
      change(new DataView(copy));
      return () => curveFromBytes(copy);
    };
    expect(spoilt((view) => view.setUint32(0, 7, true))).toThrow(/does not begin as a curve/);
    expect(spoilt((view) => view.setUint32(16, 99, true))).toThrow(/unknown run/);
    expect(spoilt((view) => view.setFloat64(24, Number.NaN, true))).toThrow(/no number/);
  });
});

describe("Kneader JSON", () => {
  test.each<[string, () => ReturnType<typeof movingShot> | Promise<ReturnType<typeof movingShot>>]>([
    [
      "with passes",
      () =>
        movingShot({
          passes: [passOf("adds", { "spine.rotateX": constantCurve(3) }, { range: { start: 1, end: 9, easeIn: 2, easeOut: 1 } })],
        }),
    ],
    ["with follows", handOverTheLantern],
    ["of the demo", waitingOnBoard],
  ])("holds a whole shot %s", async (_name, make) => {
    const shot = await make();
    const back = readKneader({ bytes: writeKneader(shot).bytes, name: "shot" }).shot;
    // Compared as written, since JSON has no negative zero.
    const written = (s: Shot) => JSON.parse(new TextDecoder().decode(writeKneader(s).bytes));
    expect(written({ ...back, id: shot.id })).toEqual(written(shot));
    expect(Object.keys(back.base)).toEqual(Object.keys(shot.base));
    expect(back.id).not.toBe(shot.id);
  });

  const json = () => JSON.parse(new TextDecoder().decode(writeKneader(movingShot()).bytes));
  const changed = (change: (shot: Written) => void) => {
    const text = json();
    change(text.shot);
    return () => readKneader({ bytes: bytes(JSON.stringify(text)), name: "shot" });
  };

  test("of a newer version is refused with what to do", () => {
    const newer = { ...json(), version: SCHEMA_VERSION + 1 };
    try {
      readKneader({ bytes: bytes(JSON.stringify(newer)), name: "shot" });
      throw new Error("it was read");
    } catch (error) {
      expect(sayError(error)).toMatch(/newer Kneader \(version 6; this one reads up to 5\)\. Update Kneader, or export/);
      expect((error as KneaderError).code).toBe("newer-version");
    }
    for (const version of ["1", 0, 1.5, null, undefined, { a: 1 }]) {
      expect(() => checkVersion(version)).toThrow(/whole number/);
      expect(() => checkVersion(version)).not.toThrow(/undefined/);
    }
  });

  test.each<[string, () => unknown, RegExp]>([
    ["text that is no JSON", () => readKneader({ bytes: bytes('{"format":'), name: "shot" }), /JSON cannot be read/],
    ["another kind of JSON", () => readKneader({ bytes: bytes('{"a":1}'), name: "shot" }), /not a kneader shot/],
    [
      "an action opened as a shot",
      () => readKneader({ bytes: bytes('{"format":"kneader-action","version":1}'), name: "shot" }),
      /its "format" is "kneader-action"/,
    ],
    ["a shot opened as an action", () => readAction(writeKneader(movingShot()).bytes), /not a kneader action/],
    [
      "a range that ends before it starts",
      changed((s) => Object.assign(s.range, { start: 9, end: 2 })),
      /shot.range: the range ends before/,
    ],
    ["times that fall", changed((s) => Object.assign(s.base["spine.rotateX"], { times: [1, 9, 5, 49] })), /times must rise/],
    [
      "columns of different length",
      changed((s) => Object.assign(s.base["spine.rotateX"], { values: [1, 2] })),
      /values: has 2 entries where there are 4 times/,
    ],
    ["a curve without keys", changed((s) => Object.assign(s.base["spine.rotateX"], { times: [], values: [] })), /needs a key/],
    [
      "a parent after its child",
      changed((s) => Object.assign(s.rig, { controls: [...s.rig.controls].reverse() })),
      /must stand before its child/,
    ],
    [
      "two controls of one id",
      changed((s) => Object.assign(s.rig, { controls: [s.rig.controls[0], s.rig.controls[0]] })),
      /"root" stands twice/,
    ],
    ["a rate of 0", changed((s) => Object.assign(s.rate, { num: 0 })), /shot.rate.num/],
    ["an unknown kind of pass", changed((s) => Object.assign(s, { passes: [{ ...json().shot, kind: "magic" }] })), /shot.passes/],
  ])("%s is refused, naming the place", (_name, open, message) => {
    expect(open).toThrow(message);
  });
});

describe("CSV", () => {
  test("holds every channel's value at every frame, passes included", () => {
    const shot = movingShot({ passes: [passOf("adds", { "spine.rotateX": constantCurve(3) })] });
    const { shot: back, notes } = readCsv({ bytes: writeCsv(shot).bytes, name: "table" });
    expect(back.range).toEqual(shot.range);
    expect(back.base["spine.rotateX"].values[12]).toBeCloseTo(-17, 9);
    expect(notes.join()).toMatch(/24 frames a second/);
  });

  test.each([
    ["a wrong heading", "time,a.rotateX\n1,2\n", /Line 1: the heading must be "frame"/],
    ["a column that is no channel", "frame,hips\n1,2\n", /"hips" is not a channel/],
    ["no frames", "frame,a.rotateX\n", /0 frames/],
    ["a missing column", "frame,a.rotateX,a.rotateY\n1,2\n", /Line 2 has 2 columns; the heading has 3/],
    ["a word", "frame,a.rotateX\n1,two\n", /Line 2, column 2 is not a number/],
    ["a gap in the frames", "frame,a.rotateX\n1,0\n3,0\n", /Line 3: frame 2 expected, 3 found/],
  ])("%s", (_name, text, message) => {
    expect(() => readCsv({ bytes: bytes(text), name: "bad" })).toThrow(message);
  });

  test("names with commas are quoted", () => {
    const rig = { ...movingShot().rig, controls: [{ ...movingShot().rig.controls[0], id: "a", name: 'a,"b"', partner: "a" }] };
    const text = writeCsv(smallShot({ "a.moveX": constantCurve(4) }, { rig })).bytes;
    expect(readCsv({ bytes: text, name: "back" }).shot.base['a,"b".moveX'].values[0]).toBe(4);
  });

  test("headings are names; ids where a name is shared or holds a dot; what never moves is a table all the same", () => {
    const [first, second, third] = movingShot().rig.controls;
    const rig = {
      ...movingShot().rig,
      controls: [
        { ...first, id: "c1", name: "Left hand", parent: null, partner: "c1" },
        { ...second, id: "c2", name: "Twin", parent: "c1", partner: "c2" },
        { ...third, id: "c3", name: "Twin", parent: "c1", partner: "c3" },
        { ...third, id: "c4", name: "hand.L", parent: "c1", partner: "c4" },
      ],
    };
    const base = Object.fromEntries(rig.controls.map(({ id }, n) => [`${id}.rotateX`, constantCurve(n)]));
    const heading = (shot: Shot) => new TextDecoder().decode(writeCsv(shot).bytes).split("\n")[0];
    expect(heading(smallShot(base, { rig }))).toBe("frame,Left hand.rotateX,c2.rotateX,c3.rotateX,c4.rotateX");
    const still = smallShot({}, { rig });
    const back = readCsv({ bytes: writeCsv(still).bytes, name: "still" }).shot;
    expect(back.range).toEqual(still.range);
    expect(back.rig.controls.map(({ id }) => id)).toEqual(["Left hand", "c2", "c3", "c4"]);
    for (const { values } of Object.values(back.base)) expect(new Set(values).size).toBe(1);
  });
});

describe("opening a file", () => {
  test("the format is told by the name", () => {
    for (const format of formats) expect(formatOf(`Shot${format.extension.toUpperCase()}`)).toBe(format);
    expect(() => formatOf("shot.fbx")).toThrow(/of a kind that is not known/);
  });

  test("an empty file, a huge one and a picture are refused by what they are", async () => {
    await expect(readShot(new Uint8Array(), "a.bvh")).rejects.toThrow(/empty \(0 bytes\)/);
    expect(() => checkFileSize("a.bvh", 200 * 1024 * 1024)).toThrow(/has 200 MB; up to 128 MB/);
    expect(() => checkFileSize("a.bvh", LARGEST_FILE)).not.toThrow();
    await expect(readShot(Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10), "a.bvh")).rejects.toThrow(/is a PNG picture, not a .bvh file/);
    await expect(readShot(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0), "a.glb")).rejects.toThrow(/JPEG/);
  });

  test("the shot is named after the file", async () => {
    expect((await readShot(bytes("frame,a.rotateX\n1,0\n2,1\n"), "wave.two.csv")).shot.name).toBe("wave.two");
  });

  test("what a person is told holds the remedy; foreign errors keep their words", () => {
    expect(sayError(new KneaderError("cycle", "It is a circle.", "Open it."))).toBe("It is a circle. Open it.");
    expect(sayError(new Error("plain"))).toBe("plain");
    expect(sayError("text")).toBe("text");
  });
});

describe("history", () => {
  const edit = (n: number) => keyChannels(movingShot(), "base", 12, { "spine.rotateX": n });

  test("undo and redo go back and forth over the very same shots", () => {
    const first = movingShot();
    let history = startHistory(first, 0);
    const shots = [first, edit(1), edit(2), edit(3)];
    for (const shot of shots.slice(1)) history = commit(history, { name: "edit", shot, at: 0 });
    for (const shot of [...shots].reverse()) {
      expect(currentShot(history)).toBe(shot);
      history = undo(history);
    }
    expect(undo(history)).toBe(history);
    for (let i = 0; i < 3; i++) history = redo(history);
    expect(currentShot(history)).toBe(shots[3]);
    expect(redo(history)).toBe(history);
    expect(currentShot(goTo(history, 1))).toBe(shots[1]);
    expect(goTo(history, 99)).toBe(history);
  });

  test("a new step drops what had been undone", () => {
    let history = commit(commit(startHistory(movingShot(), 0), { name: "a", shot: edit(1), at: 0 }), { name: "b", shot: edit(2), at: 0 });
    history = commit(undo(history), { name: "c", shot: edit(3), at: 0 });
    expect(history.steps.map((step) => step.name)).toEqual(["As opened", "a", "c"]);
  });

  test("is bounded by bytes: shared curves count once, the oldest steps go", () => {
    const shot = movingShot();
    const one = historyBytes([{ name: "", shot, at: 0 }]);
    expect(
      historyBytes([
        { name: "", shot, at: 0 },
        { name: "", shot: { ...shot, name: "renamed" }, at: 0 },
      ]),
    ).toBe(one);
    let history = startHistory(shot, 0);
    for (let n = 0; n < 20; n++) history = commit(history, { name: `${n}`, shot: edit(n), at: 0 }, one * 2);
    expect(history.steps.length).toBeLessThan(20);
    expect(history.steps.at(-1)?.name).toBe("19");
  });
});

describe("the demo", () => {
  test.each(demoShots.map((demo) => [demo.name, demo] as const))(
    "%s opens, has motion, and its curves stand on its rig",
    async (_name, demo) => {
      const shot = await demo.make();
      expect(shot.id).toBe(demo.id);
      expect(shot.rig.controls.length).toBeGreaterThanOrEqual(45);
      for (const [key, curve] of Object.entries(shot.base)) {
        const [id, channel] = key.split(".");
        expect(shot.rig.controls.find((c) => c.id === id)?.channels).toContain(channel);
        expect(curve.values.every(Number.isFinite)).toBe(true);
      }
      expect(Object.values(shot.base).some((curve) => curve.times.length > 2)).toBe(true);
    },
  );

  test("is the same each time it is made", async () => {
    for (const demo of demoShots) expect(await demo.make()).toEqual(await demo.make());
  });

  test("the pantry's actions fit its rig", () => {
    const { controls } = smallDemoRig();
    for (const action of demoActions())
      for (const key of Object.keys(action.clip.curves)) expect(controls.some((c) => c.id === key.split(".")[0])).toBe(true);
    expect(demoActions().filter(({ clip }) => clip.length === 0)).toHaveLength(4);
  });
});

function smallDemoRig() {
  return (demoShots[1].make() as ReturnType<typeof movingShot>).rig;
}
