import { z } from "zod";
import { chosenTie, putTie, withoutTie } from "../../constraints/chosenTie.ts";
import { type FollowSettings, follow, makeFollow } from "../../constraints/follow.ts";
import { constantCurve } from "../../curve/make.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { ownMatrix } from "../../figure/ownMatrix.ts";
import { worldAt } from "../../figure/rigLayout.ts";
import { invertAffine, multiplyAffine } from "../../maths/matrix.ts";
import type { Control } from "../../model/rig.ts";
import { listed } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { freshTie } from "../../constraints/freshTie.ts";
import { controlSetting, needControl, pickedBut, targetPicked } from "./spaceSetting.ts";

const settings = z.object({
  target: controlSetting("Goes along with", "The control they follow; of several picked ones it is the last.", { empty: "choose one" }),
  also: z.array(z.string()).max(15).default([]).meta({
    title: "And with",
    widget: "controls",
    help: "Further ones, each with a share that is keyed over time; at first the first has all.",
  }),
  what: z
    .enum(["both", "place", "turn"])
    .default("both")
    .meta({ title: "Follows", labels: { both: "Place and turn", place: "Place alone", turn: "Turn alone" } }),
  scale: z.boolean().default(false).meta({ title: "Scale too" }),
  keep: z
    .enum(["offset", "snap"])
    .default("offset")
    .meta({
      title: "From where",
      labels: { offset: "Where it is now, its distance kept", snap: "Right at the target" },
      help: "At the frame of the playhead. Its own keys go on top of what it follows.",
    }),
  frame: z.number().min(-1e6).max(1e6).default(1).meta({ title: "As at frame", unit: "frame", step: 1 }),
});

/** The settings with which a follow would be made as it is. */
function present({ target, more = [], position, rotation, scale = false }: FollowSettings): Partial<z.infer<typeof settings>> {
  return { target, also: more.map((one) => one.target), what: position && rotation ? "both" : position ? "place" : "turn", scale };
}

/** Let controls go along with another. */
export const followTarget: Operation<z.infer<typeof settings>> = {
  id: "follow",
  title: "Follow",
  group: "Spaces",
  help: "The picked controls go along with another one, all through the shot; how strongly is keyed in the tie tray, and their own keys go on top.",
  guide: {
    use: "A strap goes along with a shoulder, eyes with a prop, by a share that changes over time.",
    watch: "Where a control only changes what it hangs on, a space says it more plainly. Pick what goes along, then what it follows.",
  },
  words: "constraint parent point orient attach glue stick hold constrain go along target",
  suits: ["picked controls"],
  leaves: ["layer", "range"],
  needs: ["picked controls"],
  settings,
  situation(at) {
    const old = chosenTie(at.shot, at.scope.layer, follow.id);
    return { frame: at.frame, target: targetPicked(at) ?? "", ...(old ? present(old.settings as FollowSettings) : {}) };
  },
  async run(given, scope, s) {
    const target = needControl(given, s.target);
    // With the row of a follow chosen that one is told anew.
    const old = chosenTie(given, scope.layer, follow.id);
    const shot = withoutTie(given, old);
    const followers = old
      ? [needControl(given, (old.settings as FollowSettings).control)]
      : pickedBut(shot, scope, target.id, "Follow").filter(({ id }) => !s.also.includes(id));
    const player = makePlayer(given);
    // Where what a control's channels are told in is to stand in the target's frame.
    const offsetIn = (control: Control, of: string): number[] => {
      const out = new Float64Array(16);
      invertAffine(out, 0, ownMatrix(player, control, s.frame), 0);
      if (s.keep === "snap") return [...out];
      multiplyAffine(out, 0, player.worlds, worldAt(player.controlIndex.get(control.id) as number), out, 0);
      const target = new Float64Array(16);
      invertAffine(target, 0, player.worlds, worldAt(player.controlIndex.get(of) as number));
      multiplyAffine(out, 0, target, 0, out, 0);
      return [...out];
    };
    let after = shot;
    for (const control of followers) {
      const told = {
        control: control.id,
        target: target.id,
        position: s.what !== "turn",
        rotation: s.what !== "place",
        offset: offsetIn(control, target.id),
        own: true,
        ...(s.scale ? { scale: true } : {}),
        ...(s.also.length > 0 ? { more: s.also.map((id) => ({ target: id, offset: offsetIn(control, id) })) } : {}),
      };
      const id = old?.id ?? freshTie(after, `follow-${control.id}`);
      after = putTie(after, old, makeFollow(id, told, constantCurve(1, shot.range.start), `${control.name} follows ${target.name}`));
    }
    return outcome(given, after, `Tied ${listed(followers.map(({ name }) => name))} to ${target.name}`);
  },
};
