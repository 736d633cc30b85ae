import simplifyPolyline from "simplify-js";
import { isBroken, keysOf, Tangent } from "../../src/curve/curve.ts";
import { curveFrom, curveFromKeys, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import { countKeys, type Shot } from "../../src/model/shot.ts";
import { noContext, type Report, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { extremesOf } from "../../src/curve/extremes.ts";
import { endsOf, leversOf } from "../../src/operations/clean/levers.ts";
import { simplify } from "../../src/operations/clean/simplify.ts";
import { capturedSignal } from "../../../demo/src/shots/capturedSignal.ts";
import { Chance } from "../help/chance.ts";
import { schneiderKeys } from "../help/schneider.ts";
import { captureShot } from "../help/capture.ts";
import { smallShot } from "../help/shots.ts";

const defaults = simplify.settings.parse({});
const run = (shot: Shot, settings: Partial<typeof defaults> = {}, scope = WHOLE_FIGURE) =>
  simplify.run(shot, scope, { ...defaults, ...settings }, noContext);

/** The furthest any curve is from the original at a whole frame, measured here and not by the operation. */
function worstOf(before: Shot, after: Shot): { turn: number; move: number } {
  const worst = { turn: 0, move: 0 };
  for (const key in before.base)
    for (const [i, time] of before.base[key].times.entries()) {
      const off = Math.abs(before.base[key].values[i] - sampleCurve(after.base[key], time));
      if (key.includes(".rotate")) worst.turn = Math.max(worst.turn, off);
      else worst.move = Math.max(worst.move, off);
    }
  return worst;
}

describe("on the open motion capture, each curve alone", () => {
  const settings = { rotation: 0.5, move: 0.5, together: "curve" } as const;
  let unbroken: { shot: Shot; report: Report };
  let fewest: Shot;
  beforeAll(async () => {
    unbroken = await run(captureShot(), settings);
    fewest = (await run(captureShot(), { ...settings, extremes: false })).shot;
  });

  test("never exceeds the tolerance at any original frame, and the report says so truthfully", () => {
    const worst = worstOf(captureShot(), unbroken.shot);
    expect(Math.max(worst.turn, worst.move)).toBeLessThanOrEqual(0.5);
    expect(unbroken.report.worstCurve?.amount).toBeCloseTo(Math.max(worst.turn, worst.move), 9);
    expect(unbroken.report.keysAfter).toBe(countKeys(unbroken.shot.base));
  });

  test("as it comes, unbroken and with a key on every peak, it leaves at most 12 000 keys; without peaks 10 050", () => {
    expect(defaults).toMatchObject({ tangents: "unbroken", extremes: true });
    expect(countKeys(unbroken.shot.base)).toBeLessThanOrEqual(12_000);
    expect(countKeys(fewest.base)).toBeLessThanOrEqual(10_050);
    for (const curve of Object.values(unbroken.shot.base)) expect(keysOf(curve).slice(1, -1).some(isBroken)).toBe(false);
  });

  test("every peak and valley that stands out by more than 2° has a key on it or beside it", () => {
    let bare = 0;
    for (const [key, was] of Object.entries(captureShot().base)) {
      const { times } = unbroken.shot.base[key];
      for (const at of extremesOf(was.values, 2))
        if (!times.some((time) => Math.abs(was.values[time - was.times[0]] - was.values[at]) <= 0.5 && Math.abs(time - was.times[at]) <= 6))
          bare++;
    }
    expect(bare).toBe(0);
  });

  test("broken tangents, the fewest keys, leave at most 8 900 at 0.5 and 1.5 times the lower bounds at 0.1 and 2", async () => {
    const least = { ...settings, tangents: "broken", extremes: false } as const;
    const quick = (more: object) =>
      simplify.run(captureShot(), WHOLE_FIGURE, { ...defaults, ...least, ...more }, { ...noContext, firstLook: true });
    const { shot } = await quick({});
    expect(countKeys(shot.base)).toBeLessThanOrEqual(8900);
    // Lower bounds of any piecewise cubic on these curves: measured elsewhere by exhaustive search.
    for (const [tolerance, bound] of [
      [0.1, 20022],
      [2, 2354],
    ]) {
      const other = await quick({ rotation: tolerance, move: tolerance });
      expect(countKeys(other.shot.base)).toBeLessThanOrEqual(1.5 * bound);
    }
    expect(worstOf(captureShot(), shot).turn).toBeLessThanOrEqual(0.5);
  });

  test("needs far fewer keys than simplify-js's polyline (Ramer 1972, Douglas & Peucker 1973) at the same error", () => {
    let polyline = 0;
    for (const curve of Object.values(captureShot().base)) {
      // Distances there are across the line; the frames are drawn apart so that they are nearly vertical.
      const points = [...curve.times].map((t, i) => ({ x: t * 1e4, y: curve.values[i] }));
      polyline += points.length < 3 ? points.length : simplifyPolyline(points, 0.5, true).length;
    }
    expect(countKeys(unbroken.shot.base)).toBeLessThan(polyline * 0.5);
  });

  test("needs fewer keys than Schneider's fit (Graphics Gems, 1990) at the same error, with one slope a key to its two", () => {
    let schneider = 0;
    for (const curve of Object.values(captureShot().base)) schneider += curve.times.length === 1 ? 1 : schneiderKeys(curve.values, 0.5);
    // numbers measured elsewhere with another implementation: 15 141.
    expect(schneider).toBeGreaterThan(14000);
    expect(countKeys(fewest.base)).toBeLessThan(schneider * 0.85);
  });

  test("is calm: at half frames it stays in the range of the samples, widened by the tolerance", () => {
    let swings = 0;
    for (const [key, was] of Object.entries(captureShot().base)) {
      const is = unbroken.shot.base[key];
      for (let i = 0; i + 1 < was.times.length; i++) {
        const value = sampleCurve(is, was.times[i] + 0.5);
        const [a, b] = [was.values[i], was.values[i + 1]];
        if (value < Math.min(a, b) - 0.5 - 1e-9 || value > Math.max(a, b) + 0.5 + 1e-9) swings++;
      }
    }
    expect(swings).toBe(0);
  });
});

describe("on the captured demo shot", () => {
  test("at 0.5° and 4 mm nothing leaves the tolerance and nine keys in ten go", async () => {
    const shot = capturedSignal();
    const { shot: after, report } = await run(shot, { rotation: 0.5, move: 0.004 });
    const worst = worstOf(shot, after);
    expect(worst.turn).toBeLessThanOrEqual(0.5);
    expect(worst.move).toBeLessThanOrEqual(0.004);
    expect(report.keysAfter).toBeLessThan(report.keysBefore * 0.35);
  });

  test("the reported drift is what an independent measurement finds", async () => {
    const shot = capturedSignal();
    const { shot: after, report } = await run(shot, { rotation: 1.5 });
    const [a, b] = [makePlayer(shot), makePlayer(after)];
    let turn = 0;
    for (let frame = 1; frame <= 120; frame++) {
      a.pose(frame);
      b.pose(frame);
      for (let i = 0; i < shot.rig.controls.length; i++) turn = Math.max(turn, quatAngle(a.turns, i * 4, b.turns, i * 4));
    }
    expect(report.drift?.turn.amount).toBeCloseTo(turn, 9);
    expect(Math.max(...(report.drift?.turnPerFrame ?? []))).toBeCloseTo(turn, 9);
  });

  test("more strength leaves fewer keys", async () => {
    const counts: number[] = [];
    for (const strength of [50, 100, 200]) counts.push((await run(capturedSignal(), { strength })).report.keysAfter);
    expect(counts[0]).toBeGreaterThan(counts[1]);
    expect(counts[1]).toBeGreaterThan(counts[2]);
  });
});

describe("keys at the same frames", () => {
  test("across a control, across the figure", async () => {
    const { shot } = await run(capturedSignal(), { together: "control" });
    const times = (key: string) => [...shot.base[key].times].join();
    expect(times("chest.rotateX")).toBe(times("chest.rotateY"));
    const all = (await run(capturedSignal(), { together: "figure", rotation: 2 })).shot;
    const moving = Object.values(all.base).filter((curve) => curve.times.length > 1);
    expect(new Set(moving.map((curve) => [...curve.times].join())).size).toBe(1);
  });
});

const waves = (count: number, make: (i: number) => number) =>
  linearCurve(
    linearFrame(Float64Array.from({ length: count }, (_, i) => i + 1)),
    Float64Array.from({ length: count }, (_, i) => make(i)),
  );

test("peaks and valleys have a key when asked", async () => {
  const shot = smallShot({ "spine.rotateX": waves(97, (i) => 20 * Math.sin((i * Math.PI) / 12)) }, { range: { start: 1, end: 97 } });
  const { shot: after } = await run(shot, { extremes: true, rotation: 1 });
  expect([...after.base["spine.rotateX"].times]).toEqual(expect.arrayContaining([7, 19, 31, 43, 55, 67, 79, 91]));
});

test("only within the range; outside the keys stay as they were", async () => {
  const shot = smallShot({ "spine.rotateX": waves(97, (i) => 20 * Math.sin(i / 9)) });
  const { shot: after } = await run(shot, { rotation: 0.5 }, { ...WHOLE_FIGURE, range: { start: 30, end: 60 } });
  const times = [...after.base["spine.rotateX"].times];
  expect(times.filter((t) => t < 30)).toHaveLength(29);
  expect(times.filter((t) => t > 60)).toHaveLength(37);
  expect(times.filter((t) => t >= 30 && t <= 60).length).toBeLessThan(12);
});

test("a curve that hardly moves becomes one key", async () => {
  const shot = smallShot({ "spine.rotateX": waves(60, (i) => 3 + 0.2 * Math.sin(i)) });
  const { shot: after } = await run(shot, { rotation: 0.5 });
  expect(after.base["spine.rotateX"].times).toHaveLength(1);
});

test("stepped poses are left alone, and keys between frames are not lost", async () => {
  const stepped = curveFrom(
    [
      [1, 0],
      [6, 9],
      [11, 3],
    ],
    Tangent.stepped,
  );
  const between = curveFrom([
    [1, 0],
    [6.5, 9],
    [11, 3],
  ]);
  const shot = smallShot({ "spine.rotateX": stepped, "spine.rotateY": between });
  const { shot: after } = await run(shot);
  expect(after.base["spine.rotateX"]).toBe(stepped);
  expect(after.base["spine.rotateY"]).toBe(between);
});

test("frames that were asked for keep a key, in every curve that moves", async () => {
  const { shot } = await run(capturedSignal(), { keep: [33, 71] });
  const moving = Object.values(shot.base).filter((curve) => curve.times.length > 2);
  expect(moving.length).toBeGreaterThan(50);
  for (const { times } of moving) expect([times.includes(33), times.includes(71)]).toEqual([true, true]);
  // As typed on the command line, and into the card.
  expect(simplify.settings.parse({ keep: ["33", "71"] }).keep).toEqual([33, 71]);
});

test("what is stepped in part stays stepped there, and is thinned between its holds", async () => {
  const wavy = waves(60, (i) => 20 * Math.sin(i / 9));
  const held = curveFromKeys(
    [...keysOf(wavy).filter(({ time }) => time <= 20 || time >= 40)].map((key) =>
      key.time === 20 ? { ...key, kindOut: Tangent.stepped } : key,
    ),
  );
  const shot = smallShot({ "spine.rotateX": held });
  const { shot: after, report } = await run(shot, { rotation: 0.5 });
  const curve = after.base["spine.rotateX"];
  expect(curve.times.length).toBeLessThan(16);
  for (const t of [22, 25, 39.5]) expect(sampleCurve(curve, t)).toBe(sampleCurve(curve, 20));
  expect(worstOf(shot, after).turn).toBeLessThanOrEqual(0.5);
  expect(report.notes).toEqual([]);
});

test("curves that are left as they are are counted, with what is better done first", async () => {
  const stepped = curveFrom(
    [
      [1, 0],
      [9, 4],
      [17, 8],
    ],
    Tangent.stepped,
  );
  const whole = waves(40, (i) => i * i);
  const { report } = await run(smallShot({ "spine.rotateX": stepped, "spine.rotateY": whole }));
  expect([report.notes, report.doFirst]).toEqual([["1 stepped curve stays as it is."], undefined]);
  const between = { ...whole, times: whole.times.map((time) => time * 1.3) };
  const late = await run(smallShot({ "spine.rotateX": stepped, "spine.rotateY": between, "spine.rotateZ": between }));
  expect(late.report.notes).toEqual(["1 stepped curve stays as it is.", "2 curves with keys between frames stay as they are."]);
  expect(late.report.doFirst).toEqual(["snap-frames"]);
});

test("says how many of the keys left stand on noise, and what is better done first; of a calm curve nothing", async () => {
  const chance = new Chance(4);
  const shot = (tremble: number) =>
    smallShot({
      "spine.rotateX": curveFrom(Array.from({ length: 400 }, (_, k) => [k, 20 * Math.sin(k / 30) + chance.between(-tremble, tremble)])),
    });
  const { report } = await run(shot(0.6), { rotation: 0.5, extremes: false });
  const [share] = report.notes.filter((note) => note.includes("trembles")).map((note) => Number.parseInt(note, 10));
  expect(share).toBeGreaterThan(90);
  expect(report.doFirst).toEqual(["smooth", "despike"]);
  const calm = await run(shot(0.01), { rotation: 0.5, extremes: false });
  expect([calm.report.notes.join(), calm.report.doFirst]).toEqual(["", undefined]);
});

test("long work can be cancelled", async () => {
  const stop = {
    breathe: () => {
      throw new Error("stop");
    },
  };
  await expect(simplify.run(captureShot(), WHOLE_FIGURE, defaults, stop)).rejects.toThrow("stop");
});

test("even keys shared by the whole figure are fitted in pieces, so that it can be cancelled on the way", async () => {
  const shares: number[] = [];
  const part = { ...WHOLE_FIGURE, range: { start: 1, end: 300 } };
  await simplify.run(captureShot(), part, { ...defaults, together: "figure" }, { breathe: (share) => void shares.push(share) });
  expect(shares.length).toBeGreaterThan(20);
  for (let i = 1; i < shares.length; i++) expect(shares[i]).toBeGreaterThanOrEqual(shares[i - 1]);
  expect(shares.at(-1)).toBeLessThanOrEqual(1);
});

test("a first look leaves the drift unmeasured and is the same otherwise", async () => {
  const { shot, report } = await simplify.run(capturedSignal(), WHOLE_FIGURE, defaults, { ...noContext, firstLook: true });
  expect(report.drift).toBeNull();
  expect(shot.base).toEqual((await run(capturedSignal())).shot.base);
});

describe("in space", () => {
  test("the figure's ends are its hands, feet, head and tail tip; levers reach from each control to the furthest end below", () => {
    const { rig } = capturedSignal();
    const ends = endsOf(rig);
    expect(ends).toEqual(expect.arrayContaining(["hand-left", "hand-right", "toes-left", "toes-right", "tail-4", "ear-left"]));
    expect(ends.some((id) => /finger|lantern|ferry/.test(id))).toBe(false);
    const levers = leversOf(rig, ends);
    expect(levers.get("hand-left")).toBe(0);
    expect(levers.get("forearm-left")).toBeCloseTo(0.116, 2);
    expect(levers.get("hips") as number).toBeGreaterThan(levers.get("tail-2") as number);
    expect(levers.has("lantern")).toBe(false);
  });

  test("hands, feet, head and tail tip of the captured shot stay within a centimetre at every frame, as an independent measurement finds", async () => {
    const shot = capturedSignal();
    const { shot: after, report } = await run(shot, { measure: "space", space: 0.01 });
    const [a, b] = [makePlayer(shot), makePlayer(after)];
    let worst = 0;
    for (let frame = 1; frame <= 120; frame++) {
      a.pose(frame);
      b.pose(frame);
      for (const id of endsOf(shot.rig)) {
        const o = (a.controlIndex.get(id) as number) * 16 + 12;
        worst = Math.max(worst, Math.hypot(...[0, 1, 2].map((k) => a.worlds[o + k] - b.worlds[o + k])));
      }
    }
    expect(worst).toBeLessThanOrEqual(0.01);
    expect(worst).toBeGreaterThan(0.004);
    expect(report.notes.join()).toMatch(/ stay within [4-9]\.\d mm/);
    expect(report.keysAfter).toBeLessThan(report.keysBefore * 0.3);
  });

  test("a distance so small that noise must stay keeps more than half of the keys: each has two numbers to meet two samples", async () => {
    const { report } = await run(capturedSignal(), { measure: "space", space: 1e-6 });
    expect(report.keysAfter).toBeGreaterThan(report.keysBefore * 0.5);
  });
});
