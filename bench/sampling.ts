import bezierEasing from "bezier-easing";
import { CubicInterpolant } from "three";
import { GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { type Curve, Tangent, THIRD } from "../packages/core/src/curve/curve.ts";
import { curveFromKeys } from "../packages/core/src/curve/make.ts";
import { sampleInto } from "../packages/core/src/curve/track.ts";
import { makeTrackSet, sampleSet } from "../packages/core/src/curve/trackSet.ts";
import { INVERSE_SIZE, solvePrepared, writeInverse } from "../packages/core/src/curve/bezier.ts";
import { medians, ratio, type Row } from "./measure.ts";

const CURVES = 96;
const KEYS = 180;
const FRAMES = 2752;

function wavy(weightOut = THIRD, weightIn = THIRD): Curve[] {
  return Array.from({ length: CURVES }, (_, c) =>
    curveFromKeys(
      Array.from({ length: KEYS }, (_, i) => ({
        time: Math.round((i * FRAMES) / (KEYS - 1)),
        value: 40 * Math.sin(i * 0.7 + c),
        slopeIn: Math.cos(i + c),
        slopeOut: Math.cos(i + c),
        weightIn,
        weightOut,
        kindIn: Tangent.free,
        kindOut: Tangent.free,
      })),
    ),
  );
}

/** three's own spline for glTF, taken from the track its loader makes. */
async function gltfSpline(curve: Curve): Promise<{ evaluate(t: number): ArrayLike<number> }> {
  const n = curve.times.length;
  const input = Float32Array.from(curve.times);
  const output = new Float32Array(n * 9);
  for (let i = 0; i < n; i++) output.set([curve.slopeIn[i], 0, 0, curve.values[i], 0, 0, curve.slopeOut[i], 0, 0], i * 9);
  const data = new Uint8Array(input.byteLength + output.byteLength);
  data.set(new Uint8Array(input.buffer), 0);
  data.set(new Uint8Array(output.buffer), input.byteLength);
  const json = {
    asset: { version: "2.0" },
    nodes: [{ name: "a" }],
    scenes: [{ nodes: [0] }],
    scene: 0,
    animations: [
      {
        channels: [{ sampler: 0, target: { node: 0, path: "translation" } }],
        samplers: [{ input: 0, output: 1, interpolation: "CUBICSPLINE" }],
      },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: n, type: "SCALAR", min: [input[0]], max: [input[n - 1]] },
      { bufferView: 1, componentType: 5126, count: n * 3, type: "VEC3" },
    ],
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: input.byteLength },
      { buffer: 0, byteOffset: input.byteLength, byteLength: output.byteLength },
    ],
    buffers: [{ byteLength: data.length, uri: `data:application/octet-stream;base64,${Buffer.from(data).toString("base64")}` }],
  };
  Object.assign(globalThis, { ProgressEvent: class extends Event {} });
  const gltf = await new GLTFLoader().parseAsync(JSON.stringify(json), "");
  const [track] = gltf.animations[0].tracks as unknown as {
    createInterpolant(result: Float32Array): { evaluate(t: number): ArrayLike<number> };
  }[];
  return track.createInterpolant(new Float32Array(3));
}

export async function benchSampling(): Promise<Row[]> {
  const curves = wavy();
  const set = makeTrackSet(curves);
  const out = new Float64Array(FRAMES);
  const values = new Float64Array(CURVES);
  const cubics = curves.map((curve) => new CubicInterpolant(curve.times, curve.values, 1, new Float64Array(1)));
  const spline = await gltfSpline(curves[0]);
  const plain = await medians({
    ours: () => {
      for (const curve of curves) sampleInto(curve, 0, 1, out);
    },
    playback: () => {
      let sum = 0;
      for (let frame = 0; frame < FRAMES; frame++) {
        sampleSet(set, frame, values);
        sum += values[frame % CURVES];
      }
      return sum;
    },
    cubic: () => {
      for (const cubic of cubics) for (let frame = 0; frame < FRAMES; frame++) out[frame] = cubic.evaluate(frame)[0];
    },
    cubicPlayback: () => {
      let sum = 0;
      for (let frame = 0; frame < FRAMES; frame++) for (let c = 0; c < CURVES; c++) sum += cubics[c].evaluate(frame)[0];
      return sum;
    },
    // One track of three numbers at a time, as three plays a move; a third of it is one curve.
    spline: () => {
      for (let c = 0; c < CURVES / 3; c++) for (let frame = 0; frame < FRAMES; frame++) out[frame] = spline.evaluate(frame)[0];
    },
  });

  const weighted = wavy(0.6, 0.7);
  const easing = bezierEasing(0.6, 0.1, 0.3, 0.8);
  const STEP = 0.37;
  const shares = Float64Array.from({ length: FRAMES }, (_, n) => (n * STEP * 0.065) % 1);
  const handles = await medians({
    ours: () => {
      for (const curve of weighted) sampleInto(curve, 0, STEP, out);
    },
    easing: () => {
      for (let c = 0; c < CURVES; c++) for (let n = 0; n < FRAMES; n++) out[n] = easing(shares[n]);
    },
  });
  let error = 0;
  const inverse = new Float64Array(INVERSE_SIZE);
  for (let a = 0; a <= 1; a += 0.05)
    for (let b = 0; b <= 1; b += 0.05)
      for (let x = 0; x <= 1; x += 0.0137) {
        writeInverse(inverse, 0, a, b);
        const u = solvePrepared(inverse, 0, x);
        error = Math.max(error, Math.abs(3 * a * u * (1 - u) ** 2 + 3 * b * u * u * (1 - u) + u ** 3 - x));
      }
  const samples = CURVES * FRAMES;
  const rate = (ms: number) => `${Math.round(samples / ms / 1000)} million samples a second`;
  const order = { measured: plain, ours: "ours" };
  return [
    ratio("Cubic curves, in order", { ...order, theirs: "cubic", name: "three CubicInterpolant" }, 8, rate(plain.ours)),
    ratio("Cubic curves, in order", { ...order, theirs: "spline", name: "three's glTF spline" }, 3, rate(plain.ours)),
    ratio(
      "Cubic curves, in playback order",
      { measured: plain, ours: "playback", theirs: "cubicPlayback", name: "three CubicInterpolant" },
      4.5,
      rate(plain.playback),
    ),
    ratio(
      "Weighted handles, in order",
      { measured: handles, ours: "ours", theirs: "easing", name: "bezier-easing" },
      2.5,
      `${rate(handles.ours)}; worst error ${error.toExponential(1)}`,
    ),
    {
      work: "Weighted handles: worst error of the time",
      ms: error,
      target: "under 1e-9 of a segment",
      met: error < 1e-9,
      note: "not a time",
    },
  ];
}
