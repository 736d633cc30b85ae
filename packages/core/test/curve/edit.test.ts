import * as fc from "fast-check";
import { type Curve, keyCount, keysOf, Tangent, tangentNames } from "../../src/curve/curve.ts";
import { clipCurve, insertKeyOn, removeKeys, reverseSpan, setHandle, setKey, setTangents, shiftFrom } from "../../src/curve/edit.ts";
import { constantCurve, curveFrom, curveFromKeys, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { copyKeys, keyMapper, mapKeys, moveKeys, NO_MAP, rippleKeys } from "../../src/curve/mapKeys.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { anyCurve } from "../help/random.ts";

const share = fc.double({ min: 0, max: 1, noNaN: true });
const end = (curve: Curve) => curve.times[curve.times.length - 1];

/** The worst difference of two functions of time at steps through a span. */
function worst(from: number, to: number, step: number, a: (t: number) => number, b: (t: number) => number): number {
  let most = 0;
  for (let t = from; t < to; t += step) most = Math.max(most, Math.abs(a(t) - b(t)));
  return most;
}

describe("inserting a key on the curve", () => {
  test("leaves every value as it was, for all kinds, weighted too, to 1e-9", () => {
    fc.assert(
      fc.property(anyCurve, share, (curve, s) => {
        const time = curve.times[0] + s * (end(curve) - curve.times[0]);
        const more = insertKeyOn(curve, time);
        const away = (t: number) => Math.abs(t - time) < 1e-3;
        const off = worst(
          curve.times[0] - 2,
          end(curve) + 2,
          0.137,
          (t) => (away(t) ? 0 : sampleCurve(more, t)),
          (t) => (away(t) ? 0 : sampleCurve(curve, t)),
        );
        expect(off).toBeLessThan(1e-9 * 200);
      }),
      { numRuns: 600 },
    );
  });

  test("cuts a weighted span whose other end is auto and level", () => {
    const level = { time: 0, slopeIn: 0, slopeOut: 0, weightIn: 1 / 3, weightOut: 1 / 3, kindIn: Tangent.auto, kindOut: Tangent.auto };
    const curve = curveFromKeys([
      { ...level, time: 1, value: 0 },
      { ...level, time: 2, value: 0 },
      { ...level, time: 3, value: 5, weightIn: 0.05, kindIn: Tangent.flat },
    ]);
    const more = insertKeyOn(curve, 2.7);
    expect(
      worst(
        1,
        3,
        0.0137,
        (t) => sampleCurve(more, t),
        (t) => sampleCurve(curve, t),
      ),
    ).toBeLessThan(1e-9);
  });

  test("outside the keys holds as the curve did", () => {
    const curve = curveFrom([
      [10, 5],
      [20, 9],
    ]);
    const more = insertKeyOn(insertKeyOn(curve, 1), 40);
    expect([...more.times]).toEqual([1, 10, 20, 40]);
    for (const t of [1, 5, 9.5, 12, 19, 25, 39]) expect(sampleCurve(more, t)).toBeCloseTo(sampleCurve(curve, t), 9);
  });

  test("does nothing where a key is", () => {
    const curve = curveFrom([
      [1, 0],
      [5, 3],
    ]);
    expect(insertKeyOn(curve, 5)).toBe(curve);
  });
});

describe("setting and removing keys", () => {
  const curve = curveFrom([
    [1, 0],
    [5, 3],
    [9, 1],
  ]);

  test("a key that is there gets the value and keeps its kinds", () => {
    const flat = setTangents(curve, [1], Tangent.flat, "both");
    const next = setKey(flat, 5, 8);
    expect([...next.values]).toEqual([0, 8, 1]);
    expect(next.kindIn[1]).toBe(Tangent.flat);
  });

  test("a new key takes its place in time", () => {
    expect([...setKey(curve, 7, 2).times]).toEqual([1, 5, 7, 9]);
  });

  test("removing all keys leaves no curve", () => {
    expect(removeKeys(curve, [0, 1, 2])).toBeNull();
    expect(keysOf(removeKeys(curve, [1]) as Curve).map((k) => k.time)).toEqual([1, 9]);
  });

  test("no edit touches the curve it was given", () => {
    const before = JSON.stringify([...curve.values, ...curve.times, ...curve.slopeIn]);
    setKey(curve, 5, 100);
    moveKeys(curve, [1], 2, 5);
    setTangents(curve, null, Tangent.linear, "both");
    reverseSpan(curve, 1, 9);
    shiftFrom(curve, 5, 10);
    expect(JSON.stringify([...curve.values, ...curve.times, ...curve.slopeIn])).toBe(before);
  });
});

describe("moving keys", () => {
  const curve = curveFrom([
    [1, 0],
    [5, 3],
    [9, 1],
  ]);

  test("moves in time and value", () => {
    const moved = moveKeys(curve, [1], 2, -1);
    expect([...moved.times]).toEqual([1, 7, 9]);
    expect([...moved.values]).toEqual([0, 2, 1]);
  });

  test("a moved key replaces a still one it lands on", () => {
    const moved = moveKeys(curve, [1], 4, 0);
    expect([...moved.times]).toEqual([1, 9]);
    expect([...moved.values]).toEqual([0, 3]);
  });

  test("any keys moved anywhere: the same curve as one built from the still keys and then the moved ones", () => {
    const frames = fc.uniqueArray(fc.integer({ min: 0, max: 20 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(frames, fc.array(fc.nat(11)), fc.integer({ min: -8, max: 8 }), (times, picks, by) => {
        const start = curveFrom(times.map((time) => [time, Math.sin(time * 7)]));
        const picked = new Set(picks.filter((i) => i < times.length));
        const keys = keysOf(start);
        const still = keys.filter((_, i) => !picked.has(i));
        const moving = keys.filter((_, i) => picked.has(i)).map((key) => ({ ...key, time: key.time + by, value: key.value + 2 }));
        expect(moveKeys(start, picked, by, 2)).toEqual(curveFromKeys([...still, ...moving], start));
      }),
    );
  });

  test("all keys scaled in time and value: every value of the curve goes where the map says, for all kinds", () => {
    const scale = fc.double({ min: 0.2, max: 4, noNaN: true });
    fc.assert(
      fc.property(anyCurve, scale, fc.double({ min: -3, max: 3, noNaN: true }), (given, timeScale, valueScale) => {
        const map = { ...NO_MAP, timeScale, timeShift: 7, valueScale, valueShift: -2 };
        const mapped = mapKeys(given, given.times.keys(), map);
        const off = worst(
          given.times[0],
          end(given),
          0.217,
          (t) => sampleCurve(mapped, t * timeScale + 7),
          (t) => sampleCurve(given, t) * valueScale - 2,
        );
        // Beside the end of a hold either side may count.
        const stepped = given.kindOut.includes(Tangent.stepped) || given.kindIn.includes(Tangent.stepped);
        if (!stepped) expect(off).toBeLessThan(1e-6);
      }),
    );
  });

  test("squeezed onto whole frames, keys that fall together leave one, and still keys give way", () => {
    const squeezed = mapKeys(curve, [0, 1], { ...NO_MAP, timeScale: 0.1, timeShift: 8.5, wholeFrames: true });
    expect([...squeezed.times]).toEqual([9]);
    expect([...squeezed.values]).toEqual([3]);
  });

  test("copies go where the map says and the keys stay", () => {
    const copied = copyKeys(curve, [0, 1], { ...NO_MAP, timeShift: 20, valueShift: 1 });
    expect([...copied.times]).toEqual([1, 5, 9, 21, 25]);
    expect([...copied.values]).toEqual([0, 3, 1, 1, 4]);
    expect([...copyKeys(curve, [0], { ...NO_MAP, timeShift: 4 }).values]).toEqual([0, 0, 1]);
  });

  test("keys that ripple take every later one along in time, and change no value", () => {
    const rippled = rippleKeys(curve, [1], { ...NO_MAP, timeShift: 3, valueShift: 9 });
    expect([...rippled.times]).toEqual([1, 8, 12]);
    expect([...rippled.values]).toEqual([0, 3, 1]);
  });

  test("curves that share their times go on sharing them", () => {
    const frame = linearFrame(Float64Array.from({ length: 9 }, (_, i) => i + 1));
    const [a, b] = [0, 1].map((n) =>
      linearCurve(
        frame,
        Float64Array.from({ length: 9 }, (_, i) => i * n),
      ),
    );
    const mapper = keyMapper({ ...NO_MAP, timeShift: 3 });
    const picks = [2, 3];
    const [movedA, movedB] = [mapper(a, picks), mapper(b, picks)];
    expect([...movedA.times]).toEqual([1, 2, 5, 6, 7, 8, 9]);
    expect(movedB.times).toBe(movedA.times);
    expect(movedB.weightIn).toBe(movedA.weightIn);
    expect(movedB).toEqual(mapKeys(b, picks, { ...NO_MAP, timeShift: 3 }));
  });

  test("the ripple shifts every later key and leaves the earlier ones", () => {
    expect([...shiftFrom(curve, 5, 10).times]).toEqual([1, 15, 19]);
    expect(shiftFrom(curve, 50, 10)).toBe(curve);
  });
});

describe("tangents by hand", () => {
  const curve = curveFrom([
    [0, 0],
    [10, 10],
    [20, 0],
  ]);

  test.each(tangentNames)("%s on both sides", (name) => {
    const next = setTangents(curve, [1], Tangent[name], "both");
    expect(next.kindOut[1]).toBe(Tangent[name]);
    // A step is a matter of the side after a key.
    expect(next.kindIn[1]).toBe(name === "stepped" ? Tangent.auto : Tangent[name]);
  });

  test("one side leaves the other", () => {
    const next = setTangents(curve, [1], Tangent.linear, "out");
    expect([next.kindIn[1], next.kindOut[1]]).toEqual([Tangent.auto, Tangent.linear]);
  });

  test("converting to stepped and back keeps keys' values and times", () => {
    fc.assert(
      fc.property(anyCurve, (random) => {
        const back = setTangents(setTangents(random, null, Tangent.stepped, "both"), null, Tangent.auto, "both");
        expect([...back.times]).toEqual([...random.times]);
        expect([...back.values]).toEqual([...random.values]);
      }),
    );
  });

  test("a handle dragged together turns both sides, alone it breaks the key", () => {
    const both = setHandle(curve, 1, "out", 2, 0.5, true);
    expect([both.slopeIn[1], both.slopeOut[1], both.weightOut[1]]).toEqual([2, 2, 0.5]);
    const alone = setHandle(curve, 1, "out", 2, 0.5, false);
    expect(alone.slopeOut[1]).toBe(2);
    expect(alone.slopeIn[1]).toBe(curve.slopeIn[1]);
    expect(alone.kindIn[1]).toBe(Tangent.free);
  });

  test("a handle is never shorter than a hundredth or longer than its segment", () => {
    expect(setHandle(curve, 1, "in", 0, 7, false).weightIn[1]).toBe(1);
    expect(setHandle(curve, 1, "in", 0, -7, false).weightIn[1]).toBe(0.01);
  });
});

describe("reversing a span", () => {
  test("is the mirror image in time at every tenth of a frame, weighted and stepped keys included, to 1e-9", () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        const [a, b] = [curve.times[0], end(curve)];
        const turned = reverseSpan(curve, a, b);
        // Values go up to 200, so a billionth of that is asked.
        const off = worst(
          a + 0.05,
          b,
          0.1,
          (t) => sampleCurve(turned, t),
          (t) => sampleCurve(curve, a + b - t),
        );
        expect(off).toBeLessThan(1e-9 * 200);
      }),
      { numRuns: 200 },
    );
  });

  test("twice is the original", () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        const [a, b] = [curve.times[0], end(curve)];
        const back = reverseSpan(reverseSpan(curve, a, b), a, b);
        const off = worst(
          a + 0.05,
          b,
          0.31,
          (t) => sampleCurve(back, t),
          (t) => sampleCurve(curve, t),
        );
        expect(off).toBeLessThan(1e-7);
      }),
    );
  });

  test("changes nothing beyond the next key outside", () => {
    const curve = curveFrom([
      [1, 0],
      [6, 3],
      [10, 8],
      [14, -3],
      [22, 5],
      [30, 1],
      [40, 0],
    ]);
    const turned = reverseSpan(curve, 10, 22);
    for (const t of [1, 3, 5.9, 30.1, 33, 39]) expect(Math.abs(sampleCurve(turned, t) - sampleCurve(curve, t))).toBeLessThan(1e-9);
    expect(sampleCurve(turned, 12)).toBeCloseTo(sampleCurve(curve, 20), 9);
  });
});

describe("clipping", () => {
  test("the part between two frames is unchanged and starts and ends with a key", () => {
    fc.assert(
      fc.property(anyCurve, share, share, (curve, p, q) => {
        const span = end(curve) - curve.times[0];
        const [from, to] = [curve.times[0] + Math.min(p, q) * span, curve.times[0] + Math.max(p, q) * span];
        fc.pre(to - from > 0.01);
        const part = clipCurve(curve, from, to);
        expect(part.times[0]).toBeCloseTo(from, 5);
        expect(end(part)).toBeCloseTo(to, 5);
        for (let s = 0.03; s < 1; s += 0.07) {
          const t = from + s * (to - from);
          expect(Math.abs(sampleCurve(part, t) - sampleCurve(curve, t))).toBeLessThan(1e-6);
        }
      }),
    );
  });
});

test("of two keys at one time the later in the list wins", () => {
  const [key] = keysOf(curveFrom([[3, 1]]));
  const curve = curveFromKeys([key, { ...key, value: 7 }]);
  expect(keyCount(curve)).toBe(1);
  expect(curve.values[0]).toBe(7);
  expect(keyCount(constantCurve(4))).toBe(1);
});
