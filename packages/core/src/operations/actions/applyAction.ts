import { z } from "zod";
import { matchClip } from "../../actions/matchClip.ts";
import { countedWord, listed } from "../../words.ts";
import { type Curve, type Key, keysOf } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { freedKey } from "../../curve/turn.ts";
import { KneaderError } from "../../errors.ts";
import { actionSchema } from "../../formats/schema.ts";
import { type ChannelKey, splitChannelKey } from "../../model/rig.ts";
import { framesPerSecond, layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { sayScenery } from "../shared/sceneryLeft.ts";
import { changeCurves, outcome, wantedChannels } from "../shared/scope.ts";

const settings = z.object({
  action: actionSchema.meta({ title: "Action", widget: "action" }),
  at: z.number().default(1).meta({ title: "Starts at frame", unit: "frame", step: 1 }),
  speed: z.number().min(1).max(1000).default(100).meta({ title: "Speed", unit: "percent", max: 400, step: 5 }),
});

/** Lay a saved action on the shot as keys. */
export const applyAction: Operation<z.infer<typeof settings>> = {
  id: "apply-action",
  title: "Apply action",
  group: "Actions",
  help: "Puts a saved action's keys at a frame, in place of what its span held; controls are matched by name.",
  guide: {
    use: "Lays saved motion on a shot, matched by the names of its controls.",
    watch: "What that span held is replaced; curves without a place here are named.",
  },
  movesPoses: true,
  words: "pantry paste reuse library drop clip preset",
  leaves: ["range"],
  settings,
  situation: ({ frame }) => ({ at: frame }),
  async run(shot, scope, s) {
    const { card, clip } = s.action;
    const match = matchClip(clip, shot.rig);
    if (match.matched.size === 0)
      throw new KneaderError(
        "no-match",
        `Nothing in "${card.name}" matches this rig: it moves ${listed(clip.controls.map((control) => control.name))}, and no control here has such a name.`,
        "Choose an action made for a rig like this one.",
      );
    const wanted = new Set(wantedChannels(shot, scope));
    const stretch = (framesPerSecond(shot.rate) / framesPerSecond(clip.rate)) * (100 / s.speed);
    const curves = layerCurves(shot, scope.layer);
    const changed: Record<ChannelKey, Curve> = {};
    for (const [from, to] of match.matched) {
      if (!wanted.has(to)) continue;
      const laid = keysOf(clip.curves[from]).map((key) => ({
        ...key,
        time: s.at + key.time * stretch,
        slopeIn: key.slopeIn / stretch,
        slopeOut: key.slopeOut / stretch,
      }));
      const end = s.at + clip.length * stretch;
      const present = curves[to];
      changed[to] = curveFromKeys([...(present ? outside(present, s.at, end) : []), ...laid], present);
    }
    const missing = match.unmatched.map((key) => splitChannelKey(key));
    const names = [...new Set(missing.map(({ control }) => clip.controls.find((c) => c.id === control)?.name ?? control))];
    const warnings =
      missing.length > 0
        ? [`${missing.length} of ${countedWord(Object.keys(clip.curves).length, "curve")} have no place here: ${listed(names)}.`]
        : [];
    warnings.push(...sayScenery(shot, scope, [...match.matched.values()]));
    const after = changeCurves(shot, scope.layer, changed);
    const end = Math.ceil(s.at + clip.length * stretch);
    const grown = { ...after, range: { start: shot.range.start, end: Math.max(shot.range.end, end) } };
    const count = Object.keys(changed).length;
    return outcome(shot, grown, `Applied "${card.name}" to ${countedWord(count, "curve")}, frames ${s.at} to ${end}`, { warnings });
  },
};

/** The keys outside a span, with one just beside it, so that the motion before and after stays what it was. */
function outside(curve: Curve, start: number, end: number): Key[] {
  const first = curve.times[0];
  const last = curve.times[curve.times.length - 1];
  let kept = curve;
  if (first < start - 1) kept = insertKeyOn(kept, start - 1);
  if (last > end + 1) kept = insertKeyOn(kept, end + 1);
  const keys = keysOf(kept);
  const before = keys.filter((key) => key.time < start - 1e-6);
  const after = keys.filter((key) => key.time > end + 1e-6);
  // A tangent looks at two neighbours at the most, so those beside the span are held.
  return [...before.slice(0, -2), ...before.slice(-2).map(freedKey), ...after.slice(0, 2).map(freedKey), ...after.slice(2)];
}
