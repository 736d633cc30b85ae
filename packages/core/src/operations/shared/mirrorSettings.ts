import { z } from "zod";
import { makeMirrorer, type MirrorOptions, type PoseValues } from "../../figure/mirror.ts";
import { leaderOf, makePlane, type MirrorPlane, type Plane, uprightPlane } from "../../figure/mirrorPlane.ts";
import { DEG } from "../../maths/rotation.ts";
import { controlById } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { KneaderError } from "../../errors.ts";

/** Where a scene's plane stands, and who is not mirrored: settings of everything that mirrors. */
const planeFields = {
  facing: z
    .number()
    .min(-360)
    .max(360)
    .default(0)
    .meta({
      title: "Plane turned by",
      unit: "degrees",
      step: 5,
      when: { about: "plane" },
      help: "About the vertical. At 0° it stands across X.",
    }),
  along: z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(0)
    .meta({ title: "Plane off the middle by", unit: "length", step: 0.01, when: { about: "plane" }, help: "Along the way it faces." }),
  lands: z
    .enum(["turns", "place"])
    .default("turns")
    .meta({
      title: "Limbs land",
      labels: { turns: "By their turns from rest", place: "By place: each joint on the reflection of its partner" },
      more: true,
      help: "Where left and right rest otherwise, turns from rest land beside; by place they land there, and turns give way.",
    }),
  leftOut: z
    .array(z.string())
    .default([])
    .meta({ title: "Left out", widget: "controls", help: "These keep their own motion, besides those that the rig leaves out." }),
};

const MIDDLE = "Its own middle: it keeps its heading";
const PLANE = "A plane of the scene: it goes the other way";

/** Settings for mirroring single poses. */
export const poseMirror = {
  about: z
    .enum(["middle", "plane"])
    .default("middle")
    .meta({ title: "Mirrored in", labels: { middle: MIDDLE, plane: PLANE } }),
  ...planeFields,
};

const wayLabels = {
  middle: "Its own middle, frame by frame: path and heading stay",
  way: "The way it goes: sway and turns flip too",
  plane: PLANE,
};
const ways = ["middle", "way", "plane"] as const;

/** The same where mirroring is one of several wishes. */
export const mirrorIfWished = Object.fromEntries(
  Object.entries(poseMirror).map(([name, setting]) => {
    const { when, ...told } = setting.meta() as { when?: object };
    return [name, setting.meta({ ...told, when: { mirrored: true, ...when } })];
  }),
) as typeof poseMirror;

/** Settings for mirroring motion over frames. */
export const rangeMirror = {
  about: z.enum(ways).default("middle").meta({ title: "Mirrored in", labels: wayLabels }),
  ...planeFields,
};

/** The same where the way a figure goes is what is usually meant. */
export const wayMirror = { ...rangeMirror, about: z.enum(ways).default("way").meta({ title: "Mirrored in", labels: wayLabels }) };

export interface MirrorSettings {
  readonly about: (typeof ways)[number];
  readonly facing: number;
  readonly along: number;
  readonly lands: "turns" | "place";
  readonly leftOut: readonly string[];
}

/**
 * What a `Mirrorer` is told. The way a figure goes is the upright plane through where it stands in `first`, between its
 * headings in `first` and `last`. Errors: `not-found` for a control left out that there is not.
 */
export function mirrorOptions(shot: Shot, s: MirrorSettings, first?: PoseValues, last?: PoseValues): MirrorOptions {
  for (const id of s.leftOut)
    if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `Left out: the rig has no control "${id}".`);
  return { plane: planeFor(shot, s, first, last), leftOut: s.leftOut, lands: s.lands };
}

function planeFor(shot: Shot, s: MirrorSettings, first?: PoseValues, last?: PoseValues): MirrorPlane {
  if (s.about === "middle" || (s.about === "way" && !first)) return "own middle";
  if (s.about === "way") return wayOf(shot, first as PoseValues, last ?? (first as PoseValues));
  const { normal } = uprightPlane([0, 0, 0], s.facing * DEG);
  return makePlane([normal[0] * s.along, normal[1] * s.along, normal[2] * s.along], normal);
}

function wayOf(shot: Shot, first: PoseValues, last: PoseValues): MirrorPlane {
  const leader = leaderOf(shot.rig);
  if (!leader) return "own middle";
  const at = shot.rig.controls.indexOf(leader);
  const mirrorer = makeMirrorer(shot.rig);
  const [from, to]: Plane[] = [mirrorer.planes(first)[at], mirrorer.planes(last)[at]];
  // A plane has two normals; the two that are nearest are averaged.
  const sign = from.normal.reduce((sum, v, k) => sum + v * to.normal[k], 0) < 0 ? -1 : 1;
  const [x, , z] = from.normal.map((v, k) => v + sign * to.normal[k]);
  return makePlane(from.origin, [x, 0, z]);
}
