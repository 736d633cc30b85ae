import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { arcPaths } from "../../src/evaluate/arcPaths.ts";
import { bendsOf, turnsOf, worstBend } from "../../src/figure/bends.ts";
import { calmPlaces } from "../../src/figure/calmArc.ts";
import type { Shot } from "../../src/model/shot.ts";
import { smoothArc } from "../../src/operations/clean/smoothArc.ts";
import type { Scope } from "../../src/operations/operation.ts";
import { run as runChecked } from "../help/run.ts";
import { smallShot } from "../help/shots.ts";

const run = (shot: Shot, settings: object, scope: Partial<Scope>) => runChecked(smoothArc, shot, settings, scope);

const frames = ({ range }: Shot) => Float64Array.from({ length: range.end - range.start + 1 }, (_, n) => range.start + n);
const path = (shot: Shot, control: string) => arcPaths(shot, [control], frames(shot))[0].places;

/** A hand that swings, one of its keys kinked out of the arc. */
const kinked = (by = 11) =>
  smallShot(
    {
      "arm-left.rotateZ": curveFrom([1, 5, 9, 13, 17, 21, 25].map((t, i) => [t, -50 + 14 * i + (t === 13 ? by : 0)])),
      "arm-left.rotateY": curveFrom([1, 5, 9, 13, 17, 21, 25].map((t, i) => [t, 4 * i + (t === 13 ? by : 0)])),
      "spine.rotateX": curveFrom([
        [1, 0],
        [25, 10],
      ]),
    },
    { range: { start: 1, end: 25 } },
  );

describe("bends of a path", () => {
  test("a corner in a straight way is one, of the angle it turns by; an even circle has none", () => {
    const corner = [0, 0, 1, 0, 2, 0, 3, 0, 3, 1, 3, 2, 3, 3];
    expect(bendsOf(corner, 2)).toEqual([{ at: 3, turn: expect.closeTo(90, 9), size: expect.closeTo(90, 9) }]);
    const circle = Array.from({ length: 24 }, (_, i) => [Math.cos(i / 3), Math.sin(i / 3), 0]).flat();
    expect(bendsOf(circle, 3)).toEqual([]);
    expect(turnsOf(circle, 3)[5]).toBeCloseTo((180 / Math.PI) * (1 / 3), 9);
  });

  test("where nothing moves there is no way to turn; too few places have no bend", () => {
    const still = [0, 0, 1, 0, 1, 0.0001, 1, 0, 1, 0.0001, 2, 0];
    expect(bendsOf(still, 2)).toEqual([]);
    expect(worstBend([0, 0, 1, 0], 2)).toEqual({ at: -1, size: 0 });
  });
});

test("the worst bend of a kinked hand path is halved at least, no key's place further off than said", async () => {
  const shot = kinked();
  const distance = 0.12;
  const { shot: after, report } = await run(shot, { distance }, { controls: ["hand-left"] });
  const [was, is] = [worstBend(path(shot, "hand-left"), 3), worstBend(path(after, "hand-left"), 3)];
  expect(was.size).toBeGreaterThan(15);
  expect(is.size).toBeLessThan(was.size / 2);
  const [a, b] = [path(shot, "hand-left"), path(after, "hand-left")];
  for (const time of [1, 5, 9, 13, 17, 21, 25]) {
    const o = 3 * (time - 1);
    expect(Math.hypot(b[o] - a[o], b[o + 1] - a[o + 1], b[o + 2] - a[o + 2])).toBeLessThan(distance + 1e-6);
  }
  expect(report.notes[0]).toMatch(/^hand left bent by \d+° at frame \d+; now /);
});

test("no key is added, none is moved in time, the first and the last pose stay", async () => {
  const shot = kinked();
  const { shot: after } = await run(shot, { distance: 0.2 }, { controls: ["hand-left"] });
  for (const [key, curve] of Object.entries(shot.base)) {
    expect([...after.base[key].times]).toEqual([...curve.times]);
    expect(after.base[key].values[0]).toBe(curve.values[0]);
    expect(after.base[key].values[curve.values.length - 1]).toBe(curve.values[curve.values.length - 1]);
  }
  expect(after.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
  expect(Object.keys(after.base).sort()).toEqual(Object.keys(shot.base).sort());
});

test("a strength of 0 % leaves all where it is; of one pose there is no arc", async () => {
  const shot = kinked();
  const { shot: after } = await run(shot, { distance: 0.1, strength: 0 }, { controls: ["hand-left"] });
  for (const [key, curve] of Object.entries(shot.base))
    for (const [i, value] of curve.values.entries()) expect(after.base[key].values[i]).toBeCloseTo(value, 6);
  await expect(run(shot, {}, { controls: ["hand-left"], range: { start: 4, end: 6 } })).rejects.toThrow(/fewer than three keys/);
  await expect(run(shot, {}, {})).rejects.toThrow(/Smooth the arc/);
});

test.each([
  ["a hop's tail", hopAboard, "tail-4"],
  ["a walk's hand", halfAWalk, "hand-left"],
])("on the demo's, %s: nothing goes further than said, and what moves by itself is moved", async (_name, make, control) => {
  const shot = await make();
  for (const spacing of ["kept", "even"]) {
    const { shot: after } = await run(shot, { distance: 0.01, spacing }, { controls: [control] });
    const [was, is] = [path(shot, control), path(after, control)];
    const keyed = new Set(
      Object.entries(shot.base).flatMap(([key, { times }]) => (key.startsWith("tail") || key.startsWith("forearm") ? [...times] : [])),
    );
    for (const time of keyed) {
      const o = 3 * (time - shot.range.start);
      if (Number.isInteger(time)) expect(Math.hypot(is[o] - was[o], is[o + 1] - was[o + 1], is[o + 2] - was[o + 2])).toBeLessThan(0.0105);
    }
  }
});

test("calm places: the bound holds for every distance, evened or not; ends stay", () => {
  const times = Float64Array.from([1, 4, 6, 9, 15, 16, 20]);
  const places = Float64Array.from([0, 0, 0, 1, 1, 0, 2, -1, 1, 3, 2, 0, 4, 0, 0, 5, 1, 1, 6, 0, 0]);
  for (const distance of [0, 0.01, 0.3, 2, 50])
    for (const even of [false, true])
      calmPlaces(times, places, distance, even).forEach((place, i) => {
        const far = Math.hypot(...place.map((v, k) => v - places[3 * i + k]));
        expect(far).toBeLessThanOrEqual((i === 0 || i === 6 ? 0 : distance) + 1e-6);
      });
});
