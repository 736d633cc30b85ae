import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { repeats } from "../../curve/runOn.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { type ChannelKey, controlById, splitChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves, layerOf, type Shot } from "../../model/shot.ts";
import { passKind } from "../../passes/kinds.ts";
import type { Operation, Scope } from "../operation.ts";
import { changeCurves, curvesInScope, isWhole, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord, listed } from "../../words.ts";

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
  of: z
    .enum(["layer", "all"])
    .default("layer")
    .meta({
      title: "Of",
      labels: { layer: "The chosen layer", all: "All that plays: base motion and passes" },
    }),
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
  situation({ shot, scope }) {
    // With nothing picked the figure is meant, whatever pass was made last.
    const of = isWhole(scope) && layersOf(shot, { ...scope }, "all").length > 1 ? "all" : "layer";
    return { kind: travels(shot, of === "all" ? { ...scope, layer: BASE } : scope) ? "travel" : "repeat", of };
  },
  async run(shot, scope, s) {
    const layers = layersOf(shot, scope, s.of);
    const moving = layers.flatMap(({ id, channels }) => {
      const curves = layerCurves(shot, id);
      return channels.filter((key) => curves[key].times.length > 1).map((key) => ({ layer: id, key, curve: curves[key] }));
    });
    needSomething(
      layers.flatMap(({ channels }) => channels),
      "Repeat",
    );
    // The cycle is base motion's where that moves; what passes have of it goes along.
    const base = moving.filter(({ layer }) => layer === BASE);
    const telling = base.length > 0 ? base : moving;
    const first = scope.range?.start ?? Math.min(...telling.map(({ curve }) => curve.times[0]));
    const last = scope.range?.end ?? Math.max(...telling.map(({ curve }) => curve.times[curve.times.length - 1]));
    const within = moving.filter(({ layer, curve }) => layer === scope.layer || layer === BASE || isWithin(curve, first, last));
    const cycled = within.map(({ layer, key, curve }) => {
      const aligned = s.align ? insertKeyOn(insertKeyOn(curve, first), last) : curve;
      const run = { kind: s.kind === "travel" && layer !== BASE && base.length > 0 ? "repeat" : s.kind, rounds: s.rounds } as const;
      return { layer, key, curve: s.side === "out" ? { ...aligned, runOut: run } : { ...aligned, runIn: run } };
    });
    const after = layers.reduce(
      (changed, { id }) =>
        changeCurves(changed, id, Object.fromEntries(cycled.filter(({ layer }) => layer === id).map(({ key, curve }) => [key, curve]))),
      shot,
    );
    const span = cycled.length > 0 ? last - first : 0;
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
        ? `${countedWord(cycled.length, "curve")}: ${s.kind === "pingpong" ? "to and fro" : s.kind === "travel" ? "repeated, travelling," : "repeated"} ${times}`
        : `${countedWord(cycled.length, "curve")}: ${s.kind === "hold" ? "the last value stays" : "straight on"}`,
      { warnings: cycles && s.side === "out" ? sayStill(after, scope, last) : [] },
    );
  },
};

interface Layer {
  readonly id: string;
  readonly channels: readonly ChannelKey[];
}

/** The layers that are meant with their channels: the chosen one, or base motion and every pass with keys of its own. */
function layersOf(shot: Shot, scope: Scope, of: "layer" | "all"): Layer[] {
  if (of === "layer") return [{ id: scope.layer, channels: scopedChannels(shot, scope) }];
  const keyed = shot.passes.filter(({ kind, locked, on }) => on && !locked && passKind(kind)?.reads === "keys");
  return [BASE, ...keyed.map(({ id }) => id)]
    .map((id) => ({ id, channels: scopedChannels(shot, { ...scope, layer: id }) }))
    .filter(({ channels }) => channels.length > 0);
}

/** Do all keys stand within the cycle? What a pass has outside is no part of it, and stays as it is. */
const isWithin = ({ times }: Curve, first: number, last: number): boolean =>
  times[0] >= first - 1e-6 && times[times.length - 1] <= last + 1e-6;

/** Which of what plays stands still where the rounds go on; nothing where all of it repeats. */
function sayStill(after: Shot, scope: Scope, last: number): string[] {
  const all = layersOf(after, { ...scope, controls: null, channels: null, keys: null }, "all");
  const still = all.flatMap(({ id, channels }) => {
    const curves = layerCurves(after, id);
    const moving = channels.filter((key) => curves[key].times.length > 1);
    const ending = moving.filter((key) => !repeats(curves[key].runOut) && curves[key].times[curves[key].times.length - 1] < last + 1e-6);
    if (ending.length === 0) return [];
    return [`${countedWord(ending.length, "curve")} of ${id === BASE ? "base motion" : `"${layerOf(after, id)?.name}"`}`];
  });
  return still.length === 0 ? [] : [`Not repeated, so still from frame ${Math.round(last)} on: ${listed(still)}.`];
}

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
