import { z } from "zod";
import { insertKeyOn } from "../../curve/edit.ts";
import { controlById, splitChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Operation, Scope } from "../operation.ts";
import { changeCurves, curvesInScope, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  side: z
    .enum(["out", "in"])
    .default("out")
    .meta({ title: "Where", labels: { out: "Run-out, after the last key", in: "Run-in, before the first key" } }),
  kind: z
    .enum(["hold", "straight", "repeat", "travel", "pingpong"])
    .default("repeat")
    .meta({
      title: "What it does",
      labels: {
        hold: "Stay at the last value",
        straight: "Go straight on",
        repeat: "Repeat",
        travel: "Repeat and travel",
        pingpong: "Ping-pong",
      },
    }),
  rounds: z
    .number()
    .int()
    .min(0)
    .max(10000)
    .default(2)
    .meta({ title: "Extra rounds", zero: "for ever", max: 20, step: 1, help: "How often the keys are played again." }),
  align: z.boolean().default(true).meta({
    title: "One cycle for all curves",
    help: "Puts keys at the first and last frame of the cycle on every curve, so that all repeat in step.",
  }),
});

/** What curves do outside their keys. */
export const runOn: Operation<z.infer<typeof settings>> = {
  id: "run-on",
  title: "Run-in and run-out",
  group: "Cycles",
  help: "Sets what curves do before their first key or after their last one; the real keys stay the only ones.",
  guide: {
    use: "Says what curves do before their first key and after their last one: stay, go on, repeat, travel. The few real keys stay the only ones to edit.",
    watch: "Close the cycle first, or every round hitches at the seam.",
  },
  words: "loop cycle run-in run-out repeat ping-pong travel extend forever infinity extrapolate before after pre post",
  suits: ["a marked range"],
  saysRounds: true,
  settings,
  situation: ({ shot, scope }) => ({ kind: travels(shot, scope) ? "travel" : "repeat" }),
  async run(shot, scope, s) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Repeat");
    const curves = layerCurves(shot, scope.layer);
    const moving = channels.filter((key) => curves[key].times.length > 1);
    const first = scope.range?.start ?? Math.min(...moving.map((key) => curves[key].times[0]));
    const last = scope.range?.end ?? Math.max(...moving.map((key) => curves[key].times[curves[key].times.length - 1]));
    const changed = Object.fromEntries(
      moving.map((key) => {
        const aligned = s.align ? insertKeyOn(insertKeyOn(curves[key], first), last) : curves[key];
        const run = { kind: s.kind, rounds: s.rounds };
        return [key, s.side === "out" ? { ...aligned, runOut: run } : { ...aligned, runIn: run }];
      }),
    );
    const after = changeCurves(shot, scope.layer, changed);
    const span = moving.length > 0 ? last - first : 0;
    const cycles = s.kind === "repeat" || s.kind === "travel" || s.kind === "pingpong";
    const grown =
      cycles && s.side === "out" && s.rounds > 0
        ? { start: shot.range.start, end: Math.max(shot.range.end, Math.ceil(last + s.rounds * span)) }
        : shot.range;
    const times = s.rounds === 0 ? "for ever" : `for ${countedWord(s.rounds, "more round")}`;
    return outcome(
      shot,
      { ...after, range: grown },
      cycles
        ? `${countedWord(moving.length, "curve")}: ${s.kind === "pingpong" ? "to and fro" : s.kind === "travel" ? "repeated, travelling," : "repeated"} ${times}`
        : `${countedWord(moving.length, "curve")}: ${s.kind === "hold" ? "the last value stays" : "straight on"}`,
    );
  },
};

/** Does something that nothing else carries end its cycle elsewhere than it began? */
function travels(shot: Shot, scope: Scope): boolean {
  const curves = layerCurves(shot, scope.layer);
  return curvesInScope(shot, scope).some((key) => {
    const { control, channel } = splitChannelKey(key);
    if (!channel.startsWith("move") || controlById(shot.rig, control)?.parent !== null) return false;
    const { times, values } = curves[key];
    const spread = Math.max(...values) - Math.min(...values);
    return times.length > 1 && Math.abs(values[values.length - 1] - values[0]) > 0.5 * spread && spread > 1e-9;
  });
}
