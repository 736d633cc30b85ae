import { z } from "zod";
import { refuseCircles } from "../../constraints/graph.ts";
import { Tangent } from "../../curve/curve.ts";
import { curveFrom } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { movesWith } from "../../evaluate/rideAlong.ts";
import { controlById, isScenery } from "../../model/rig.ts";
import { type Pass, type Shot, withPass } from "../../model/shot.ts";
import { keyFrames, STEPPING_RIDES, type SteppingSettings, steppingPass } from "../../passes/stepping.ts";
import { freshPass, membersOf } from "../passes/computedPass.ts";
import type { Operation } from "../operation.ts";
import { outcome, scopeRange } from "../shared/scope.ts";

const settings = z.object({
  show: z
    .enum(["pattern", "control"])
    .default("pattern")
    .meta({ title: "Show", labels: { pattern: "On a pattern", control: "On a control's keys" } }),
  pattern: z
    .string()
    .max(400)
    .default("2")
    .meta({
      title: "Pattern",
      when: { show: "pattern" },
      help: 'How long each frame is held: "2" is twos, "2 2 3" twos and then a three.',
    }),
  control: z
    .string()
    .default("")
    .meta({
      title: "Control",
      widget: "control",
      when: { show: "control" },
      help: "The figure is seen on the frames at which this one has keys; where they are moved, it follows.",
    }),
  ride: z.boolean().default(false).meta({
    title: "Ride with the camera",
    help: "While a frame is held the figure keeps its place in the picture, so that it does not stutter against a moving camera.",
  }),
  root: z
    .string()
    .default("")
    .meta({ title: "Who rides", widget: "control", when: { ride: true }, help: "Usually the root." }),
  camera: z
    .string()
    .default("")
    .meta({ title: "On which camera", widget: "control", when: { ride: true }, help: "Usually the shot camera." }),
});

/** See the motion on twos, threes or chosen frames; the curves stay smooth. */
export const stepping: Operation<z.infer<typeof settings>> = {
  id: "stepping",
  title: "Stepping",
  group: "Timing",
  help: "Adds a pass that shows only every second, third … frame, over all of the shot or a range, for the figure or what is picked. No key is touched; switch it off and the motion is smooth again.",
  guide: {
    use: "Shows smooth motion on twos, threes or a pattern, as drawings would, with the curves below untouched.",
    watch: "Against a moving camera a held figure stutters; let it ride with the camera for those frames.",
  },
  words: "on twos threes fours ones hold frames stepped pattern camera root pass stop motion step choppy",
  suits: ["a loop"],
  leaves: ["layer"],
  settings,
  situation({ shot, scope }) {
    const pass = shot.passes.find(({ id, kind }) => id === scope.layer && kind === steppingPass.id);
    return pass ? presentStepping(shot, pass) : {};
  },
  async run(shot, scope, s) {
    const chosen = shot.passes.find((pass) => pass.id === scope.layer && pass.kind === steppingPass.id);
    const told: SteppingSettings = {
      pattern: s.show === "pattern" ? readPattern(s.pattern) : [2],
      frames: s.show === "control" ? framesOf(shot, s.control) : null,
      follows: s.show === "control" ? s.control : null,
      rides: s.ride ? rideOf(shot, s.root, s.camera) : null,
    };
    const riding = curveFrom([[scopeRange(shot, scope).start, 1]], Tangent.stepped);
    const curvesOf = (pass: Pass) => (s.ride ? { [STEPPING_RIDES]: pass.curves[STEPPING_RIDES] ?? riding } : {});
    const what =
      s.show === "pattern" ? `held ${told.pattern.join(" ")}` : `on the ${told.frames?.length} frames of ${nameOf(shot, s.control)}`;
    if (chosen) {
      const changed = withPass(shot, chosen.id, (pass) => ({ ...pass, settings: told, curves: curvesOf(pass) }));
      refuseCircles(changed);
      return outcome(shot, changed, `${chosen.name}: ${what}`);
    }
    const fresh = freshPass(shot, steppingPass, "Stepping");
    const pass: Pass = {
      ...fresh,
      members: membersOf(shot, scope),
      settings: told,
      range: scope.range && { ...scope.range, easeIn: 0, easeOut: 0 },
      curves: curvesOf(fresh),
    };
    const after = { ...shot, passes: [...shot.passes, pass] };
    refuseCircles(after);
    return outcome(shot, after, `${pass.name}: ${what}`);
  },
};

/** The settings with which the operation would make a stepping pass as it is. */
export function presentStepping(shot: Shot, pass: Pass): Partial<z.infer<typeof settings>> {
  const { pattern, frames, follows, rides } = pass.settings as Partial<SteppingSettings>;
  const same = (id: string) => {
    const times = keyFrames(shot, id);
    return frames?.length === times.length && times.every((time, i) => time === frames[i]);
  };
  const control = follows ?? (frames ? (shot.rig.controls.find(({ id }) => same(id))?.id ?? "") : "");
  return {
    show: frames ? "control" : "pattern",
    pattern: (pattern ?? [2]).join(" "),
    control,
    ride: rides !== undefined && rides !== null,
    root: rides?.control ?? "",
    camera: rides?.camera ?? "",
  };
}

function readPattern(text: string): number[] {
  const words = text.split(/[\s,;·]+/).filter(Boolean);
  const held = words.map(Number);
  const wrong = words.find((_, i) => !Number.isInteger(held[i]) || held[i] < 1 || held[i] > 1000);
  if (wrong !== undefined)
    throw new KneaderError(
      "bad-setting",
      `Stepping: "${wrong}" is not a number of frames from 1 to 1000.`,
      'Write a pattern such as "2" or "2 2 3".',
    );
  if (words.length === 0 || words.length > 64)
    throw new KneaderError(
      "bad-setting",
      `Stepping: a pattern has 1 to 64 numbers; there are ${words.length}.`,
      'Write one such as "2" or "2 2 3".',
    );
  return held;
}

function framesOf(shot: Shot, control: string): number[] {
  if (control === "")
    throw new KneaderError("bad-setting", "Stepping: no control is chosen to take the frames from.", "Choose one with keys.");
  const frames = keyFrames(shot, control);
  if (frames.length === 0)
    throw new KneaderError(
      "nothing-in-scope",
      `Stepping: ${nameOf(shot, control)} has no keys to take the frames from.`,
      "Choose one with keys.",
    );
  return frames;
}

function rideOf(shot: Shot, root: string, camera: string): { control: string; camera: string } {
  const { controls } = shot.rig;
  const lens = camera || controls.find(({ role }) => role === "camera")?.id;
  const rider = root || controls.find((control) => control.parent === null && !isScenery(control) && control.id !== lens)?.id;
  for (const [id, what] of [
    [lens, "camera"],
    [rider, "root"],
  ])
    if (!id || !controlById(shot.rig, id))
      throw new KneaderError(
        "not-found",
        `Stepping: the rig has no ${what}${id ? ` "${id}"` : ""} to ride along.`,
        "Choose a control for it.",
      );
  if (movesWith(shot, lens as string, rider as string))
    throw new KneaderError(
      "cycle",
      `Stepping: ${nameOf(shot, lens as string)} moves with ${nameOf(shot, rider as string)} and cannot carry it.`,
    );
  return { control: rider as string, camera: lens as string };
}

const nameOf = (shot: Shot, id: string) => controlById(shot.rig, id)?.name ?? id;
