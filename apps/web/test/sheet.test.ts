import { curveFrom, layerCurves, linearCurve, linearFrame, type Shot, Tangent } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { Chance } from "../../../packages/core/test/help/chance.ts";
import { NO_FILTER } from "../src/bench/rack/channels/channelFilter.ts";
import { keyMarks } from "../src/bench/rack/curves/curveView.ts";
import { MIXED, rowKeys } from "../src/bench/rack/sheet/rowKeys.ts";
import { joined, keysAt, pickedTimes, type SheetRow, sheetMarks, sheetRows } from "../src/bench/rack/sheet/sheetView.ts";

const hop = demoShots[1].make() as Shot;
const none: ReadonlySet<string> = new Set();
const linesOf = (view: Partial<Parameters<typeof sheetRows>[2]> = {}, unfolded = none, curves = hop.base) =>
  sheetRows(
    hop.rig.controls,
    { curves, picked: ["head"], locked: new Set(["head.rotateX"]) },
    { ...NO_FILTER, hidden: none, ...view },
    unfolded,
  );
const rowOf = (...channels: string[]): SheetRow => ({ id: "r", label: "r", kind: "control", control: "r", channels });

describe("lines of the sheet", () => {
  test("a summary, then each control that has keys, in the rig's order", () => {
    const rows = linesOf();
    expect(rows[0]).toMatchObject({ kind: "all", label: "All keys" });
    expect(rows[0].channels).toHaveLength(Object.keys(hop.base).length);
    expect(rows.slice(1, 4).map((row) => row.label)).toEqual(["Ferryman", "Hips", "Belly"]);
    expect(rows.some((row) => row.label === "Hook")).toBe(false);
  });

  test("unfolded, a control's channels stand below it", () => {
    const rows = linesOf({}, new Set(["hips"]));
    const at = rows.findIndex((row) => row.id === "hips");
    expect(rows.slice(at, at + 4).map((row) => row.label)).toEqual(["Hips", "move X", "move Y", "move Z"]);
  });

  test("filtered by words in any order; nothing found is no lines at all", () => {
    const rows = linesOf({ words: "rot tail y" });
    expect(rows.map((row) => row.label)).toEqual(["All keys", "Tail 1", "Tail 2", "Tail 3", "Tail 4"]);
    expect(rows[1].channels).toEqual(["tail-1.rotateY"]);
    expect(linesOf({ words: "nothing such" })).toEqual([]);
    expect(linesOf({}, none, layerCurves(hop, "pass-1"))).toEqual([]);
  });
});

describe("the filter all trays share", () => {
  const channelsOf = (view: Parameters<typeof linesOf>[0]) => linesOf(view)[0]?.channels ?? [];

  test("only the picked controls, only what is unlocked, nothing hidden", () => {
    expect(channelsOf({ ofPicked: true })).toEqual(["head.rotateX", "head.rotateY", "head.rotateZ"]);
    expect(channelsOf({ ofPicked: true, unlocked: true })).toEqual(["head.rotateY", "head.rotateZ"]);
    expect(channelsOf({ ofPicked: true, hidden: new Set(["head.rotateZ"]) })).toEqual(["head.rotateX", "head.rotateY"]);
  });

  test("only what moves leaves out curves that stay at one value", () => {
    const moving = channelsOf({ moving: true });
    expect(moving.length).toBeGreaterThan(20);
    expect(moving.length).toBeLessThan(channelsOf({}).length);
    for (const key of moving) expect(new Set(hop.base[key].values).size).toBeGreaterThan(1);
  });
});

describe("keys of a line", () => {
  const curves = {
    "a.rotateX": curveFrom([
      [1, 0],
      [10, 5],
      [20, 5],
    ]),
    "a.rotateY": curveFrom([
      [1, 2],
      [20, 2],
    ]),
    "a.rotateZ": curveFrom([[7, 1]]),
  };

  test("are the union of its channels' keys, with how many have one: a gap in a pose shows", () => {
    const keys = rowKeys(curves, rowOf("a.rotateX", "a.rotateY", "a.rotateZ"));
    expect([...keys.times]).toEqual([1, 7, 10, 20]);
    expect([...keys.counts]).toEqual([2, 0, 1, 2]);
    expect(keys.moving).toBe(2);
  });

  test("holds are where no channel changes until the next time", () => {
    const keys = rowKeys(curves, rowOf("a.rotateX", "a.rotateY"));
    expect([...keys.times]).toEqual([1, 10, 20]);
    expect([...keys.changing].map((count) => count === 0)).toEqual([false, true, true]);
    const stepped = {
      "b.x": curveFrom(
        [
          [1, 0],
          [5, 0],
          [9, 3],
        ],
        Tangent.stepped,
      ),
    };
    expect([...rowKeys(stepped, rowOf("b.x")).changing]).toEqual([0, 1, 0]);
  });

  test("are worked out once for a state of the layer", () => {
    const row = rowOf("a.rotateX");
    expect(rowKeys(curves, row)).toBe(rowKeys(curves, row));
  });

  test("many captured keys are gathered in one pass", () => {
    const frame = linearFrame(Float64Array.from({ length: 3000 }, (_, i) => i));
    const many = Object.fromEntries(
      Array.from({ length: 40 }, (_, c) => [
        `c${c}.x`,
        linearCurve(
          frame,
          frame.times.map((t) => Math.sin(t + c)),
        ),
      ]),
    );
    const keys = rowKeys(many, rowOf(...Object.keys(many)));
    expect(keys.times).toHaveLength(3000);
    expect(keys.counts.every((count) => count === 40)).toBe(true);
    expect(keys.changing.subarray(0, -1).every((count) => count > 0)).toBe(true);
  });
});

test("the summary of all keys is right after whatever changes, comes and goes", () => {
  const by = new Chance(20);
  const random = () => by.next();
  const names = Array.from({ length: 12 }, (_, c) => ["x", "y"].map((channel) => `c${c}.${channel}`)).flat();
  const curveOf = () => {
    const times = Array.from({ length: 9 }, (_, i) => i + 1).filter(() => random() < 0.6);
    return curveFrom((times.length > 0 ? times : [1]).map((time) => [time, Math.round(2 * random())]));
  };
  let curves = Object.fromEntries(names.map((name) => [name, curveOf()]));
  for (let n = 0; n < 60; n++) {
    // Mostly one control changes; now and then all do, or one goes.
    const changed = names.filter(() => random() < (n % 10 === 9 ? 0.9 : 0.08));
    curves = { ...curves, ...Object.fromEntries(changed.map((name) => [name, curveOf()])) };
    const channels = names.filter((name) => !(n % 7 === 6 && name.startsWith("c3.")));
    const all = { ...rowOf(...channels), kind: "all" as const, id: "" };
    const { times, counts, moving } = rowKeys(curves, all);
    const moves = channels.filter((name) => curves[name].times.length > 1);
    expect(moving).toBe(moves.length);
    expect([...times]).toEqual([...new Set(channels.flatMap((name) => [...curves[name].times]))].sort((a, b) => a - b));
    for (const [i, time] of times.entries()) expect(counts[i]).toBe(moves.filter((name) => curves[name].times.includes(time)).length);
  }
});

describe("picking", () => {
  const row = rowOf("hips.moveY", "hips.rotateX");

  test("a mark picks the keys of all its line's channels there", () => {
    expect(keysAt(hop.base, row, 11, 11)).toEqual({ "hips.moveY": [11], "hips.rotateX": [11] });
    expect(keysAt(hop.base, row, 2, 5)).toEqual({});
  });

  test("more can be picked without picking twice", () => {
    const some = keysAt(hop.base, row, 1, 11);
    const more = joined(some, keysAt(hop.base, rowOf("hips.moveY"), 11, 16));
    expect(more["hips.moveY"]).toEqual([1, 6, 11, 16]);
    expect(more["hips.rotateX"]).toEqual([1, 6, 11]);
    expect([...pickedTimes(rowOf("hips.moveY"), more)]).toEqual([1, 6, 11, 16]);
    expect(pickedTimes(rowOf("tail-1.rotateX"), more).length).toBe(0);
  });
});

describe("marks of a line", () => {
  const picked = (...times: number[]) => Float64Array.from(times);

  test("keys apart are a mark each, keys within five pixels one bar", () => {
    const times = Float64Array.of(1, 2, 3, 40, 80);
    const marks = sheetMarks(times, picked(), { start: 0, end: 100, width: 400 });
    expect(marks.map((mark) => [mark.from, mark.to])).toEqual([
      [0, 2],
      [3, 3],
      [4, 4],
    ]);
  });

  test("picked keys in a crowd have a bar of their own", () => {
    const marks = sheetMarks(Float64Array.of(1, 2, 3, 4), picked(2, 3), { start: 0, end: 100, width: 400 });
    expect(marks.map((mark) => [mark.from, mark.to, mark.picked])).toEqual([
      [0, 0, false],
      [1, 2, true],
      [3, 3, false],
    ]);
  });

  test("of a long line only what is in sight is visited, with the key whose hold reaches in", () => {
    const times = Float64Array.from({ length: 3000 }, (_, i) => i * 10);
    const marks = sheetMarks(times, picked(), { start: 15005, end: 15105, width: 400 });
    expect(marks.map((mark) => times[mark.from])).toEqual([15000, 15010, 15020, 15030, 15040, 15050, 15060, 15070, 15080, 15090, 15100]);
  });

  test("an edit of one channel leaves the other lines' keys as they were", () => {
    const [a, b] = [rowOf("a.rotateX"), { ...rowOf("b.rotateX"), id: "other" }];
    const before = { "a.rotateX": curveFrom([[1, 0]]), "b.rotateX": curveFrom([[1, 0]]) };
    const [keysA, keysB] = [rowKeys(before, a), rowKeys(before, b)];
    const after = { ...before, "a.rotateX": curveFrom([[2, 0]]) };
    expect([...rowKeys(after, a).times]).toEqual([2]);
    expect(keysA).not.toBe(rowKeys(after, a));
    expect(rowKeys(after, b)).toBe(keysB);
  });
});

test("a line's marks tell the kind of its keys, and that they differ", () => {
  const pairs = [
    [1, 0],
    [10, 5],
  ] as const;
  const kinds = {
    "a.x": curveFrom(pairs, Tangent.flat),
    "a.y": curveFrom(pairs, Tangent.flat),
    "a.z": curveFrom(
      [
        [1, 0],
        [20, 1],
      ],
      Tangent.linear,
    ),
  };
  const named = (...channels: string[]) =>
    [...rowKeys(kinds, { ...rowOf(...channels), id: channels.join() }).marks].map((mark) => keyMarks[mark] ?? mark);
  expect(named("a.x", "a.y")).toEqual(["flat", "flat"]);
  expect(named("a.x", "a.z")).toEqual([MIXED, "flat", "linear"]);
});

test("a pose is complete where all channels that move have a key, though each keeps its times in a row of its own", () => {
  const curve = () =>
    curveFrom([
      [1, 0],
      [6, 4],
      [11, 2],
    ]);
  const curves = { "hips.moveX": curve(), "hips.moveY": curve(), "hips.moveZ": curve() };
  const row: SheetRow = { id: "own rows", label: "", kind: "control", control: "hips", channels: Object.keys(curves) };
  const { times, counts, moving } = rowKeys(curves, row);
  expect([[...times], [...counts], moving]).toEqual([[1, 6, 11], [3, 3, 3], 3]);
});
