import { z } from "zod";
import { type ChannelKey, rotateChannels, splitChannelKey } from "../model/rig.ts";
import type { Pass } from "../model/shot.ts";
import { framesPerSecond } from "../model/rate.ts";
import { belowSamples, curvesOf, wholeRange } from "./belowSamples.ts";
import { channelSwing } from "./channelSwing.ts";
import type { MotionPassKind } from "./passKind.ts";
import { retimedSettings, settingOverTime } from "./settingAt.ts";
import type { Link, Swing } from "./swing.ts";
import { tipSwing } from "./tipSwing.ts";

const NAME = "Follow-through";

const settings = z.object({
  how: z
    .enum(["tips", "channels"])
    .default("tips")
    .meta({
      title: "What swings",
      labels: { tips: "Tips, in space", channels: "Each channel by itself" },
      help: "Tips trail behind whatever moves the chain, down the chain; channels only follow their own keys.",
    }),
  stiffness: z
    .number()
    .min(0.1)
    .max(30)
    .default(2)
    .meta({ title: "Swings a second", max: 8, step: 0.1, help: "Stiff things swing quickly." }),
  damping: z
    .number()
    .min(0)
    .max(300)
    .default(30)
    .meta({ title: "Damping", unit: "percent", max: 150, step: 5, help: "At 100 % it comes to rest without swinging back." }),
  strength: z.number().min(0).max(400).default(100).meta({ title: "Strength", unit: "percent", widget: "dial", max: 200 }),
  falloff: z.number().min(10).max(300).default(85).meta({
    title: "Next link",
    unit: "percent",
    max: 150,
    step: 5,
    help: "Each link swings at this share of the speed of the one before: below 100 % the end is softer.",
  }),
  most: z.number().min(5).max(175).default(75).meta({
    title: "At most",
    unit: "degrees",
    max: 175,
    step: 5,
    help: "No link swings further than this from where the motion has it, however hard it is thrown.",
  }),
  vary: z.number().min(0).max(50).default(0).meta({
    title: "Vary by",
    unit: "percent",
    max: 20,
    step: 1,
    help: "Sides differ by up to this much, so that left and right do not swing as one.",
  }),
  warmUp: z
    .number()
    .int()
    .min(0)
    .max(1000)
    .default(12)
    .meta({ title: "Warm-up", unit: "frames", max: 48, step: 1, help: "Frames before the first one in which the swing settles." }),
  loop: z.boolean().default(false).meta({ title: "It is a cycle", help: "The end swings into the start, in value and slope." }),
});

/** A spring: members go after what is below them, late, and swing past it. */
export const followThroughPass: MotionPassKind = {
  id: "follow-through",
  title: "Follow-through",
  help: "Lets a chain trail and swing after what moves it, as on springs.",
  reads: "motion",
  joins: () => "replaces",
  madeBy: "follow-through",
  offer: {
    words: "spring drag overlap swing chain tail",
    picked: true,
    guide: {
      use: "A chain trails what moves it, as on springs, and no key is touched.",
      watch: "Pick the chain from its first link on. Damp it when it swings for too long.",
    },
  },
  own: { name: NAME, channels: ["stiffness", "damping"] },
  settings,
  compute(pass, below, members) {
    const s = settings.parse(pass.settings);
    const { start, count } = wholeRange(below.shot);
    const swing: Swing = {
      below,
      start,
      count,
      warmUp: s.loop ? 0 : s.warmUp,
      loop: s.loop,
      strength: s.strength / 100,
      step: 1 / framesPerSecond(below.shot.rate),
      most: s.most,
      linkOf: linksOf(pass, members, s),
    };
    if (s.strength === 0) return {};
    if (s.how === "channels") {
      const samples = belowSamples(below, members, start - swing.warmUp, count + swing.warmUp);
      return curvesOf(start, count, channelSwing(swing, samples));
    }
    const controls = [
      ...new Set(
        members
          .map((key) => splitChannelKey(key))
          .filter(({ channel }) => isAngle(channel))
          .map(({ control }) => control),
      ),
    ];
    return curvesOf(start, count, tipSwing(swing, controls));
  },
  retimed: retimedSettings,
  checked: (pass) => pass,
};

const isAngle = (channel: string) => (rotateChannels as readonly string[]).includes(channel);

/** Links by their place in their own chain: the first control of a chain is as stiff as was said, the next less. */
function linksOf(pass: Pass, members: readonly ChannelKey[], s: z.infer<typeof settings>): (control: string) => Link {
  const stiffness = settingOverTime(pass, NAME, "stiffness", s.stiffness);
  const damping = settingOverTime(pass, NAME, "damping", s.damping);
  const places = new Map<string, number>();
  const counts = new Map<string, number>();
  for (const key of members) {
    const { control } = splitChannelKey(key);
    if (places.has(control)) continue;
    const side = sideOf(control);
    places.set(control, counts.get(side) ?? 0);
    counts.set(side, (counts.get(side) ?? 0) + 1);
  }
  return (control) => {
    const varied = 1 + (s.vary / 100) * (sideOf(control) === "left" ? 1 : sideOf(control) === "right" ? -1 : 0);
    const share = varied * Math.pow(s.falloff / 100, places.get(control) ?? 0);
    return { frequency: (frame) => Math.max(0.05, stiffness(frame) * share), damping: (frame) => Math.max(0, damping(frame) / 100) };
  };
}

function sideOf(control: string): "left" | "right" | "middle" {
  const words = control.toLowerCase().split(/[^a-z]+/);
  if (words.includes("left") || words.includes("l")) return "left";
  return words.includes("right") || words.includes("r") ? "right" : "middle";
}
