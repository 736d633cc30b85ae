import { z } from "zod";
import { type Curve, Tangent } from "../../curve/curve.ts";
import { settle } from "../../curve/tangents.ts";
import { splitChannelKey } from "../../model/rig.ts";
import { constraintKind } from "../../constraints/kinds.ts";
import type { Constraint, Curves, Pass, Shot } from "../../model/shot.ts";
import { computedKind } from "../../passes/kinds.ts";
import type { Operation } from "../operation.ts";
import { controlsMeant, outcome } from "../shared/scope.ts";

const settings = z.object({
  factor: z
    .number()
    .positive()
    .max(10000)
    .default(5)
    .meta({ title: "Rig scaled by", max: 10, step: 0.1, help: "5 for a rig made five times bigger." }),
});

/** Scale a figure and its travel: move curves and rest places, never rotations. */
export const scaleRig: Operation<z.infer<typeof settings>> = {
  id: "scale-rig",
  title: "Rig scaled",
  group: "Values",
  help: "For a rig made bigger or smaller: multiplies the move curves of what is in scope about zero, in base and all passes, and the rest places; rotations stay.",
  guide: {
    use: "A rig made five times bigger needs its move curves five times as long and its rotations left alone, or the feet land wrong.",
    watch: "It is for figure and props; choose everything in the shot to scale set and camera too.",
  },
  words: "size bigger smaller units character resize metres centimetres",
  settings,
  leaves: ["range", "layer"],
  async run(shot, scope, s) {
    const meant = controlsMeant(shot, scope);
    let count = 0;
    const scaled = (curves: Curves): Curves =>
      Object.fromEntries(
        Object.entries(curves).map(([key, curve]) => {
          const { control, channel } = splitChannelKey(key);
          if (!channel.startsWith("move") || !meant.has(control)) return [key, curve];
          count++;
          return [key, times(curve, s.factor)];
        }),
      );
    const three = ([x, y, z]: readonly [number, number, number]) => [x * s.factor, y * s.factor, z * s.factor] as const;
    const after: Shot = {
      ...shot,
      rig: {
        ...shot.rig,
        ...(shot.rig.sides ? { sides: { ...shot.rig.sides, at: shot.rig.sides.at * s.factor } } : {}),
        // The drawing of a figure has one size, so a scaled rig is drawn by its bones.
        figure: s.factor === 1 ? shot.rig.figure : null,
        controls: shot.rig.controls.map((control) => ({
          ...control,
          ...(meant.has(control.id) ? { rest: three(control.rest), ...(control.tip ? { tip: three(control.tip) } : {}) } : {}),
        })),
      },
      set: s.factor === 1 ? shot.set : null,
      // Nor do the meshes of the file it came from fit any more.
      asset: s.factor === 1 ? shot.asset : null,
      base: scaled(shot.base),
      actions: shot.actions.map((action) => ({ ...action, clip: { ...action.clip, curves: scaled(action.clip.curves) } })),
      passes: shot.passes.map((pass) => ({ ...pass, settings: scaledSettings(pass, s.factor, meant), curves: scaled(pass.curves) })),
      constraints: shot.constraints.map((constraint) => {
        const kind = constraintKind(constraint.kind);
        const told = kind?.scaled(constraint.settings, s.factor) as Constraint["settings"] | undefined;
        return { ...constraint, settings: told ?? constraint.settings };
      }),
    };
    const others = Object.keys(shot.base).length + shot.passes.reduce((sum, pass) => sum + Object.keys(pass.curves).length, 0) - count;
    const parted =
      shot.asset?.isDrawn && s.factor !== 1
        ? `; the figure no longer fits its file ("${shot.asset.name}") and is drawn as a plain body`
        : "";
    return outcome(
      shot,
      after,
      `${count} move curves and ${meant.size} rest places × ${s.factor}; ${others} other curves left alone${parted}`,
    );
  },
};

/** What a computed pass is told in lengths grows along. */
function scaledSettings(pass: Pass, factor: number, meant: ReadonlySet<string>): Pass["settings"] {
  const kind = computedKind(pass.kind);
  const told = { ...(kind?.grown?.(pass.settings, factor, meant) ?? pass.settings) };
  for (const name of kind?.lengths ?? []) if (typeof told[name] === "number") told[name] = (told[name] as number) * factor;
  return told;
}

function times(curve: Curve, factor: number): Curve {
  const free = (kinds: Uint8Array, slopes: Float64Array) => slopes.map((slope, i) => (kinds[i] === Tangent.free ? slope * factor : slope));
  return settle({
    ...curve,
    values: curve.values.map((value) => value * factor),
    slopeIn: free(curve.kindIn, curve.slopeIn),
    slopeOut: free(curve.kindOut, curve.slopeOut),
  });
}
