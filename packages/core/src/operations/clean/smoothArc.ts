import { z } from "zod";
import { keyOn } from "../../curve/curve.ts";
import { KneaderError } from "../../errors.ts";
import { arcPaths } from "../../evaluate/arcPaths.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { arcGrip } from "../../figure/arcGrip.ts";
import { worstBend } from "../../figure/bends.ts";
import { calmPlaces } from "../../figure/calmArc.ts";
import { pullTo } from "../../figure/pull.ts";
import { sizeOf } from "../../figure/sides.ts";
import { type ChannelKey, channelKeysOf, controlById, splitChannelKey } from "../../model/rig.ts";
import { type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import type { Context, Operation, Scope } from "../operation.ts";
import { keyResult } from "../shared/keyResult.ts";
import { keyTimes } from "../poses/poses.ts";
import { driftFor } from "../shared/driftFor.ts";
import { outcome, scopeRange } from "../shared/scope.ts";

const settings = z.object({
  distance: z
    .number()
    .min(0)
    .max(1e6)
    .default(0.05)
    .meta({ title: "Within", unit: "length", max: 0.3, step: 0.005, help: "No key's place goes further than this from where it was." }),
  strength: z
    .number()
    .min(0)
    .max(200)
    .default(100)
    .meta({ title: "Strength", unit: "percent", widget: "dial", max: 200, step: 5, help: "Multiplies the distance." }),
  spacing: z
    .enum(["kept", "even"])
    .default("kept")
    .meta({ title: "Spacing", labels: { kept: "Kept: only the shape of the arc changes", even: "Evened out along the arc" } }),
  by: z
    .enum(["reach", "turn"])
    .default("reach")
    .meta({ title: "What gives way", labels: { reach: "The links above reach", turn: "What it hangs on turns" } }),
});
type Settings = z.infer<typeof settings>;

/** Lay the keys of picked controls onto a calmer arc. */
export const smoothArc: Operation<Settings> = {
  id: "smooth-arc",
  title: "Smooth the arc",
  group: "Clean",
  help: "Moves the existing keys of the picked controls onto the calmest arc within a distance. Keys stay at their frames, the first and the last one where they are.",
  guide: {
    use: "Takes the kinks out of the path of a hand, a foot, a tail tip, without a new key. The card says how hard it bends before and after.",
    watch: "It is the path that calms down; angles change for it. Turn Arc on in the view to see both.",
  },
  words: "arc path trajectory kink bend calm polish spacing motion trail hand",
  suits: ["picked controls"],
  needs: ["picked controls"],
  settings,
  situation: ({ shot }) => ({ distance: Math.round(sizeOf(shot.rig) * 30) / 1000 || 0.001 }),
  async run(shot, scope, s, context) {
    const range = scopeRange(shot, scope);
    const named = scope.controls ?? [
      ...new Set([...(scope.channels ?? []), ...Object.keys(scope.keys ?? {})].map((key) => splitChannelKey(key).control)),
    ];
    const controls = named.filter((id) => controlById(shot.rig, id) !== undefined);
    if (controls.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        "Smooth the arc: no control is picked.",
        "Pick the hand, the foot or the tip whose path is to calm down.",
      );
    const frames = wholeFrames(range);
    const before = arcPaths(shot, controls, frames);
    let after = shot;
    let moved = 0;
    for (const [n, control] of controls.entries()) {
      const done = await smoothed(after, scope, control, range, s, (share) => context.breathe((n + share) / controls.length));
      after = done.shot;
      moved += done.moved;
    }
    if (moved === 0)
      throw new KneaderError(
        "nothing-in-scope",
        "Smooth the arc: there are fewer than three keys to lay onto an arc.",
        "Pick controls with keys, or widen the range.",
      );
    const paths = arcPaths(after, controls, frames);
    const bends = paths.map(({ places }, n) => [worstBend(before[n].places, 3), worstBend(places, 3)] as const);
    const isBetter = bends.some(([was, is]) => was.at >= 0 && (is.at < 0 || is.size < was.size - 0.5));
    if (!isBetter) {
      const [was] = [...bends].sort(([a], [b]) => b.size - a.size)[0];
      const kept =
        was.at < 0 ? "no bend stands out" : `its sharpest bend, ${Math.round(was.size)}° at frame ${frames[was.at]}, would not get less`;
      return outcome(shot, shot, `Smoothed no arc: ${kept}`, {
        notes: ["Give it more room with Distance, or pull the mark at that frame onto the arc in the view."],
      });
    }
    const notes = paths.map(({ control }, n) => {
      const [was, is] = bends[n];
      const name = controlById(shot.rig, control)?.name ?? control;
      if (was.at < 0) return `${name} has no bend that stands out.`;
      const now = is.at < 0 ? "now none stands out" : `now ${Math.round(is.size)}° at frame ${frames[is.at]}`;
      return `${name} bent by ${Math.round(was.size)}° at frame ${frames[was.at]}; ${now}.`;
    });
    return outcome(shot, after, `Smoothed ${countedWord(paths.length, "arc")}, ${countedWord(moved, "key pose")} moved`, {
      drift: await driftFor(shot, after, scope, context),
      notes,
    });
  },
};

function wholeFrames({ start, end }: FrameRange): Float64Array {
  const first = Math.ceil(start);
  return Float64Array.from({ length: Math.max(1, Math.floor(end) - first + 1) }, (_, n) => first + n);
}

/** One control's path calmed: its keys one after another put where the calm path is at their frames. */
async function smoothed(
  shot: Shot,
  scope: Scope,
  control: string,
  range: FrameRange,
  s: Settings,
  breathe: (share: number) => ReturnType<Context["breathe"]>,
): Promise<{ shot: Shot; moved: number }> {
  const times = keysThatMove(shot, scope, control, s).filter((time) => time >= range.start - 1e-6 && time <= range.end + 1e-6);
  if (times.length < 3) return { shot, moved: 0 };
  const frames = Float64Array.from(times);
  const [{ places }] = arcPaths(shot, [control], frames);
  const goals = calmPlaces(frames, places, (s.distance * s.strength) / 100, s.spacing === "even");
  let after = shot;
  for (let i = 1; i + 1 < frames.length; i++) {
    await breathe(i / frames.length);
    const player = makePlayer(onlyKeyed(after, scope.layer, frames[i]));
    player.pose(frames[i]);
    player.readValues(frames[i]);
    const { grip, by } = arcGrip(player, control, s.by);
    after = keyResult(after, scope.layer, frames[i], pullTo(player, frames[i], grip, by, goals[i]));
  }
  return { shot: after, moved: frames.length - 2 };
}

/** The shot with every channel locked that has no key at a frame: no key is added where there was none. */
function onlyKeyed(shot: Shot, layer: string, frame: number): Shot {
  const curves = layerCurves(shot, layer);
  const isKeyed = (key: ChannelKey) => curves[key] !== undefined && keyOn(curves[key], frame) >= 0;
  return { ...shot, locked: [...shot.locked, ...channelKeysOf(shot.rig).filter((key) => !isKeyed(key))] };
}

/** The frames of the keys of what gives way when a control is put somewhere. */
function keysThatMove(shot: Shot, scope: Scope, control: string, s: Settings): number[] {
  const player = makePlayer(shot);
  player.pose(shot.range.start);
  player.readValues(shot.range.start);
  const { grip, by } = arcGrip(player, control, s.by);
  const [{ places }] = arcPaths(shot, [control], Float64Array.of(shot.range.start));
  const channels = Object.keys(pullTo(player, shot.range.start, grip, by, [places[0], places[1], places[2]]));
  return keyTimes(shot, scope.layer, channels);
}
