import { z } from "zod";
import { chosenTie, putTie, withoutTie } from "../../constraints/chosenTie.ts";
import { aim, type AimSettings, aimAxes } from "../../constraints/aim.ts";
import { freshTie } from "../../constraints/freshTie.ts";
import { turnIn } from "../../constraints/limbOf.ts";
import { constantCurve } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { worldAt } from "../../figure/rigLayout.ts";
import { turnFromAffine } from "../../maths/decompose.ts";
import { quatMultiply } from "../../maths/rotation.ts";
import { channelKey, type Control } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { readPlace } from "./readPlace.ts";
import { controlSetting, needControl, pickedBut, targetPicked } from "./spaceSetting.ts";

const axisLabels = { x: "X", y: "Y", z: "Z", "-x": "−X", "-y": "−Y", "-z": "−Z" };

const settings = z.object({
  target: controlSetting("Points at", "What it points at; of several picked controls the last. None: the place written below.", {
    empty: "the place below",
  }),
  point: z
    .string()
    .max(120)
    .default("0 0 0")
    .meta({ title: "Or at the place", help: "X Y Z in the world, with blanks between; used where no control is chosen." }),
  axis: z.enum(aimAxes).default("z").meta({ title: "With its axis", labels: axisLabels }),
  keep: z
    .enum(["offset", "snap"])
    .default("offset")
    .meta({
      title: "From where",
      labels: { offset: "As it is turned now", snap: "Its axis right on the target" },
      help: "At the frame of the playhead: kept, nothing turns there, and it goes along from then on.",
    }),
  up: z
    .enum(["carried", "world", "control"])
    .default("carried")
    .meta({
      title: "Rolls",
      labels: { carried: "As it is carried", world: "Kept up in the world", control: "Kept toward a control" },
    }),
  upAxis: z.enum(aimAxes).default("y").meta({ title: "Axis kept up", labels: axisLabels }),
  upOf: controlSetting("Kept toward", "The control toward which that axis is kept.", { when: { up: "control" } }),
  frame: z.number().min(-1e6).max(1e6).default(1).meta({ title: "As at frame", unit: "frame", step: 1 }),
});

/** The settings with which an aim would be made as it is. */
function present({ target, point, axis, up, upAxis, upOf }: AimSettings): Partial<z.infer<typeof settings>> {
  return { target: target ?? "", point: point.join(" "), axis, up, upAxis, upOf: upOf ?? "" };
}

/** Let controls point at another. */
export const aimAt: Operation<z.infer<typeof settings>> = {
  id: "aim",
  title: "Aim",
  group: "Spaces",
  help: "The picked controls point at another one or at a place; their own turn goes on top. How strongly is keyed in the tie tray.",
  guide: {
    use: "A head or eyes stay on the lantern; a lamp on a boat.",
    watch: "Where the target passes right over the control its roll can whip round: keep an axis toward something then.",
  },
  words: "look at point track eyes head constraint gaze watch face orient",
  suits: ["picked controls"],
  leaves: ["layer", "range"],
  needs: ["picked controls"],
  settings,
  situation(at) {
    const old = chosenTie(at.shot, at.scope.layer, aim.id);
    return { frame: at.frame, target: targetPicked(at) ?? "", ...(old ? present(old.settings as AimSettings) : {}) };
  },
  async run(given, scope, s) {
    // With the row of an aim chosen that one is told anew.
    const old = chosenTie(given, scope.layer, aim.id);
    const shot = withoutTie(given, old);
    if (s.up !== "carried" && s.axis.at(-1) === s.upAxis.at(-1))
      throw new KneaderError("bad-setting", "Aim: the axis that is kept up must be square to the one that points.", "Choose another axis.");
    const target = s.target === "" ? null : needControl(shot, s.target);
    const point = target ? [0, 0, 0] : readPlace("Aim", s.point);
    const upOf = s.up === "control" ? needControl(shot, s.upOf).id : null;
    const aiming = old
      ? [needControl(given, (old.settings as AimSettings).control)]
      : pickedBut(shot, scope, target?.id ?? "", "Aim").filter(({ id }) => id !== upOf);
    let after = shot;
    for (const control of aiming) {
      const { axis, up, upAxis } = s;
      const told: AimSettings = { control: control.id, target: target?.id ?? null, point, axis, up, upAxis, upOf, offset: [0, 0, 0, 1] };
      const id = old?.id ?? freshTie(after, `aim-${control.id}`);
      const made = {
        id,
        name: `${control.name} aims at ${target?.name ?? "a place"}`,
        kind: aim.id,
        on: true,
        settings: told,
        curves: { [channelKey(id, "strength")]: constantCurve(1, shot.range.start) },
      };
      const snapped = putTie(after, old, made);
      after =
        s.keep === "snap"
          ? snapped
          : putTie(after, old, { ...made, settings: { ...told, offset: offsetOf(old ? given : after, snapped, control, s.frame) } });
    }
    return outcome(given, after, `Aimed ${listed(aiming.map(({ name }) => name))} at ${target?.name ?? "a place"}`);
  },
};

/** The turn between the aimed frame and the control's own with which it stays as it is: (G·o⁻¹)⁻¹·(W·o⁻¹), o its own turn. */
function offsetOf(before: Shot, snapped: Shot, control: Control, frame: number): number[] {
  const turnOf = (shot: Shot): Float64Array => {
    const player = makePlayer(shot);
    player.pose(frame);
    const i = player.controlIndex.get(control.id) as number;
    const own = player.turns.slice(4 * i, 4 * i + 4);
    const out = new Float64Array(4);
    turnFromAffine(out, 0, player.worlds, worldAt(i));
    quatMultiply(out, 0, out, 0, [-own[0], -own[1], -own[2], own[3]], 0);
    return out;
  };
  return turnIn(turnOf(snapped), turnOf(before));
}
