import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { repeats } from "../../curve/runOn.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { KneaderError } from "../../errors.ts";
import { bakeRow } from "../../evaluate/bakeRow.ts";
import { rideSlots } from "../../evaluate/rideAlong.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { type ChannelKey, channelTitle, type Control, controlById, restValue, splitChannelKey } from "../../model/rig.ts";
import { countedWord, listed } from "../../words.ts";
import { freshId } from "../../model/freshId.ts";
import { BASE, type FrameRange, type Pass, type Shot } from "../../model/shot.ts";
import { makePass } from "../../model/shotFields.ts";
import { activePasses } from "../../passes/active.ts";
import { freeName } from "../../passes/editPasses.ts";
import { computedKind } from "../../passes/kinds.ts";
import { changedBy, passMembers } from "../../passes/members.ts";
import { steppingPass } from "../../passes/stepping.ts";
import { curveFromSamples, steppedFromSamples } from "../../curve/bakeValues.ts";
import { keyedAlike, withKeysOf, withOutside } from "../shared/existingKeys.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { type Bound, looksOf, sayBound, withinBound } from "../spaces/withinBound.ts";
import { partOf } from "../shared/partOf.ts";
import { bakedPart, refuseReaders } from "./bakedPart.ts";
import { simplify } from "../clean/simplify.ts";

const settings = z.object({
  which: z
    .enum(["all", "chosen", "below"])
    .default("all")
    .meta({
      title: "Passes",
      labels: { all: "All that are on", chosen: "The chosen one alone", below: "The chosen one and all below it" },
    }),
  into: z
    .enum(["base", "pass"])
    .default("base")
    .meta({
      title: "Into",
      labels: { base: "Base motion", pass: "A new pass that replaces" },
      help: "Into a new pass, base motion and the passes stay; those baked are switched off.",
    }),
  keys: z
    .enum(["fewest", "existing", "every"])
    .default("fewest")
    .meta({ title: "Keys", labels: { fewest: "Fewest within the tolerance", existing: "On the keys there are", every: "On every frame" } }),
  rotation: z
    .number()
    .min(0)
    .max(90)
    .default(0.1)
    .meta({
      title: "Rotation within",
      unit: "degrees",
      max: 5,
      step: 0.05,
      when: { keys: "fewest" },
      help: "Of every turn as it is seen.",
    }),
  move: z
    .number()
    .min(0)
    .default(0.001)
    .meta({
      title: "Position within",
      unit: "length",
      max: 0.1,
      step: 0.001,
      when: { keys: "fewest" },
      help: "Of every control's place in the world.",
    }),
});

/** Merge passes that play into base motion or into a new pass. */
export const bakePasses: Operation<z.infer<typeof settings>> = {
  id: "bake-passes",
  title: "Bake passes",
  group: "Passes",
  help: "Merges passes that are on into base motion, or into a new pass above it; says first how far the result differs.",
  guide: {
    use: "Makes plain keys of passes, as the last step before handing over.",
    watch: "Say first what is lost: the worst difference is in the card. A version keeps the way back.",
  },
  words: "merge flatten layers collapse base down",
  suits: ["a chosen pass"],
  leaves: ["controls", "layer"],
  saysRounds: true,
  settings,
  needs: ["a pass that is on"],
  saysScope: (shot, scope, { which }) => namesOf(meant(shot, scope.layer, which)),
  async run(shot, scope, s, context) {
    const playing = meant(shot, scope.layer, s.which);
    const riders = ridersOf(shot, playing);
    const player = makePlayer({ ...shot, passes: playing }, { free: true });
    const touched = reallyChanged(shot, playing, player);
    if (touched.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        `Bake passes: ${namesOf(playing)} ${playing.length === 1 ? "is empty" : "are empty"} and would change nothing.`,
        "Key the pass first, or remove it.",
      );
    const held = touched.find((key) => shot.locked.includes(key));
    if (held !== undefined)
      throw new KneaderError(
        "locked",
        `Bake passes: ${channelTitle(shot.rig, held)} is locked, and a pass changes it.`,
        "Unlock it, or switch the pass off.",
      );
    const frames = { start: Math.floor(shot.range.start), end: Math.ceil(shot.range.end) };
    const part = partOf(shot, scope.range);
    if (part && s.into === "base") refuseReaders(playing, part);
    const count = frames.end - frames.start + 1;
    const samples = new Map(touched.map((key) => [key, new Float64Array(count)]));
    // Half-way to the next frame shows whether a frame is held.
    const halfway = new Map(steppedChannels(shot, playing, touched).map((key) => [key, new Float64Array(count)]));
    const read = (frame: number, n: number, into: ReadonlyMap<ChannelKey, Float64Array>) => {
      player.readValues(frame);
      for (const [key, values] of into) values[n] = player.values[player.channelIndex.get(key) as number];
      if (riders.length === 0) return;
      player.pose(frame);
      bakeRow(player, riders, n, into);
    };
    for (let n = 0; n < count; n++) {
      if (n % 64 === 0) await context.breathe((0.4 * n) / count);
      read(frames.start + n, n, samples);
      if (halfway.size > 0) read(frames.start + n + 0.5, n, halfway);
    }
    const keyed = new Map(touched.map((key) => [key, withKeysOf(shot, playing, key)]));
    const isOutside = (time: number) => time < frames.start - 1e-6 || time > frames.end + 1e-6;
    for (const [key, { times }] of keyed)
      if ((s.keys !== "existing" || halfway.has(key)) && !isOutside(times[0]) && !isOutside(times[times.length - 1])) keyed.delete(key);
    const existing = keyedAlike(keyed, read);
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const [key, values] of samples) {
      const half = halfway.get(key);
      const own = existing.get(key);
      if (own && s.keys === "existing" && !half) base[key] = own;
      else
        base[key] = withOutside(
          half ? steppedFromSamples(frames.start, values, half) : curveFromSamples(frames.start, values),
          own,
          frames,
        );
    }
    const made = Object.fromEntries(touched.map((key) => [key, base[key]]));
    const target = s.into === "base" ? BASE : freshId("pass");
    let after =
      s.into === "pass"
        ? stacked(shot, playing, target, made, part)
        : part
          ? bakedPart(shot, playing, made, part)
          : { ...shot, base, passes: shot.passes.filter((pass) => !playing.includes(pass)) };
    const silent = unheard(shot, after);
    after = silent.shot;
    let holds = true;
    if (s.keys === "fewest") {
      const exact = after;
      const hasOutside = touched.some(
        (key) => made[key].times[0] < frames.start || made[key].times[made[key].times.length - 1] > frames.end,
      );
      // The last key of a part holds, and stays.
      const range = part && s.into === "base" ? { start: part.start, end: part.end - 1 } : hasOutside ? frames : null;
      const fitted = { controls: null, channels: touched, keys: null, range, layer: target };
      const fit = (tolerance: Bound) => simplify.settings.parse({ ...tolerance, together: "control" });
      ({ shot: after, holds } = await withinBound(
        shot,
        s,
        async (tolerance) => (await simplify.run(exact, fitted, fit(tolerance), { ...context, firstLook: true })).shot,
        context,
      ));
    }
    const drift = await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.9 + 0.1 * share), looksOf(s.keys));
    const warnings = playing.flatMap((pass) => {
      // A computed pass may move what was never keyed.
      const moves =
        changedBy(shot, pass).length > 0 || (computedKind(pass.kind) && passMembers(shot, pass).some((key) => touched.includes(key)));
      if (!moves) return [`"${pass.name}" is empty.`];
      return pass.kind === "replaces"
        ? [`"${pass.name}" replaced what was below it on ${countedWord(Object.keys(pass.curves).length, "channel")}.`]
        : [];
    });
    const bound = s.keys === "fewest" ? sayBound(shot, s, drift, holds) : [];
    if (!holds) warnings.push(...bound);
    if (silent.names.length > 0) warnings.push(`Not heard because of a solo, and off now so that it stays so: ${listed(silent.names)}.`);
    const endless = touched.filter((key) => shot.base[key] && hasRounds(shot.base[key]) && !hasRounds(base[key]));
    if (endless.length > 0)
      warnings.push(
        `${endless.length} ${endless.length === 1 ? "curve that repeats has" : "curves that repeat have"} keys for every round of the shot now, and ${endless.length === 1 ? "holds" : "hold"} beyond its range.`,
      );
    const controls = [...new Set(touched.map((key) => splitChannelKey(key).control))].map((id) => controlById(shot.rig, id)?.name ?? id);
    const where = s.into === "base" ? "into base motion" : "into a pass of their own";
    const when = part ? `, frames ${part.start} to ${part.end}` : "";
    const notes = [`Changes ${listed(controls)}.`, ...(holds ? bound : [])];
    if (part && s.into === "base")
      notes.push(`There ${namesOf(playing)} ${playing.length === 1 ? "has" : "have"} no weight now; outside all is as it was.`);
    return outcome(shot, after, `Baked ${namesOf(playing)} ${where}${when}`, { drift, warnings, notes });
  },
};

/** The passes to be baked, from the bottom up. */
function meant(shot: Shot, layer: string, which: "all" | "chosen" | "below"): Pass[] {
  const active = activePasses(shot);
  if (active.length === 0)
    throw new KneaderError("nothing-in-scope", "Bake passes: no pass is on.", "Switch on the passes that should be baked.");
  if (which === "all") return active;
  const at = active.findIndex((pass) => pass.id === layer);
  if (at < 0)
    throw new KneaderError("nothing-in-scope", "Bake passes: no pass that is on is chosen.", "Choose one in the pass tray, or bake all.");
  return which === "chosen" ? [active[at]] : active.slice(0, at + 1);
}

const namesOf = (passes: readonly Pass[]) => passes.map((pass) => pass.name).join(", ");

/** Frames at the most that are looked at for what computed passes move. */
const LOOKED_AT = 200;

/** The channels that passes change: those they have keys on, and of the others those that come out otherwise than they rest. */
function reallyChanged(shot: Shot, playing: readonly Pass[], player: Player): ChannelKey[] {
  const told = new Set(playing.flatMap((pass) => changedBy(shot, pass)));
  const members = new Set(playing.filter(({ kind }) => computedKind(kind)).flatMap((pass) => passMembers(shot, pass)));
  const still = [...members].filter((key) => !told.has(key) && !(key in shot.base));
  if (still.length === 0) return [...told];
  const { start, end } = shot.range;
  const step = Math.max(1, Math.ceil((end - start) / LOOKED_AT));
  for (let frame = start; frame <= end; frame += step) {
    player.readValues(frame);
    for (const key of still) {
      const value = player.values[player.channelIndex.get(key) as number];
      if (Math.abs(value - restValue(splitChannelKey(key).channel)) > 1e-9) told.add(key);
    }
  }
  return [...told];
}

/** The baked curves as a replacing pass above the topmost of the passes they were made from, which are switched off. */
function stacked(shot: Shot, playing: readonly Pass[], id: string, curves: Record<ChannelKey, Curve>, part: FrameRange | null): Shot {
  // Over a part the new pass lies above them, and outside it they go on.
  const passes = shot.passes.map((pass) => (playing.includes(pass) && !part ? { ...pass, on: false, solo: false } : pass));
  const top = shot.passes.indexOf(playing[playing.length - 1]) + 1;
  const solo = passes.some((pass) => pass.solo);
  passes.splice(top, 0, {
    ...makePass(id, freeName(shot, "Baked"), "replaces", curves),
    solo,
    range: part && { ...part, easeIn: 0, easeOut: 0 },
  });
  return { ...shot, passes };
}

/** The controls that ride along with a camera. */
function ridersOf(shot: Shot, playing: readonly Pass[]): Control[] {
  const slots = rideSlots(shot, playing);
  return shot.rig.controls.filter((_, i) => slots[i] !== undefined);
}

/** The channels that stepping passes hold; not those that ride along, which move with the camera at every frame. */
function steppedChannels(shot: Shot, playing: readonly Pass[], touched: readonly ChannelKey[]): ChannelKey[] {
  const held = new Set(playing.filter((pass) => pass.kind === steppingPass.id).flatMap((pass) => passMembers(shot, pass)));
  const riders = new Set(ridersOf(shot, playing).map(({ id }) => id));
  return touched.filter((key) => held.has(key) && !riders.has(splitChannelKey(key).control));
}

const hasRounds = (curve: Curve) => repeats(curve.runIn) || repeats(curve.runOut);

/** Passes that a solo kept from being heard are switched off once no solo is left, or they would play all at once. */
function unheard(before: Shot, after: Shot): { shot: Shot; names: string[] } {
  if (!before.passes.some((pass) => pass.solo) || after.passes.some((pass) => pass.solo)) return { shot: after, names: [] };
  const silent = new Set(before.passes.filter((pass) => pass.on && !pass.solo).map(({ id }) => id));
  const names = after.passes.filter((pass) => silent.has(pass.id)).map((pass) => pass.name);
  return { shot: { ...after, passes: after.passes.map((pass) => (silent.has(pass.id) ? { ...pass, on: false } : pass)) }, names };
}
