import { z } from "zod";
import { type Curve, Tangent } from "../../curve/curve.ts";
import { setTangents } from "../../curve/edit.ts";
import { channelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Operation, Scope } from "../operation.ts";
import { changeCurves, curvesInScope, needSomething, outcome, scopedChannels, scopedKeys } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  to: z
    .enum(["curves", "stepped"])
    .default("curves")
    .meta({ title: "Turn into", labels: { curves: "Curves between the poses", stepped: "Stepped poses" } }),
  kind: z
    .enum(["auto", "smooth", "flat", "linear"])
    .default("auto")
    .meta({ title: "Tangent", when: { to: "curves" }, help: "Auto keeps holds level and never overshoots a pose." }),
});

/** Stepped blocking to curves and back, every control at once. */
export const convertBlocking: Operation<z.infer<typeof settings>> = {
  id: "convert-blocking",
  title: "Stepped or curves",
  group: "Clean",
  help: "Turns stepped blocking into curves for every control at once, or back; says which controls it left out.",
  guide: {
    use: "Blocking shows what happens in held poses. Timing can only be judged once it flows, with every control along.",
    watch: "Controls that are left out are named. Set and camera come along only when you choose everything in the shot.",
  },
  words: "blocking spline splining convert stepped hold poses curves",
  suits: ["stepped poses"],
  settings,
  // What has no stepped key is curves already.
  situation({ shot, scope }) {
    const curves = layerCurves(shot, scope.layer);
    const isStepped = ({ kindIn, kindOut }: Curve) => kindIn.includes(Tangent.stepped) || kindOut.includes(Tangent.stepped);
    return { to: curvesInScope(shot, scope).some((key) => isStepped(curves[key])) ? "curves" : "stepped" };
  },
  async run(shot, scope, s) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Stepped or curves");
    const curves = layerCurves(shot, scope.layer);
    const changed: Record<string, Curve> = {};
    for (const key of channels) {
      const curve = curves[key];
      // A hold seen backward, as reversing leaves it, stands on the key that ends it.
      const holds = (i: number) => curve.kindOut[i] === Tangent.stepped || (s.to === "curves" && curve.kindIn[i] === Tangent.stepped);
      const wanted = scopedKeys(curve, key, scope).filter((i) => holds(i) === (s.to === "curves"));
      if (wanted.length > 0 && curve.times.length > 1)
        changed[key] = setTangents(curve, wanted, s.to === "stepped" ? Tangent.stepped : Tangent[s.kind], "both");
    }
    const count = Object.keys(changed).length;
    const now = s.to === "stepped" ? "stepped poses" : "curves";
    return outcome(shot, changeCurves(shot, scope.layer, changed), `Turned ${countedWord(count, "curve")} into ${now}`, {
      notes: leftOut(shot, scope, changed, now),
    });
  },
};

/** The controls that an operation for every control did not touch, by the reason why. */
function leftOut(shot: Shot, scope: Scope, changed: Readonly<Record<string, Curve>>, already: string): string[] {
  const curves = layerCurves(shot, scope.layer);
  const meant = new Set(curvesInScope(shot, scope));
  const locked = new Set(shot.locked);
  const reasons = new Map<string, string[]>();
  for (const control of shot.rig.controls) {
    const keys = control.channels.map((channel) => channelKey(control.id, channel));
    if (keys.some((key) => key in changed)) continue;
    const keyed = keys.filter((key) => key in curves);
    const reason =
      keyed.length === 0
        ? "Without keys"
        : !keyed.some((key) => meant.has(key))
          ? "Not in scope"
          : keyed.every((key) => locked.has(key))
            ? "Locked"
            : keyed.every((key) => curves[key].times.length < 2)
              ? "With one key only"
              : `Already ${already}`;
    reasons.set(reason, [...(reasons.get(reason) ?? []), control.name]);
  }
  return [...reasons].map(([reason, names]) => `${reason}: ${names.join(", ")}.`);
}
