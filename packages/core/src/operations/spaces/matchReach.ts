import { z } from "zod";
import { worldAt } from "../../figure/rigLayout.ts";
import { reach, type ReachSettings, SOFTNESS } from "../../constraints/reach.ts";
import { spaceFrame } from "../../constraints/space.ts";
import { spaceOf, switchesOf } from "../../constraints/spaces.ts";
import { Tangent } from "../../curve/curve.ts";
import { fadingFrom } from "../../curve/fadingFrom.ts";
import { insertKeyOn, setKey, setTangents } from "../../curve/edit.ts";
import { constantCurve } from "../../curve/make.ts";
import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { placeIn } from "../../figure/placeIn.ts";
import { scaleAt } from "../../figure/rigLayout.ts";
import { turnFromAffine } from "../../maths/decompose.ts";
import { matrixFromQuat, quatMultiply } from "../../maths/rotation.ts";
import { type ChannelKey, channelKey, type Control, controlById, restValue, transformChannels } from "../../model/rig.ts";
import { type Constraint, type Shot, withConstraint } from "../../model/shot.ts";
import type { Operation, Scope } from "../operation.ts";
import { sayLength } from "../../model/sayLength.ts";
import { controlsMeant, isWhole, outcome } from "../shared/scope.ts";
import { bendPlace } from "./bendPlace.ts";
import { beyondSoftness } from "./beyondSoftness.ts";
import { placeOf } from "./reachFor.ts";

const settings = z.object({
  to: z
    .enum(["reach", "turns"])
    .default("reach")
    .meta({
      title: "From there on",
      labels: { reach: "It reaches: target and bend control go onto the limb", turns: "Its own turns: the limb is keyed as it is seen" },
    }),
  frame: z.number().min(-1e6).max(1e6).default(1).meta({ title: "From frame", unit: "frame", step: 1 }),
  over: z.number().min(0).max(10000).default(8).meta({
    title: "Comes back over",
    unit: "frames",
    max: 40,
    step: 1,
    help: "Keys that stand there already are another pose: over so many frames the difference fades away. With 0 it is there at once.",
  }),
});

/** Go from reach to plain turns and back without a jump. */
export const matchReach: Operation<z.infer<typeof settings>> = {
  id: "match-reach",
  title: "Match reach and turns",
  group: "Spaces",
  help: "From a frame on a limb that reaches is led by its own turns, or the other way round, and nothing jumps there.",
  guide: {
    use: "An arm swings freely by its turns, then its hand stays on a rail by reach, and lets go again.",
    watch:
      "One frame before it the old way still rules. A limb that is all but straight cannot be matched to the last hair, as reach never quite stretches.",
  },
  words: "ik fk switch blend snap match seamless arm leg reach turns pose kinematics",
  suits: [],
  leaves: ["layer", "range"],
  needs: ["a limb that reaches"],
  settings,
  situation({ shot, scope, frame }) {
    const [one] = meantReaches(shot, scope);
    return { frame, ...(one?.on && strengthAt(one, frame) > 0.5 ? { to: "turns" } : { to: "reach" }) };
  },
  async run(shot, scope, s) {
    const meant = meantReaches(shot, scope);
    if (meant.length === 0)
      throw new KneaderError("nothing-in-scope", "Match: nothing in scope reaches.", "Pick the limb, its target or its bend control.");
    let after = shot;
    for (const one of meant) after = s.to === "turns" ? toTurns(after, one, s) : toReach(after, one, s);
    const names = meant.map(({ settings: told }) => controlById(shot.rig, (told as ReachSettings).limb.at(-1) as string)?.name).join(", ");
    const notes = meant.flatMap(({ settings: told }) => sayStep(shot, after, (told as ReachSettings).limb, s));
    return outcome(shot, after, `Matched ${names} at frame ${s.frame}: ${s.to === "turns" ? "its own turns" : "reach"} from there on`, {
      notes,
    });
  },
};

type From = Pick<z.infer<typeof settings>, "frame" | "over">;

/** The reaches in scope: of picked controls those they have a part in. */
function meantReaches(shot: Shot, scope: Scope): Constraint[] {
  const wanted = controlsMeant(shot, scope);
  return shot.constraints.filter(({ kind, settings: told }) => {
    const { limb, target, toward } = told as ReachSettings;
    return kind === reach.id && (isWhole(scope) || [...limb, target, toward].some((id) => id !== null && wanted.has(id)));
  });
}

/** The largest step of a limb from frame to frame from the one before the change on, and what it was there before. */
function sayStep(before: Shot, after: Shot, limb: readonly string[], { frame, over }: From): string[] {
  const [a, b] = [before, after].map((shot) => makePlayer(shot, { only: [...limb] }));
  const steps = (player: Player): { amount: number; frame: number; control: string }[] => {
    const found: { amount: number; frame: number; control: string }[] = [];
    let last: number[][] | null = null;
    for (let at = Math.round(frame) - 1; at <= frame + over + 1; at++) {
      player.pose(at);
      const now = limb.map((id) => placeOf(player, player.controlIndex.get(id) as number));
      now.forEach((place, n) => {
        const was = last?.[n];
        if (was) found.push({ amount: Math.hypot(...place.map((v, k) => v - was[k])), frame: at, control: limb[n] });
      });
      last = now;
    }
    return found;
  };
  const most = (list: ReturnType<typeof steps>) => list.reduce((best, one) => (one.amount > best.amount ? one : best));
  const [was, is] = [most(steps(a)), most(steps(b))];
  const name = controlById(after.rig, is.control)?.name ?? is.control;
  return [`Largest step: ${sayLength(after, is.amount)} at frame ${is.frame} (${name}); before it was ${sayLength(before, was.amount)}.`];
}

/** The limb is keyed as it is seen, and led by that from the frame on. */
function toTurns(shot: Shot, one: Constraint, { frame, over }: From): Shot {
  const { limb } = one.settings as ReachSettings;
  const player = makePlayer(shot);
  player.pose(frame);
  const worlds = player.worlds.slice();
  const keyed = limb.reduce((after, id) => keyPlace(after, player, worlds, controlById(shot.rig, id) as Control, { frame, over }), shot);
  return strengthFrom(keyed, one, frame, 0);
}

/** Target and bend control are keyed onto the limb, which is led by them from the frame on. */
function toReach(shot: Shot, one: Constraint, { frame, over }: From): Shot {
  const told = one.settings as ReachSettings;
  // How it stands without this reach.
  const without = makePlayer({ ...shot, constraints: shot.constraints.filter(({ id }) => id !== one.id) });
  const player = strengthAt(one, frame) > 0 && one.on ? makePlayer(shot) : without;
  player.pose(frame);
  const worlds = player.worlds.slice();
  let after = shot;
  if (told.target !== null) {
    const place = beyondSoftness(player, told.limb, softnessAt(one, frame));
    const t = player.controlIndex.get(told.target) as number;
    moveSpot(worlds, t, told, place, player);
    after = keyPlace(after, player, worlds, controlById(shot.rig, told.target) as Control, { frame, over });
  }
  if (told.toward !== null) {
    const place = bendPlace(player, told.limb, told.hinge);
    const at = worldAt(player.controlIndex.get(told.toward) as number) + 12;
    for (let k = 0; k < 3; k++) worlds[at + k] = place[k];
    after = keyPlace(after, player, worlds, controlById(shot.rig, told.toward) as Control, { frame, over });
  }
  return strengthFrom(after, one, frame, 1);
}

const strengthAt = (one: Constraint, frame: number) => {
  const curve = one.curves[channelKey(one.id, "strength")];
  return curve ? sampleCurve(curve, frame) : 1;
};

const softnessAt = (one: Constraint, frame: number): number => {
  const curve = one.curves[channelKey(one.id, "softness")];
  return curve ? sampleCurve(curve, frame) : SOFTNESS;
};

/** Put a control so that the spot of it that is reached for is at a place, and turned so that the end is as it is where it turns along. */
function moveSpot(worlds: Float64Array, i: number, told: ReachSettings, place: readonly number[], player: Player): void {
  const o = worldAt(i);
  if (told.turn !== null) {
    const end = new Float64Array(4);
    turnFromAffine(end, 0, player.worlds, worldAt(player.controlIndex.get(told.limb[told.limb.length - 1]) as number));
    const [x, y, z, w] = told.turn;
    quatMultiply(end, 0, end, 0, [-x, -y, -z, w], 0);
    const sizes = [0, 4, 8].map((k) => Math.hypot(worlds[o + k], worlds[o + k + 1], worlds[o + k + 2]));
    matrixFromQuat(worlds, o, 4, end, 0);
    for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) worlds[o + 4 * c + r] *= sizes[c];
  }
  const [x, y, z] = told.point;
  for (let k = 0; k < 3; k++) worlds[o + 12 + k] = place[k] - (worlds[o + k] * x + worlds[o + 4 + k] * y + worlds[o + 8 + k] * z);
}

/** Less than this is rounding. */
const NOTHING = 1e-11;

/** Key a control at a frame so that it stands where matrices have it, which fades from there on; a frame before it stays as it was. */
function keyPlace(shot: Shot, player: Player, worlds: Float64Array, control: Control, { frame, over }: From): Shot {
  const out: number[] = new Array(9).fill(0);
  const matrix = new Float64Array(16);
  spaceFrame(shot.rig, control.id, spaceOf(switchesOf(shot, control.id), frame))(matrix, worlds);
  const i = player.controlIndex.get(control.id) as number;
  player.readValues(frame);
  const now = player.values.slice(9 * i, 9 * i + 9);
  const scale = player.values.slice(scaleAt(i), scaleAt(i) + 3);
  placeIn(out, matrix, worlds, i, control, now, scale);
  const base: Record<ChannelKey, Shot["base"][ChannelKey]> = { ...shot.base };
  for (let k = 0; k < 6; k++) {
    const channel = transformChannels[k];
    const key = channelKey(control.id, channel);
    // What never moved does not begin to.
    if (base[key] === undefined && Math.abs(out[k] - now[k]) < NOTHING) continue;
    const given = base[key] ?? constantCurve(restValue(channel), Math.min(shot.range.start, frame));
    const first = given.times[0];
    const before = frame - 1 >= first ? insertKeyOn(insertKeyOn(given, frame - 1), frame) : insertKeyOn(given, frame);
    const held = frame - 1 >= first ? setTangents(before, [before.times.indexOf(frame - 1)], Tangent.stepped, "out") : before;
    base[key] = fadingFrom(held, frame, over, out[k]);
  }
  return { ...shot, base };
}

/** The strength from a frame on; before it as it was. */
function strengthFrom(shot: Shot, { id }: Constraint, frame: number, strength: number): Shot {
  return withConstraint(shot, id, (one) => {
    const key = channelKey(id, "strength");
    const given = one.curves[key] ?? constantCurve(1, Math.min(shot.range.start, frame - 1));
    const begun = given.times[0] < frame - 1e-6 ? insertKeyOn(given, frame - 1) : given;
    const held = begun === given ? begun : setTangents(begun, [begun.times.indexOf(frame - 1)], Tangent.stepped, "out");
    return { ...one, on: true, curves: { ...one.curves, [key]: setKey(held, frame, strength, Tangent.stepped) } };
  });
}
