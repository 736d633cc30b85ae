import { z } from "zod";
import { curveFromSamples } from "../../curve/bakeValues.ts";
import type { Curve } from "../../curve/curve.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { type ChannelKey, controlById, splitChannelKey } from "../../model/rig.ts";
import { countKeys, type Pass, type Shot } from "../../model/shot.ts";
import { joinedTake, joinSchema, lastFrame, type Take, takeSchema } from "../../model/take.ts";
import { countedWord, listed } from "../../words.ts";
import { simplify } from "../clean/simplify.ts";
import { freshPass } from "../passes/computedPass.ts";
import { passKind } from "../../passes/kinds.ts";
import type { PassKind } from "../../passes/passKind.ts";
import type { Operation, Scope } from "../operation.ts";
import { outcome } from "../shared/scope.ts";

const settings = z.object({
  recorded: z
    .object({
      takes: z.array(takeSchema).max(1000).readonly().default([]),
      chosen: z.string().default(""),
      joins: z.array(joinSchema).max(1000).readonly().default([]),
    })
    .default({ takes: [], chosen: "", joins: [] })
    .meta({ title: "Takes", widget: "takes" }),
  how: z
    .enum(["adds", "replaces"])
    .default("adds")
    .meta({
      title: "What is below",
      labels: { adds: "Kept, the take added", replaces: "Replaced by the take" },
      help: "Added, the motion below goes on under it; replaced, it is what it was when it was recorded.",
    }),
  rotation: z.number().min(0).max(90).default(0).meta({
    title: "Rotation within",
    unit: "degrees",
    max: 5,
    step: 0.05,
    help: "Fewest keys within this of what was recorded; 0 keeps a key on every frame. What was recorded is kept with the pass.",
  }),
  move: z.number().min(0).default(0).meta({ title: "Position within", unit: "length", max: 0.1, step: 0.001 }),
  ease: z.number().min(0).max(1000).default(0).meta({
    title: "Comes and goes over",
    unit: "frames",
    max: 24,
    step: 1,
    help: "At both ends of the take, where it begins or ends within the shot.",
  }),
});
export type RecordSettings = z.infer<typeof settings>;

/** What a pass was recorded from, with how it was put together; null when it was not recorded. */
export function recordedIn(pass: Pass | undefined): RecordSettings | null {
  if (!pass || pass.settings.recorded === undefined) return null;
  const read = settings.safeParse(pass.settings);
  return read.success ? read.data : null;
}

const recordedPass = (shot: Shot, { layer }: Scope): Pass | undefined => {
  const pass = shot.passes.find(({ id }) => id === layer);
  return recordedIn(pass) ? pass : undefined;
};

/** Motion taken from the hand while the shot plays, as a pass with its takes. */
export const record: Operation<RecordSettings> = {
  id: "record",
  title: "Record by hand",
  group: "Performance",
  help: "Drag a control in the view while the shot plays: a key lands on every frame of a pass of its own. Each round is a take; they are kept with the pass, compared, joined, and simplified here.",
  guide: {
    use: "For motion that is felt rather than planned: a head that looks about, a hand that trembles on a rail. Record slowly and it plays quick.",
    watch: "The playhead does not wait for the hand. Frames it skipped are filled between their neighbours, and the card says how many.",
  },
  words: "performance live take perform drag capture hand gamepad pen playback punch keys every frame",
  leaves: ["controls", "range", "layer"],
  saysRounds: true,
  settings,
  waits: ({ recorded }) => (recorded.takes.length === 0 ? "Press Record, then drag a control in the view while it plays." : null),
  situation: ({ shot, scope }) => {
    const read = recordedIn(recordedPass(shot, scope));
    return read ?? {};
  },
  saysScope: (shot, _scope, { recorded }) => {
    const take = joinedTake(recorded.takes, recorded.chosen, []);
    return take ? `${namesOf(shot, take)}, frames ${take.start}–${lastFrame(take)}` : "press Record, then drag in the view";
  },
  async run(shot, scope, told, context) {
    const take = joinedTake(told.recorded.takes, told.recorded.chosen, told.recorded.joins);
    if (!take)
      throw new KneaderError(
        "nothing-in-scope",
        "Record by hand: there is no take yet.",
        "Press Record, then drag a control in the view while it plays.",
      );
    const keys = Object.keys(take.values).filter((key) => controlById(shot.rig, splitChannelKey(key).control));
    if (keys.length === 0) throw new KneaderError("no-match", "Record by hand: none of the take's controls is in this rig.");
    const held = keys.find((key) => shot.locked.includes(key));
    if (held !== undefined)
      throw new KneaderError(
        "locked",
        `Record by hand: ${splitChannelKey(held).channel} of ${namesOf(shot, take)} is locked.`,
        "Unlock it first.",
      );
    const chosen = recordedPass(shot, scope);
    const curves = curvesOf(shot, chosen, take, keys, told.how);
    const start = take.start;
    const end = lastFrame(take);
    const whole = start <= shot.range.start && end >= shot.range.end;
    const made: Pass = {
      ...(chosen ?? freshPass(shot, passKind(told.how) as PassKind, `Take of ${namesOf(shot, take)}`)),
      kind: told.how,
      range: whole ? null : { start, end, easeIn: Math.min(told.ease, end - start), easeOut: Math.min(told.ease, end - start) },
      settings: told,
      curves,
    };
    let after: Shot = { ...shot, passes: chosen ? shot.passes.map((one) => (one === chosen ? made : one)) : [...shot.passes, made] };
    const notes: string[] = [];
    const warnings =
      shot.passes.some(({ solo, on, id }) => solo && on && id !== made.id) && !made.solo
        ? ["Another pass is on solo, so the take is not heard until that ends."]
        : [];
    if (told.rotation > 0 || told.move > 0) {
      const scoped: Scope = { controls: null, channels: keys, keys: null, range: null, layer: made.id };
      const fit = simplify.settings.parse({ rotation: told.rotation, move: told.move });
      const simple = await simplify.run(after, scoped, fit, context);
      after = simple.shot;
      const left = after.passes.find(({ id }) => id === made.id);
      notes.push(
        `${countedWord(countKeys(curves), "key")} as recorded, ${countedWord(countKeys(left?.curves ?? {}), "key")} within the tolerance.`,
      );
    }
    const frames = countedWord(end - start + 1, "frame");
    return outcome(shot, after, `${chosen ? "Changed" : "Added"} a take of ${namesOf(shot, take)} over ${frames}`, { notes, warnings });
  },
};

/** More controls than this are the figure. */
const FEW = 6;

function namesOf({ rig }: Shot, { values }: Take): string {
  const ids = [...new Set(Object.keys(values).map((key) => splitChannelKey(key).control))];
  return ids.length > FEW ? "the figure" : listed(ids.map((id) => controlById(rig, id)?.name ?? id));
}

/** A key on every frame: the difference, or what was seen when it was recorded. */
function curvesOf(
  shot: Shot,
  chosen: Pass | undefined,
  take: Take,
  keys: readonly ChannelKey[],
  how: "adds" | "replaces",
): Record<ChannelKey, Curve> {
  if (how === "adds")
    return Object.fromEntries(keys.map((key) => [key, curveFromSamples(take.start, Float64Array.from(take.values[key]))]));
  const player = makePlayer(shot, { below: chosen?.id, free: true });
  const columns = keys.map((key) => Float64Array.from(take.values[key]));
  const at = keys.map((key) => player.channelIndex.get(key) as number);
  for (let n = 0; n < Math.max(...columns.map(({ length }) => length)); n++) {
    player.readValues(take.start + n);
    columns.forEach((column, k) => {
      if (n < column.length) column[n] += player.values[at[k]];
    });
  }
  return Object.fromEntries(keys.map((key, k) => [key, curveFromSamples(take.start, columns[k])]));
}
