import { z } from "zod";
import { addConstraint } from "../../constraints/addConstraint.ts";
import { freshTie } from "../../constraints/freshTie.ts";
import { hingeOf, limbOf } from "../../constraints/limbOf.ts";
import { type Contact, plant, type PlantSettings } from "../../constraints/plant.ts";
import { constantCurve } from "../../curve/make.ts";
import { type ContactRule, endMotion, findContacts } from "../../evaluate/contacts.ts";
import { endWorlds, placeOver } from "../../evaluate/endWorlds.ts";
import { inPieces } from "../../inPieces.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { limbEnds } from "../../figure/limbEnds.ts";
import { placeAt, worldAt } from "../../figure/rigLayout.ts";
import { sizeOf } from "../../figure/sides.ts";
import { invertAffine, multiplyAffine } from "../../maths/matrix.ts";
import { channelKey, type Control } from "../../model/rig.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";
import { framesPerSecond } from "../../model/rate.ts";
import { countedWord } from "../../words.ts";
import type { Context, Operation, Scope } from "../operation.ts";
import { controlsMeant, isWhole, outcome, scopeRange } from "../shared/scope.ts";
import { someFrames } from "./reachFor.ts";
import { sayLength } from "../../model/sayLength.ts";
import { IN_WORLD, spaceMeant, spaceSetting } from "./spaceSetting.ts";

const settings = z.object({
  find: z
    .enum(["found", "range"])
    .default("found")
    .meta({
      title: "Contacts",
      labels: { found: "Found: where an end is slow and low", range: "The whole range is one" },
      help: "Found contacts are listed as bands in the tie tray, where their ends are dragged, and more put in or taken out.",
    }),
  speed: z
    .number()
    .min(0)
    .default(0.35)
    .meta({ title: "Slower than, a second", unit: "length", max: 5, step: 0.05, when: { find: "found" }, help: "Scene units a second." }),
  height: z
    .number()
    .min(0)
    .default(0.04)
    .meta({
      title: "Lower than",
      unit: "length",
      max: 1,
      step: 0.005,
      when: { find: "found" },
      help: "Above the lowest place it comes to.",
    }),
  shortest: z
    .number()
    .int()
    .min(1)
    .max(1000)
    .default(3)
    .meta({ title: "At least", unit: "frame", step: 1, when: { find: "found" } }),
  ease: z.number().min(0).max(200).default(3).meta({ title: "Comes and goes over", unit: "frame", step: 1 }),
  turns: z.boolean().default(true).meta({ title: "Turn stays too", help: "Off, the end rolls over its joint as its own keys say." }),
  ground: spaceSetting("Stands on", IN_WORLD, "What the end stays on: the world, or something that moves, such as a ferry."),
  stretches: z.boolean().default(false).meta({
    title: "Stretches",
    help: "A limb that is too short to reach its place grows. Off, the end is drawn away from it; the report says how far.",
  }),
});
type Settings = z.infer<typeof settings>;

/** Keep feet or hands where they stand. */
export const plantEnds: Operation<Settings> = {
  id: "plant",
  title: "Plant",
  group: "Spaces",
  help: "Feet, or the picked hands or feet, stay where they stand: contacts are found where they are slow and low, and held still; the limbs bend as they did.",
  guide: {
    use: "Takes the sliding out of a walk, and keeps feet on the ground while the hips are changed.",
    watch: "The report says how far each end slid before and slides after. A leg that is too straight cannot reach: lower the hips there.",
  },
  words: "feet slide foot skate contact lock pin ground sliding plant stick hold stand footsteps steps clean find contacts",
  suits: [],
  leaves: ["layer"],
  settings,
  situation({ shot, scope }) {
    const size = sizeOf(shot.rig) || 1;
    const round = (value: number) => Number(value.toPrecision(2));
    return { speed: round(size * 0.3), height: round(size * 0.03), ...(scope.range && !isWhole(scope) ? { find: "range" as const } : {}) };
  },
  async run(shot, scope, s, context) {
    const range = scopeRange(shot, scope);
    const ends = endsMeant(shot, scope);
    let after = shot;
    const planted: Planted[] = [];
    const none: string[] = [];
    for (const [n, end] of ends.entries()) {
      const made = await plantOne(after, end, range, s, context, (0.6 * n) / ends.length);
      if (made === null) none.push(end.name);
      else {
        planted.push(made);
        after = made.shot;
      }
    }
    if (planted.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        `Plant: ${none.join(" and ")} ${none.length === 1 ? "is" : "are"} nowhere slow and low enough.`,
        "Allow more speed or height, or mark a range and take it whole.",
      );
    const slides = slidesOf(shot, after, planted);
    const notes = slides.map(
      ({ end, before, now, contacts }) =>
        `${end.name}: ${countedWord(contacts, "contact")}, slid ${sayLength(shot, before)}, will slide ${sayLength(shot, now)}.`,
    );
    const short = slides.filter(({ now, before }) => now > Math.max(1e-6, before * 0.05));
    const warnings = short.map(({ end, at }) => `${end.name} does not reach its place at frame ${at}: the limb is too short there.`);
    if (none.length > 0) warnings.push(`No contact of ${none.join(" and ")} was found.`);
    return outcome(shot, after, `Planted ${planted.map(({ end }) => end.name).join(" and ")}`, { notes, warnings });
  },
};

interface Planted {
  readonly end: Control;
  readonly contacts: readonly Contact[];
  readonly ground: string | null;
  readonly shot: Shot;
}

/** The picked ends; with nothing picked, the feet. Errors: `nothing-in-scope`. */
function endsMeant(shot: Shot, scope: Scope): Control[] {
  const meant = controlsMeant(shot, scope);
  const ends = isWhole(scope) ? limbEnds(shot.rig, "feet") : shot.rig.controls.filter(({ id }) => meant.has(id));
  if (ends.length === 0)
    throw new KneaderError("nothing-in-scope", "Plant: no foot was found by its name.", "Pick the ends that should stay.");
  return ends;
}

async function plantOne(
  shot: Shot,
  end: Control,
  range: FrameRange,
  s: Settings,
  context: Context,
  begun: number,
): Promise<Planted | null> {
  const limb = limbOf(shot.rig, end.id);
  if (limb.length === 0) throw new KneaderError("bad-setting", `Plant: ${end.name} closes no limb of two bones.`, "Pick a foot or a hand.");
  const old = shot.constraints.find(({ kind, settings: told }) => kind === plant.id && (told as PlantSettings).limb.at(-1) === end.id);
  // What was planted before is planted anew: its contacts come from the motion without it.
  const free: Shot = old ? { ...shot, constraints: shot.constraints.filter((one) => one !== old) } : shot;
  const ground = spaceMeant(shot, end, s.ground);
  const player = makePlayer(free);
  const [start, last] = [Math.ceil(range.start), Math.floor(range.end)];
  const worlds = await inPieces(endWorlds(player, end.id, ground, { start, end: last }), () => context.breathe(begun));
  const places = Float64Array.from({ length: 3 * (last - start + 1) }, (_, n) => worlds[16 * Math.floor(n / 3) + 12 + (n % 3)]);
  const rule: ContactRule = { speed: s.speed, height: s.height, shortest: s.shortest };
  const spans = s.find === "range" ? [{ start, end: last }] : findContacts(endMotion(places, start, framesPerSecond(shot.rate)), rule);
  if (spans.length === 0) return null;
  const found = eased(spans, s.ease, shot.range).map((span) => ({ ...span, place: placeOver(worlds, start, span) }));
  // Outside the range it stays planted as it was.
  const kept = old ? (old.settings as PlantSettings).contacts.filter((one) => one.end < start || one.start > last) : [];
  const contacts = [...kept, ...found].sort((a, b) => a.start - b.start);
  const id = old?.id ?? freshTie(shot, `plant-${end.id}`);
  const told: PlantSettings = {
    limb,
    ground,
    spot: [0, 0, 0],
    turns: s.turns,
    hinge: hingeOf(player, limb, someFrames(shot)),
    stretches: s.stretches,
    contacts,
  };
  const made = addConstraint(free, {
    id,
    name: old?.name ?? `${end.name} planted`,
    kind: plant.id,
    on: true,
    settings: { ...told },
    curves: old?.curves ?? { [channelKey(id, "strength")]: constantCurve(1, shot.range.start) },
  });
  return { end, contacts, ground, shot: made };
}

/** Spans with frames to come and to go, which share what is between two of them; at the ends of the shot they begin and end at once. */
function eased(spans: readonly FrameRange[], ease: number, range: FrameRange): Omit<Contact, "place">[] {
  return spans.map(({ start, end }, i) => ({
    start,
    end,
    easeIn: Math.max(0, Math.min(ease, i > 0 ? (start - spans[i - 1].end) / 2 : start - range.start)),
    easeOut: Math.max(0, Math.min(ease, i < spans.length - 1 ? (spans[i + 1].start - end) / 2 : range.end - end)),
  }));
}

/** How far each end goes at the most from where it is when its contact begins, before and after. */
function slidesOf(before: Shot, after: Shot, planted: readonly Planted[]) {
  const [a, b] = [makePlayer(before), makePlayer(after)];
  return planted.map(({ end, contacts, ground }) => {
    const was = worstSlide(a, end.id, contacts, ground);
    const now = worstSlide(b, end.id, contacts, ground);
    return { end, contacts: contacts.length, before: was.amount, now: now.amount, at: now.frame };
  });
}

function worstSlide(
  player: Player,
  end: string,
  contacts: readonly FrameRange[],
  ground: string | null,
): { amount: number; frame: number } {
  const e = player.controlIndex.get(end) as number;
  const inverse = new Float64Array(16);
  const at = new Float64Array(16);
  const place = (frame: number): number[] => {
    player.pose(frame);
    if (ground === null) return [...player.worlds.subarray(placeAt(e), placeAt(e) + 3)];
    invertAffine(inverse, 0, player.worlds, worldAt(player.controlIndex.get(ground) as number));
    multiplyAffine(at, 0, inverse, 0, player.worlds, worldAt(e));
    return [at[12], at[13], at[14]];
  };
  let worst = { amount: 0, frame: contacts[0]?.start ?? 0 };
  for (const { start, end: last } of contacts) {
    const first = place(start);
    for (let frame = start; frame <= last; frame++) {
      const now = place(frame);
      const amount = Math.hypot(now[0] - first[0], now[1] - first[1], now[2] - first[2]);
      if (amount > worst.amount) worst = { amount, frame };
    }
  }
  return worst;
}
