import { z } from "zod";
import { addConstraint } from "../../constraints/addConstraint.ts";
import { chosenTie, putTie, withoutTie } from "../../constraints/chosenTie.ts";
import { addControl } from "../../constraints/editRig.ts";
import { freshTie } from "../../constraints/freshTie.ts";
import { hingeOf, limbOf, turnIn } from "../../constraints/limbOf.ts";
import { reach, type ReachSettings, SOFTNESS } from "../../constraints/reach.ts";
import { constantCurve } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { placeAt, worldAt } from "../../figure/rigLayout.ts";
import { turnFromAffine } from "../../maths/decompose.ts";
import { invertAffine } from "../../maths/matrix.ts";
import { channelKey, controlById, makeControl } from "../../model/rig.ts";
import type { Constraint, Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { beyondSoftness } from "./beyondSoftness.ts";
import { bendPlace } from "./bendPlace.ts";
import { controlSetting, needControl, pickedBut, targetPicked } from "./spaceSetting.ts";

const settings = z.object({
  target: controlSetting(
    "Reaches for",
    "What the end of the limb reaches for; of several picked controls the last. None: a new control, where the end is now.",
    { empty: "a new control" },
  ),
  bones: z
    .number()
    .int()
    .min(2)
    .max(8)
    .default(2)
    .meta({ title: "Bones", step: 1, help: "How many bend: two for an arm or a leg, more for a tail or a neck." }),
  bend: z
    .enum(["own", "new", "control"])
    .default("new")
    .meta({
      title: "Bends",
      labels: { own: "As its own keys bend it", new: "Toward a new control", control: "Toward a control" },
    }),
  toward: controlSetting("Toward", "The control toward which elbow or knee points.", { when: { bend: "control" } }),
  turn: z.boolean().default(false).meta({ title: "End turns with the target", help: "Off, it turns with the limb." }),
  keep: z
    .enum(["offset", "snap"])
    .default("offset")
    .meta({ title: "From where", labels: { offset: "Where the end is now", snap: "Right at the target" } }),
  stretches: z
    .boolean()
    .default(false)
    .meta({ title: "Stretches", help: "Bones grow where they are too short. Off, their lengths are kept." }),
  softness: z.number().min(0).max(50).default(5).meta({
    title: "Softness",
    unit: "percent",
    max: 20,
    step: 1,
    help: "The last share of its length over which the limb comes to full stretch; with 0 the elbow snaps straight. Keyed in the tie tray's channels.",
  }),
  frame: z.number().min(-1e6).max(1e6).default(1).meta({ title: "As at frame", unit: "frame", step: 1 }),
});

/** The settings with which a reach would be made as it is. */
function present(shot: Shot, { id, settings: told, curves }: Constraint): Partial<z.infer<typeof settings>> {
  const { limb, target, toward, turn, stretches } = told as ReachSettings;
  const bones = limb.slice(1).filter((one) => Math.hypot(...(controlById(shot.rig, one)?.rest ?? [0, 0, 0])) > 0).length;
  const soft = curves[channelKey(id, "softness")];
  return {
    target: target ?? "",
    bones,
    bend: toward === null ? "own" : "control",
    toward: toward ?? "",
    turn: turn !== null,
    stretches,
    softness: Math.round((soft ? soft.values[0] : SOFTNESS) * 100),
  };
}

/** Frames looked at for how a limb bends, at the most. */
const MOST_FRAMES = 60;

/** Let the end of a limb reach for something. */
export const reachFor: Operation<z.infer<typeof settings>> = {
  id: "reach",
  title: "Reach",
  group: "Spaces",
  help: "The picked hand or foot reaches for a control, and its limb bends after it. How strongly, how softly and how far turned is keyed in the tie tray.",
  guide: {
    use: "A hand stays on a rail while the body moves; a foot is animated by its place.",
    watch:
      "Pick the end, then what it reaches for. Match puts target and bend control onto the limb, so that reach comes in without a jump.",
  },
  words: "ik inverse kinematics two bone pole vector elbow knee hand foot goal limb constraint target touch",
  suits: ["picked controls"],
  leaves: ["layer", "range"],
  needs: ["picked controls"],
  settings,
  situation(at) {
    const old = chosenTie(at.shot, at.scope.layer, reach.id);
    return { frame: at.frame, target: targetPicked(at) ?? "", ...(old ? present(at.shot, old) : {}) };
  },
  async run(given, scope, s, context) {
    // With the row of a reach chosen that one is told anew.
    const old = chosenTie(given, scope.layer, reach.id);
    const ends = old
      ? [needControl(given, (old.settings as ReachSettings).limb.at(-1) as string)]
      : pickedBut(given, scope, s.target, "Reach").filter(({ id }) => id !== s.toward || s.bend !== "control");
    let shot = withoutTie(given, old);
    for (const end of ends) {
      const limb = limbOf(shot.rig, end.id, s.bones);
      if (limb.length === 0)
        throw new KneaderError(
          "bad-setting",
          `${end.name} has no ${s.bones} bones above it.`,
          "Pick a hand or a foot, or take fewer bones.",
        );
      // As it stands now, by what it is told anew too.
      const player = makePlayer(old ? addConstraint(shot, old) : shot);
      player.pose(s.frame);
      const hinge = bentAsNow(player, limb, hingeOf(makePlayer(shot), limb, someFrames(shot)), s.frame);
      player.pose(s.frame);
      const at = (id: string) => player.controlIndex.get(id) as number;
      let target = s.target;
      let toward = s.bend === "control" ? needControl(shot, s.toward).id : null;
      if (target === "") {
        target = freshTie(shot, `${end.id}-goal`);
        const place = placeOf(player, at(end.id));
        shot = addControl(
          shot,
          makeControl(target, { name: `${end.name} goal`, rest: place, role: "prop", restTurn: turnOf(player, at(end.id)) }),
        );
      } else needControl(shot, target);
      if (s.bend === "new") {
        toward = freshTie(shot, `${end.id}-bend`);
        const place = bendPlace(player, limb, hinge);
        shot = addControl(
          shot,
          makeControl(toward, { name: `${end.name} bend`, rest: place, role: "prop", channels: ["moveX", "moveY", "moveZ"] }),
        );
      }
      const now = makePlayer(old ? addConstraint(shot, old) : shot);
      now.pose(s.frame);
      const told: ReachSettings = {
        limb,
        target,
        toward,
        hinge,
        stretches: s.stretches,
        ...offsetsOf(now, limb, target, s),
      };
      const id = old?.id ?? freshTie(shot, `reach-${end.id}`);
      const softness = channelKey(id, "softness");
      const made = {
        id,
        // Short: it stands in a narrow column. A goal made by this is named after the end anyway.
        name: s.target === "" ? `${end.name} reach` : `${end.name} to ${needControl(shot, target).name}`,
        kind: reach.id,
        on: true,
        settings: { ...told },
        curves: {
          [channelKey(id, "strength")]: constantCurve(1, shot.range.start),
          [softness]: constantCurve(s.softness / 100, shot.range.start),
        },
      };
      // A softness that is keyed stays so; one that is the same all along is as written now.
      const kept =
        old && (old.curves[softness]?.times.length ?? 0) < 2
          ? { ...old, curves: { ...old.curves, [softness]: made.curves[softness] } }
          : old;
      shot = putTie(shot, kept, made);
    }
    // How far the limbs come from where they were: the end now follows what it reaches for.
    const known = new Set(given.rig.controls.map(({ id }) => id));
    const controls = ends.flatMap(({ id }) => limbOf(shot.rig, id, s.bones)).filter((id) => known.has(id));
    const range = given.range;
    const drift = context.firstLook
      ? null
      : await measureDriftInPieces(given, shot, range, (share) => context.breathe(0.9 + 0.1 * share), { controls });
    return outcome(
      given,
      shot,
      `Tied ${listed(ends.map(({ name }) => name))} to what ${ends.length === 1 ? "it reaches" : "they reach"} for`,
      {
        drift,
        notes: [
          ...shot.rig.controls
            .filter(({ id }) => !given.rig.controls.some((one) => one.id === id))
            .map(({ name }) => `New control: ${name}.`),
        ],
      },
    );
  },
};

/** More than this (as the sine) a limb is bent against its hinge on purpose: then it is that way that it bends. */
const AGAINST = Math.sin((3 * Math.PI) / 180);

/** A hinge by which a limb bends as it does at a frame, where it is bent there at all. */
function bentAsNow(player: Player, limb: readonly string[], hinge: readonly number[], frame: number): number[] {
  const now = hingeOf(player, limb, [frame]);
  const [size, length] = [Math.hypot(...now), Math.hypot(...hinge)];
  const along = now.reduce((sum, value, k) => sum + value * hinge[k], 0);
  return size > AGAINST && along < 0 && size < 1.5 && length > 0 ? hinge.map((value) => -value) : [...hinge];
}

/** Where in the target's frame the end is to be, and how turned. */
function offsetsOf(
  player: Player,
  limb: readonly string[],
  target: string,
  { keep, softness, turn: turns }: z.infer<typeof settings>,
): Pick<ReachSettings, "point" | "turn"> {
  const snap = keep === "snap";
  const [e, t] = [limb[limb.length - 1], target].map((id) => player.controlIndex.get(id) as number);
  const inverse = new Float64Array(16);
  invertAffine(inverse, 0, player.worlds, worldAt(t));
  const at = beyondSoftness(player, limb, softness / 100);
  const point = snap
    ? [0, 0, 0]
    : [0, 1, 2].map((k) => inverse[k] * at[0] + inverse[4 + k] * at[1] + inverse[8 + k] * at[2] + inverse[12 + k]);
  const turn = snap ? [0, 0, 0, 1] : turnIn(turnOf(player, t), Float64Array.from(turnOf(player, e)));
  return { point, turn: turns ? turn : null };
}

export function placeOf({ worlds }: Pick<Player, "worlds">, i: number): [number, number, number] {
  const at = placeAt(i);
  return [worlds[at], worlds[at + 1], worlds[at + 2]];
}

function turnOf({ worlds }: Pick<Player, "worlds">, i: number): [number, number, number, number] {
  const out = [0, 0, 0, 1];
  turnFromAffine(out, 0, worlds, worldAt(i));
  return [out[0], out[1], out[2], out[3]];
}

/** Frames spread over a shot. */
export function someFrames({ range }: Pick<Shot, "range">): number[] {
  const step = Math.max(1, (range.end - range.start) / MOST_FRAMES);
  return Array.from({ length: Math.floor((range.end - range.start) / step) + 1 }, (_, n) => range.start + n * step);
}
