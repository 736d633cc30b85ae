import { readBvh } from "../../src/formats/bvhRead.ts";
import { writeBvh } from "../../src/formats/bvhWrite.ts";
import { readNumber, readRow } from "../../src/formats/bytes.ts";
import * as fc from "fast-check";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { constantCurve } from "../../src/curve/make.ts";
import { countKeys } from "../../src/model/shot.ts";
import { framesPerSecond } from "../../src/model/rate.ts";
import { captureShot } from "../help/capture.ts";
import { movingShot, passOf } from "../help/shots.ts";

const bytes = (text: string) => new TextEncoder().encode(text);
const small = (frames: string, count = 2) => `HIERARCHY
ROOT Hips
{
\tOFFSET 0 1 0
\tCHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation
\tJOINT Chest.upper
\t{
\t\tOFFSET 0 0.5 0
\t\tCHANNELS 3 Yrotation Xrotation Zrotation
\t\tEnd Site
\t\t{
\t\t\tOFFSET 0 0.3 0
\t\t}
\t}
}
MOTION
Frames: ${count}
Frame Time: 0.0416667
${frames}`;
const good = small("0 0 0 10 20 30 1 2 3\n1 2 3 11 21 31 4 5 6\n");

describe("reading BVH", () => {
  test("joints, offsets, orders, end sites and frames", () => {
    const { shot, notes } = readBvh({ bytes: bytes(good), name: "two" });
    expect(shot.rig.controls.map(({ id, name, parent, rest, order, tip }) => ({ id, name, parent, rest, order, tip }))).toEqual([
      { id: "Hips", name: "Hips", parent: null, rest: [0, 1, 0], order: "ZXY", tip: undefined },
      { id: "Chest_upper", name: "Chest.upper", parent: "Hips", rest: [0, 0.5, 0], order: "YXZ", tip: [0, 0.3, 0] },
    ]);
    expect(framesPerSecond(shot.rate)).toBeCloseTo(24, 3);
    expect(shot.range).toEqual({ start: 1, end: 2 });
    expect([...shot.base["Hips.rotateZ"].values]).toEqual([10, 11]);
    expect([...shot.base["Chest_upper.rotateY"].values]).toEqual([1, 4]);
    expect(notes).toEqual([]);
  });

  test("the open motion capture: 31 joints, 2 752 frames, 264 192 samples; constant channels have one key", () => {
    const { base, rig, range } = captureShot();
    expect(rig.controls).toHaveLength(31);
    expect(range.end).toBe(2752);
    expect(Object.keys(base)).toHaveLength(96);
    const still = Object.values(base).filter((curve) => curve.times.length === 1).length;
    expect(still).toBe(20);
    expect(countKeys(base)).toBe((96 - still) * 2752 + still);
  });

  test("words in any case, Windows line ends, tabs and more lines than declared", () => {
    const odd = good.replaceAll("\n", "\r\n").replace("HIERARCHY", "hierarchy").replace("ROOT", "root").replace("Frames: 2", "frames:\t1");
    const { shot, notes } = readBvh({ bytes: bytes(odd), name: "odd" });
    expect(shot.range.end).toBe(1);
    expect(notes.join()).toMatch(/more lines than the 1 frames/);
  });

  test("two joints of one name stay apart", () => {
    const { shot } = readBvh({ bytes: bytes(good.replace("Chest.upper", "Hips")), name: "twins" });
    expect(shot.rig.controls.map((c) => c.id)).toEqual(["Hips", "Hips 2"]);
  });
});

describe("numbers", () => {
  const read = (text: string) => readNumber({ bytes: bytes(text), at: 0 });

  test("are bit for bit what Number() gives", () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        for (const text of [String(value), value.toFixed(6), value.toExponential(12)])
          expect(Object.is(read(text), Number(text)) || Number(text) === 0).toBe(true);
      }),
      { numRuns: 500 },
    );
  });

  test("a row of them is as well, however many decimals they have and wherever the bytes stand and end", () => {
    const number = fc
      .tuple(fc.double({ min: -2000, max: 2000, noNaN: true }), fc.integer({ min: 0, max: 12 }))
      .map(([value, decimals]) => value.toFixed(decimals));
    fc.assert(
      fc.property(fc.array(number, { minLength: 1, maxLength: 12 }), fc.integer({ min: 0, max: 3 }), (texts, before) => {
        const all = bytes(`${"9".repeat(before)}${texts.join(" ")}77.7777`);
        const file = all.subarray(before, all.length - 7);
        const columns = texts.map(() => new Float64Array(1));
        const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
        expect(readRow({ bytes: file, at: 0 }, view, columns, 0)).toBe(texts.length);
        texts.forEach((text, n) => {
          expect(columns[n][0] === Number(text)).toBe(true);
        });
      }),
      { numRuns: 500, seed: 5 },
    );
  });

  test.each(["1.12a4", "1.123", "1.1234.5", "1.12345x", "1./234", "1.:234"])("what is wrong with %p is seen as it was", (text) => {
    const file = bytes(`${text} 2`);
    const view = new DataView(file.buffer);
    const columns = [new Float64Array(1), new Float64Array(1)];
    const isNumber = Number.isFinite(Number(text));
    expect(readRow({ bytes: file, at: 0 }, view, columns, 0)).toBe(isNumber ? 2 : 0);
    if (isNumber) expect(columns[0][0]).toBe(Number(text));
  });

  test.each([
    ["+5", 5],
    [".5", 0.5],
    ["-.25", -0.25],
    ["7.", 7],
    ["1e3", 1000],
    ["-0.0", -0],
    ["1234567890123456789", Number("1234567890123456789")],
  ])("%s", (text, value) => {
    expect(read(text)).toBe(value);
  });

  test.each(["", "abc", "NaN", "-", "1.2.3", "nan", "inf", "Infinity", "0x10", "--1"])("%p is no number", (text) => {
    expect(read(text)).toBeNaN();
  });
});

describe("BVH files that are not as they should be", () => {
  const problem = (text: string) => () => readBvh({ bytes: bytes(text), name: "bad" });

  test.each([
    [
      "a frame with too few numbers",
      small("0 0 0 1 2 3 4 5\n1 2 3 4 5 6 7 8 9\n"),
      /Line 19: frame 1 has 8 numbers; this hierarchy needs 9/,
    ],
    ["a frame with too many", small("0 0 0 1 2 3 4 5 6 7\n"), /Line 19: frame 1 has more than the 9/],
    ["NaN", small("0 0 0 1 2 3 4 5 6\n0 0 NaN 1 2 3 4 5 6\n"), /Line 20: frame 2, number 3 is "NaN"/],
    ["a word", small("0 0 0 1 2 3 4 5 six\n"), /number 9 is "six"/],
    ["fewer frames than declared", small("0 0 0 1 2 3 4 5 6\n", 40), /says that it has 40 frames but ends after 1, at line 20/],
    ["0 frames", small("", 0), /0 frames; there is nothing to play/],
    ["no frame time", good.replace("0.0416667", "fast"), /Line 18: "Frame Time:" needs a number/],
    ["no MOTION", good.slice(0, good.indexOf("MOTION")), /ends before "MOTION"/],
    ["an open joint", good.replace("\t}\n}\n", "\t}\n"), /Line 15: "MOTION" stands before joint "Hips" is closed/],
    ["a bracket too many", good.replace("MOTION", "}\nMOTION"), /a "}" too many/],
    ["an unknown word", good.replace("OFFSET 0 1 0", "SHIFT 0 1 0"), /Line 4: "SHIFT" is not a word/],
    [
      "an unknown channel",
      good.replace("Zrotation Xrotation Yrotation", "Wrotation Xrotation Yrotation"),
      /"Wrotation" is not a BVH channel/,
    ],
    ["a channel twice", good.replace("Zrotation Xrotation Yrotation", "Xrotation Xrotation Yrotation"), /stands twice/],
    ["an offset of two numbers", good.replace("OFFSET 0 1 0", "OFFSET 0 1"), /OFFSET needs three numbers/],
    ["another kind of file", "solid cube\n", /Line 1: a BVH file begins with "HIERARCHY"/],
    ["no joints", "HIERARCHY\nMOTION\nFrames: 1\nFrame Time: 0.1\n", /has no joint/],
  ])("%s", (_name, text, message) => {
    expect(problem(text)).toThrow(message);
  });

  test("cut off anywhere, the message names a line and nothing is read", () => {
    for (const share of [0.02, 0.1, 0.3, 0.5, 0.62, 0.75, 0.85, 0.97])
      expect(problem(good.slice(0, Math.floor(good.length * share)))).toThrow(/[Ll]ine \d+/);
  });
});

describe("writing BVH", () => {
  test("reads back to the same joint places at every frame, passes baked in", () => {
    const shot = movingShot({ passes: [passOf("adds", { "spine.rotateX": constantCurve(12) })] });
    const { bytes: file, notes } = writeBvh(shot);
    expect(notes.join()).toMatch(/one sample a frame/);
    const { shot: back } = readBvh({ bytes: file, name: "back" });
    const [a, b] = [makePlayer(shot), makePlayer(back)];
    for (let frame = 1; frame <= 49; frame++) {
      a.pose(frame);
      b.pose(frame);
      a.worlds.forEach((value, k) => {
        expect(Math.abs(value - b.worlds[k])).toBeLessThan(1e-8);
      });
    }
    expect(framesPerSecond(back.rate)).toBe(24);
  });

  test("several top controls are put under one joint, and scale is said to be lost", () => {
    const shot = movingShot();
    const rig = {
      ...shot.rig,
      controls: [...shot.rig.controls, { ...shot.rig.controls[0], id: "prop", name: "A prop", partner: "prop", channels: ["scaleX"] }],
    };
    const { bytes: file, notes } = writeBvh({ ...shot, rig, base: { ...shot.base, "prop.scaleX": constantCurve(2) } });
    expect(notes.join()).toMatch(/2 top controls.*"World"/);
    expect(notes.join()).toMatch(/no scale: 1 control lost its own/);
    expect(readBvh({ bytes: file, name: "back" }).shot.rig.controls.map((c) => c.name)).toEqual(
      expect.arrayContaining(["World", "A_prop"]),
    );
  });
});
