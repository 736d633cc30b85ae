import { createNoise2D } from "simplex-noise";
import { z } from "zod";
import { type ChannelKey, channelUnit, splitChannelKey } from "../model/rig.ts";
import { framesPerSecond } from "../model/rate.ts";
import type { Shot } from "../model/shot.ts";
import { curvesOf, wholeRange } from "./belowSamples.ts";
import type { MotionPassKind } from "./passKind.ts";
import { retimedSettings, settingOverTime } from "./settingAt.ts";

const NAME = "Tremor";

const settings = z.object({
  rotate: z.number().min(0).max(180).default(1).meta({ title: "Turns by", unit: "degrees", max: 15, step: 0.1 }),
  move: z.number().min(0).default(0).meta({ title: "Moves by", unit: "length", max: 0.1, step: 0.001 }),
  scale: z.number().min(0).max(100).default(0).meta({ title: "Scales by", unit: "percent", max: 20, step: 0.5 }),
  shapes: z
    .number()
    .min(0)
    .max(200)
    .default(0)
    .meta({ title: "Shapes by", unit: "percent", max: 30, step: 0.5, help: "Weights of shapes, which go from 0 to 100 %." }),
  numbers: z.number().min(0).max(1e6).default(0).meta({
    title: "Own attributes by",
    max: 10,
    step: 0.1,
    help: "Attributes of the rig's own, in their own numbers.",
  }),
  speed: z.number().min(0.01).max(60).default(4).meta({ title: "Shakes a second", max: 15, step: 0.1 }),
  rough: z
    .number()
    .min(0)
    .max(100)
    .default(40)
    .meta({ title: "Roughness", unit: "percent", max: 100, step: 5, help: "How much finer shaking comes on top." }),
  seed: z.number().int().min(0).max(999999).default(1).meta({ title: "Seed", step: 1, help: "Another number shakes in another way." }),
  alike: z.boolean().default(false).meta({ title: "All controls alike", help: "Otherwise each control shakes in its own way." }),
});

/** How finer shaking follows: each octave twice as quick. */
const OCTAVES = 3;

/** Adds a shake: smooth noise, the same on every machine for the same seed. */
export const tremorPass: MotionPassKind = {
  id: "tremor",
  title: "Tremor",
  help: "Adds a shake of chosen size and speed, the same every time for the same seed.",
  reads: "motion",
  joins: () => "adds",
  madeBy: "tremor",
  offer: {
    words: "noise shake jitter shiver camera handheld",
    guide: {
      use: "A shiver, an engine's shake, a hand that is not quite steady.",
      watch: "The same seed shakes the same way every time. Small and slow is nearly always better.",
    },
  },
  // Of shapes and attributes alone something is to be seen from the first.
  proposes(_span, shot, members) {
    const units = new Set(members?.map((key) => channelUnit(splitChannelKey(key).channel)));
    return {
      ...(units.has("percent") ? { shapes: SOME_PERCENT } : {}),
      ...(units.has("number") ? { numbers: someOf(shot, members ?? []) } : {}),
    };
  },
  own: { name: NAME, channels: ["rotate", "move", "speed"] },
  settings,
  lengths: ["move"],
  compute(pass, below, members) {
    const s = settings.parse(pass.settings);
    const { start, count } = wholeRange(below.shot);
    const fps = framesPerSecond(below.shot.rate);
    const sizes = {
      degrees: settingOverTime(pass, NAME, "rotate", s.rotate),
      length: settingOverTime(pass, NAME, "move", s.move),
      factor: () => s.scale / 100,
      percent: () => s.shapes,
      number: () => s.numbers,
    };
    const speed = settingOverTime(pass, NAME, "speed", s.speed);
    // With a speed over time the phase is the sum of what was run through so far.
    const phase = new Float64Array(count);
    for (let n = 1; n < count; n++) phase[n] = phase[n - 1] + speed(start + n - 0.5) / fps;
    const columns = new Map<ChannelKey, Float64Array>();
    for (const key of members) {
      const { control, channel } = splitChannelKey(key);
      const size = sizes[channelUnit(channel)];
      const shake = shakeOf(mixed(s.seed, s.alike ? channel : `${control}.${channel}`), s.rough / 100);
      const values = Float64Array.from(phase, (at, n) => size(start + n) * shake(at));
      if (values.some((value) => value !== 0)) columns.set(key, values);
    }
    return curvesOf(start, count, columns);
  },
  retimed: retimedSettings,
  checked: (pass) => pass,
};

/** As many percent a picked shape is shaken by to begin with. */
const SOME_PERCENT = 5;

/** A twentieth of the way that picked attributes go, in two figures; 0.1 where they stand still. */
function someOf(shot: Shot, members: readonly ChannelKey[]): number {
  const reach = members.map((key) => {
    const values = channelUnit(splitChannelKey(key).channel) === "number" ? shot.base[key]?.values : undefined;
    return values ? Math.max(...values) - Math.min(...values) : 0;
  });
  const most = Math.max(0, ...reach);
  return most > 0 ? Number((most / 20).toPrecision(2)) : 0.1;
}

/** Noise in about −1..1 along a line; finer octaves weigh `rough` times as much as the one before. */
function shakeOf(seed: number, rough: number): (at: number) => number {
  const noise = createNoise2D(randomFrom(seed));
  let whole = 0;
  for (let k = 0, weight = 1; k < OCTAVES; k++, weight *= rough) whole += weight;
  return (at) => {
    let sum = 0;
    for (let k = 0, weight = 1, pace = 1; k < OCTAVES; k++, weight *= rough, pace *= 2) sum += weight * noise(at * pace, 7.5 * k);
    return sum / whole;
  };
}

/** A seed that differs for each name (FNV-1a). */
function mixed(seed: number, name: string): number {
  let hash = 2166136261 ^ seed;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 16777619);
  return hash >>> 0;
}

/** Numbers in 0..1 from whole-number arithmetic only (mulberry32, public domain), so that every machine agrees. */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
