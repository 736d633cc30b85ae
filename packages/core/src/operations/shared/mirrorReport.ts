import { checkMirror } from "../../figure/checkMirror.ts";
import { makeMirrorer, type MirrorOptions, type PoseValues } from "../../figure/mirror.ts";
import { sizeOf } from "../../figure/sides.ts";
import { withoutPartner } from "../../figure/partners.ts";
import { figureControls, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { sayLength } from "../../model/sayLength.ts";
import { countedWord, listed } from "../../words.ts";
import type { OffPlace, Scope } from "../operation.ts";
import { isWholeFigure } from "./scope.ts";
import { travellers } from "../../figure/carryOn.ts";
import { layerPoses } from "./layerPose.ts";

/** So far off (share of the figure's size) a control lands beside its reflection before it is told. */
const TOLD = 5e-4;
/** So many frames are measured at the most. */
const MOST = 48;

/**
 * Who is not mirrored, and how far the others land from the reflection of their partner: the pose that `before` has at
 * each first frame against what `after` has at the second. With `carried` the figure may stand and look elsewhere.
 */
export function mirrorReport(
  before: Shot,
  after: Shot,
  scope: Scope,
  frames: readonly (readonly [from: number, to: number])[],
  options: MirrorOptions,
  carried = false,
): { warnings: string[]; notes: string[]; off: OffPlace[] } {
  const lonely = withoutPartner(before.rig).map(({ name }) => name);
  const out = new Set(options.leftOut);
  const left = figureControls(before.rig).filter(({ id, mirror, partner }) => partner !== null && (mirror === "left out" || out.has(id)));
  const warnings = lonely.length > 0 ? [`No partner for ${listed(lonely)}: left as it is.`] : [];
  const notes = left.length > 0 ? [`Left out: ${listed(left.map(({ name }) => name))}.`] : [];
  // A part is mirrored on purpose by itself; what it hangs on then is where it was.
  const off = isWholeFigure(scope) ? measure(before, after, scope.layer, spread(frames), options, carried) : [];
  if (off.length > 0)
    warnings.push(
      `${countedWord(off.length, "control")} ${off.length === 1 ? "lands" : "land"} beside the reflection of ${off.length === 1 ? "its" : "their"} partner: limbs that differ in length or rest otherwise, or what they hang on is locked or left out.`,
    );
  const cost = off.length > 0 && options.lands !== "place" ? costOfPlace(before, options) : null;
  if (cost && cost.distance < 0.5 * off[0].distance)
    notes.push(
      `Limbs can land by place (under More): within ${sayLength(before, cost.distance)} at rest, their turns off by up to ${Math.round(cost.turn)}°.`,
    );
  return { warnings, notes, off };
}

/** What it would cost to let limbs land by place: how far they still are off and how their turns differ, as the figure rests. */
function costOfPlace({ rig }: Shot, options: MirrorOptions): { distance: number; turn: number } {
  const pose = {};
  const image = makeMirrorer(rig, { ...options, lands: "place" }).pose(pose, pose);
  const off = checkMirror(rig, pose, image, 0, options);
  return { distance: Math.max(0, ...off.map(({ distance }) => distance)), turn: Math.max(0, ...off.map(({ turn }) => turn)) };
}

function spread<Value>(list: readonly Value[]): readonly Value[] {
  const step = Math.max(1, list.length / MOST);
  return list.length <= MOST ? list : Array.from({ length: MOST }, (_, n) => list[Math.floor(n * step)]);
}

function measure(
  before: Shot,
  after: Shot,
  layer: string,
  frames: readonly (readonly [number, number])[],
  options: MirrorOptions,
  carried: boolean,
): OffPlace[] {
  const tolerance = TOLD * sizeOf(before.rig);
  const worst = new Map<string, OffPlace>();
  const mirrorer = makeMirrorer(before.rig, options);
  const was = layerPoses(
    before,
    layer,
    frames.map(([from]) => from),
  );
  const is = layerPoses(
    after,
    layer,
    frames.map(([, to]) => to),
  );
  for (const [from, to] of frames) {
    const pose = was(from);
    const image = is(to);
    const stood = carried ? { ...image, ...standing(before, mirrorer.pose(pose, image)) } : image;
    for (const { control, distance, turn } of checkMirror(before.rig, pose, stood, tolerance, options)) {
      if (distance <= tolerance && turn < 0.01) continue;
      const known = worst.get(control);
      if (!known || distance > known.distance || (distance === known.distance && turn > known.turn))
        worst.set(control, { control, frame: to, distance, turn });
    }
  }
  return [...worst.values()].sort((a, b) => b.distance - a.distance || b.turn - a.turn);
}

/** Where what travels stands in a pose. */
function standing({ rig }: Shot, pose: PoseValues): PoseValues {
  const ids = new Set(travellers(rig).map(({ id }) => id));
  return Object.fromEntries(
    Object.entries(pose).filter(([key]) => {
      const { control, channel } = splitChannelKey(key);
      return ids.has(control) && /^(move|rotate)[XYZ]$/.test(channel);
    }),
  );
}
