import { z } from "zod";
import { constantCurve } from "../curve/make.ts";
import { KneaderError } from "../errors.ts";
import { makePoseBlender, type PoseBlender, SAME_PLACE, spotWeights } from "../figure/poseBlend.ts";
import { type ChannelKey, channelKey, type Rig, rotateChannels, splitChannelKey } from "../model/rig.ts";
import type { Pass } from "../model/shot.ts";
import { curvesOf, wholeRange } from "./belowSamples.ts";
import type { MotionPassKind } from "./passKind.ts";
import { retimedSettings, settingOverTime } from "./settingAt.ts";

const NAME = "Field";

const placed = { x: z.number().min(-100).max(100), y: z.number().min(-100).max(100) };

/** A pose on the plane. */
const fieldPose = z.object({
  id: z.string().min(1),
  name: z.string().max(200),
  ...placed,
  values: z.record(z.string(), z.number()).readonly(),
});
export type FieldPose = z.infer<typeof fieldPose>;

/** Poses and where they lie, and where the spot is while it has no path. */
const field = z.object({ poses: z.array(fieldPose).readonly(), spot: z.object(placed) }).superRefine(({ poses }, ctx) => {
  const why = whyNoField(poses);
  if (why) ctx.addIssue({ code: "custom", message: why });
});
export type PoseField = z.infer<typeof field>;

export const fieldSettings = z.object({
  field: field.meta({ title: "Poses", widget: "field" }),
  adds: z.boolean().default(false).meta({
    title: "Adds to what is below",
    help: "The difference from the first pose is added. Otherwise the blend takes the place of what is below.",
  }),
  reach: z.number().min(0).max(300).default(100).meta({
    title: "Reach",
    unit: "percent",
    max: 200,
    step: 5,
    help: "100 % stays within what the poses span; beyond it is further from their middle.",
  }),
});

/** Why poses cannot be blended; null when they can. */
function whyNoField(poses: readonly FieldPose[]): string | null {
  if (poses.length < 2) return `a field needs two poses at least, and it has ${poses.length === 1 ? "one" : "none"}`;
  for (const [i, a] of poses.entries())
    for (const b of poses.slice(i + 1)) {
      if (a.id === b.id) return `two poses have the id "${a.id}"`;
      if (Math.hypot(a.x - b.x, a.y - b.y) < SAME_PLACE) return `"${a.name}" and "${b.name}" lie at one place`;
    }
  return null;
}

/** The channels the poses of a field say something of. */
function fieldChannels(settings: Readonly<Record<string, unknown>>): ChannelKey[] {
  const read = fieldSettings.safeParse(settings);
  if (!read.success) return [];
  const keys = new Set(read.data.field.poses.flatMap(({ values }) => Object.keys(values)));
  // The three angles of a control go together.
  for (const key of [...keys]) {
    const { control, channel } = splitChannelKey(key);
    if (/^rotate[XYZ]$/.test(channel)) for (const angle of rotateChannels) keys.add(channelKey(control, angle));
  }
  return [...keys];
}

const blenders = new WeakMap<object, { rig: Rig; members: string; blender: PoseBlender }>();

/** The poses of a field made ready once for each state of its settings. */
function blenderOf(rig: Rig, poses: readonly FieldPose[], keys: readonly ChannelKey[]): PoseBlender {
  const members = keys.join();
  const known = blenders.get(poses);
  if (known && known.rig === rig && known.members === members) return known.blender;
  const blender = makePoseBlender(
    rig,
    poses.map(({ values }) => values),
    keys,
  );
  blenders.set(poses, { rig, members, blender });
  return blender;
}

/** Blends poses by where a spot is among them; the spot's path is its two channels. */
export const fieldPass: MotionPassKind = {
  id: "field",
  title: "Pose field",
  help: "Blends poses that lie on a small plane, by where a spot is among them; the path of the spot is a curve.",
  reads: "motion",
  joins: ({ settings }) => (settings.adds === true ? "adds" : "replaces"),
  madeBy: "pose-field",
  own: { name: NAME, channels: ["x", "y"] },
  settings: fieldSettings,
  grown(settings, factor, controls) {
    const { field: given, ...others } = settings as { field: PoseField };
    const values = (pose: FieldPose) =>
      Object.fromEntries(
        Object.entries(pose.values).map(([key, value]) => {
          const { control, channel } = splitChannelKey(key);
          return [key, channel.startsWith("move") && controls.has(control) ? value * factor : value];
        }),
      );
    return { ...others, field: { ...given, poses: given.poses.map((pose) => ({ ...pose, values: values(pose) })) } };
  },
  fixed: ({ settings }, channel) => (settings.field as PoseField).spot[channel as "x" | "y"],
  brings: ({ settings }) => fieldChannels(settings),
  compute(pass, below, members) {
    const { field: given, adds, reach } = fieldSettings.parse(pass.settings);
    const said = new Set(fieldChannels(pass.settings));
    const keys = members.filter((key) => said.has(key));
    const { poses } = pass.settings.field as PoseField;
    const blender = blenderOf(below.shot.rig, poses, keys);
    const first = adds ? Float64Array.from(blender.blend(onlyFirst(poses.length), 1, new Float64Array(keys.length))) : null;
    const [x, y] = [settingOverTime(pass, NAME, "x", given.spot.x), settingOverTime(pass, NAME, "y", given.spot.y)];
    const weights = new Float64Array(poses.length);
    const row = new Float64Array(keys.length);
    const at = (frame: number) => {
      blender.blend(spotWeights(poses, { x: x(frame), y: y(frame) }, weights), reach / 100, row);
      if (first) for (let i = 0; i < row.length; i++) row[i] -= first[i];
      return row;
    };
    const { start, count } = wholeRange(below.shot);
    if (isStill(pass)) {
      const values = at(start);
      return Object.fromEntries(keys.map((key, i) => [key, constantCurve(values[i])]));
    }
    const columns = keys.map(() => new Float64Array(count));
    for (let n = 0; n < count; n++) {
      const values = at(start + n);
      for (let i = 0; i < values.length; i++) columns[i][n] = values[i];
    }
    return curvesOf(start, count, new Map(keys.map((key, i) => [key, columns[i]])));
  },
  retimed: retimedSettings,
  checked(pass) {
    const read = fieldSettings.safeParse(pass.settings);
    if (!read.success)
      throw new KneaderError(
        "bad-setting",
        `"${pass.name}": ${read.error.issues[0].message}.`,
        "Put another pose on the plane, or move one.",
      );
    return pass;
  },
};

const onlyFirst = (count: number) => Float64Array.from({ length: count }, (_, i) => (i === 0 ? 1 : 0));

/** Has the spot no path, so that one blend holds for the whole shot? */
function isStill({ curves }: Pass): boolean {
  return ["x", "y"].every((name) => {
    const curve = curves[channelKey(NAME, name)];
    return !curve || curve.times.length < 2;
  });
}
