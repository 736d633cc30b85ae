import { CubicInterpolant, DiscreteInterpolant, LinearInterpolant } from "three";
import * as fc from "fast-check";
import reference from "../../../../reference/curves.json";
import { type Curve, keyBefore, keyOn, Tangent, THIRD } from "../../src/curve/curve.ts";
import { curveFrom, curveFromKeys, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { sampleCurve, sampleInto, sampleTrack, trackOf } from "../../src/curve/track.ts";
import { makeTrackSet, sampleSet } from "../../src/curve/trackSet.ts";
import { anyCurve } from "../help/random.ts";

const freeKeys = (times: number[], values: number[], slopes: number[]): Curve =>
  curveFromKeys(
    times.map((time, i) => ({
      time,
      value: values[i],
      slopeIn: slopes[i],
      slopeOut: slopes[i],
      weightIn: THIRD,
      weightOut: THIRD,
      kindIn: Tangent.free,
      kindOut: Tangent.free,
    })),
  );

describe("sampling a cubic Hermite curve", () => {
  const { times, values, slopes, at, expected } = reference.hermite;
  const curve = freeKeys(times, values, slopes);

  test("equals SciPy's CubicHermiteSpline (reference/curves.py)", () => {
    at.forEach((time, i) => {
      expect(Math.abs(sampleCurve(curve, time) - expected[i])).toBeLessThan(1e-9);
    });
  });

  test("equals the formula of the glTF 2.0 specification, appendix C, cubic spline interpolation", () => {
    for (let k = 0; k + 1 < times.length; k++)
      for (const t of [0, 0.1, 0.37, 0.5, 0.93]) {
        const td = times[k + 1] - times[k];
        const spec =
          (2 * t ** 3 - 3 * t ** 2 + 1) * values[k] +
          td * (t ** 3 - 2 * t ** 2 + t) * slopes[k] +
          (-2 * t ** 3 + 3 * t ** 2) * values[k + 1] +
          td * (t ** 3 - t ** 2) * slopes[k + 1];
        expect(Math.abs(sampleCurve(curve, times[k] + t * td) - spec)).toBeLessThan(1e-9);
      }
  });

  test("gives the same whether asked in order, backward, at random or all at once", () => {
    const frames = Array.from({ length: 400 }, (_, i) => times[0] - 5 + i * 0.2);
    const track = trackOf(curve);
    const forward = frames.map((frame) => sampleTrack(track, frame));
    const backward = [...frames].reverse().map((frame) => sampleTrack(track, frame));
    const filled = sampleInto(curve, frames[0], 0.2, new Float64Array(frames.length));
    expect(backward.reverse()).toEqual(forward);
    forward.forEach((value, i) => {
      expect(Math.abs(filled[i] - value)).toBeLessThan(1e-9);
    });
  });

  test("has at each key the slope of its tangent", () => {
    times.slice(0, -1).forEach((time, i) => {
      expect(Math.abs((sampleCurve(curve, time + 1e-5) - values[i]) / 1e-5 - slopes[i])).toBeLessThan(1e-2);
    });
  });
});

describe("sampling against three's interpolants", () => {
  const times = [0, 4, 10, 11, 20];
  const values = [3, -2, 8, 1, 5];

  test("stepped keys hold as DiscreteInterpolant does", () => {
    const curve = curveFrom(
      times.map((t, i) => [t, values[i]] as const),
      Tangent.stepped,
    );
    const three = new DiscreteInterpolant(times, values, 1, new Float64Array(1));
    for (let t = 0; t <= 20; t += 0.25) expect(sampleCurve(curve, t)).toBe(three.evaluate(t)[0]);
  });

  test("linear keys go straight as LinearInterpolant does", () => {
    const curve = curveFrom(
      times.map((t, i) => [t, values[i]] as const),
      Tangent.linear,
    );
    const three = new LinearInterpolant(times, values, 1, new Float64Array(1));
    for (let t = 0; t <= 20; t += 0.25) expect(sampleCurve(curve, t)).toBeCloseTo(three.evaluate(t)[0], 5);
  });

  test("smooth keys at even distances take the slopes of CubicInterpolant", () => {
    const even = [0, 5, 10, 15, 20];
    const curve = curveFrom(
      even.map((t, i) => [t, values[i]] as const),
      Tangent.smooth,
    );
    const three = new CubicInterpolant(even, values, 1, new Float64Array(1));
    // Inside the first and last segment three guesses beyond the ends, so only the middle compares.
    for (let t = 5; t <= 15; t += 0.25) expect(sampleCurve(curve, t)).toBeCloseTo(three.evaluate(t)[0], 4);
  });
});

describe("the ends of a curve", () => {
  test("hold before the first key and after the last", () => {
    const curve = curveFrom([
      [10, 2],
      [20, 7],
    ]);
    expect(sampleCurve(curve, -100)).toBe(2);
    expect(sampleCurve(curve, 10)).toBe(2);
    expect(sampleCurve(curve, 20)).toBe(7);
    expect(sampleCurve(curve, 1e6)).toBe(7);
  });

  test("one key gives its value at every time", () => {
    const curve = curveFrom([[5, 1.5]]);
    for (const time of [-3, 5, 80]) expect(sampleCurve(curve, time)).toBe(1.5);
    expect([...sampleInto(curve, 3, 1, new Float64Array(4))]).toEqual([1.5, 1.5, 1.5, 1.5]);
  });

  test("a stepped key on the in side holds the value of the key that ends the segment", () => {
    const curve = curveFromKeys([
      { time: 0, value: 1, slopeIn: 0, slopeOut: 0, weightIn: THIRD, weightOut: THIRD, kindIn: Tangent.flat, kindOut: Tangent.flat },
      { time: 10, value: 9, slopeIn: 0, slopeOut: 0, weightIn: THIRD, weightOut: THIRD, kindIn: Tangent.stepped, kindOut: Tangent.flat },
    ]);
    expect(sampleCurve(curve, 0.5)).toBe(9);
    expect(sampleCurve(curve, 9.5)).toBe(9);
  });
});

describe("every random curve", () => {
  test("passes through its keys", () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        for (let i = 0; i < curve.times.length; i++) {
          const heldBack = curve.kindIn[i + 1] === Tangent.stepped && curve.kindOut[i] !== Tangent.stepped;
          if (!heldBack) expect(Math.abs(sampleCurve(curve, curve.times[i]) - curve.values[i])).toBeLessThan(1e-9);
        }
      }),
    );
  });

  test("is the same sampled one by one and filled in one go, at any step", () => {
    fc.assert(
      fc.property(anyCurve, fc.double({ min: 0.05, max: 3, noNaN: true }), (curve, step) => {
        const start = curve.times[0] - 2;
        const filled = sampleInto(curve, start, step, new Float64Array(60));
        filled.forEach((value, i) => {
          expect(Math.abs(value - sampleCurve(curve, start + i * step))).toBeLessThan(1e-8);
        });
      }),
    );
  });
});

test("a set of curves sampled together, in any order of times, is each curve sampled alone", () => {
  fc.assert(
    fc.property(
      // Few are worked out in one way, many in another.
      fc.oneof(fc.array(anyCurve, { minLength: 1, maxLength: 6 }), fc.array(anyCurve, { minLength: 8, maxLength: 21 })),
      fc.array(fc.double({ min: -20, max: 90, noNaN: true })),
      (curves, times) => {
        const captured = linearCurve(linearFrame(Float64Array.of(3, 4, 5, 6, 7)), Float64Array.of(1, -2, 8, 0, 4));
        const looping = [captured, ...curves].map((curve, i) =>
          i % 3 === 2 ? { ...curve, runOut: { kind: "travel" as const, rounds: 0 } } : curve,
        );
        const set = makeTrackSet(looping);
        const out = new Float64Array(looping.length);
        for (const time of [...times, ...[...times].sort((a, b) => a - b)]) {
          sampleSet(set, time, out);
          expect([...out]).toEqual(looping.map((curve) => sampleCurve(curve, time)));
        }
      },
    ),
  );
});

test("sets that are sampled in turns do not mix, however many there are and where memory for them cannot be had", async () => {
  const curveOf = (n: number) =>
    curveFrom(Array.from({ length: 6 }, (_, k) => [k * (3 + (n % 5)) + (n % 3) * 0.25, Math.sin(n * 1.3 + k * 2.1) * 50]));
  const curves = Array.from({ length: 48 }, (_, n) => curveOf(n));
  const many = Array.from({ length: 3000 }, (_, n) => curveOf(n));
  const check = (make: typeof makeTrackSet, sample: typeof sampleSet) => {
    // Together they need more memory than is kept for them, one of them more than there is at first.
    const sets = [...Array.from({ length: 900 }, (_, n) => curves.slice(n % 7)), many].map((some) => ({
      some,
      set: make(some),
    }));
    let off = 0;
    for (const time of [-2, 0.5, 7.25, 12, 3, 31.5])
      for (const { some, set } of sets) {
        const out = new Float64Array(some.length);
        sample(set, time, out);
        for (const n of [0, 7, some.length - 1]) if (out[n] !== sampleCurve(some[n], time)) off++;
      }
    expect(off).toBe(0);
  };
  check(makeTrackSet, sampleSet);
  const { grow } = WebAssembly.Memory.prototype;
  WebAssembly.Memory.prototype.grow = () => {
    throw new RangeError("no memory");
  };
  try {
    await jest.isolateModulesAsync(async () => {
      const tight = await import("../../src/curve/trackSet.ts");
      check(tight.makeTrackSet, tight.sampleSet);
    });
  } finally {
    WebAssembly.Memory.prototype.grow = grow;
  }
}, 60_000);

test("captured curves played once more, from anywhere, have what they had, however long they are", () => {
  const frame = linearFrame(Float64Array.from({ length: 9000 }, (_, n) => n + 1));
  const curves = Array.from({ length: 64 }, (_, c) =>
    linearCurve(
      frame,
      Float64Array.from(frame.times, (time) => Math.sin(time / (3 + c))),
    ),
  );
  const set = makeTrackSet(curves);
  const out = new Float64Array(curves.length);
  const at = [0, 1, 2].flatMap((round) => Array.from({ length: 900 }, (_, n) => n * 10.13 - 40 + round * 0.3));
  for (const time of [...at, 8000.5, 3, 8001.25, -7, 20_000]) {
    sampleSet(set, time, out);
    for (const c of [0, 31, 63]) expect(Math.abs(out[c] - sampleCurve(curves[c], time))).toBeLessThan(1e-12);
  }
});

describe("finding keys by time", () => {
  const times = Float64Array.of(1, 4, 9);
  test.each([
    [0, -1],
    [1, 0],
    [3.9, 0],
    [4, 1],
    [100, 2],
  ])("the last key at or before %p is number %p", (time, index) => {
    expect(keyBefore(times, time)).toBe(index);
  });

  test("a key is on a time within a millionth of a frame", () => {
    const curve = curveFrom([
      [1, 0],
      [4, 0],
    ]);
    expect(keyOn(curve, 4 + 5e-7)).toBe(1);
    expect(keyOn(curve, 4.001)).toBe(-1);
  });
});
