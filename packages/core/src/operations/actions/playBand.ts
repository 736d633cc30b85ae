import { z } from "zod";
import { withPass } from "../../model/shot.ts";
import { playOf, playPass, playSettings } from "../../passes/play.ts";
import { crossed, withSpan } from "../../passes/rows.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { playedPass } from "./playedPass.ts";

const { start, from, to, speed, rounds, travels, joins } = playSettings.shape;
const settings = z.object({
  start,
  from,
  to,
  speed,
  rounds,
  travels,
  joins,
  easeIn: z.number().min(0).default(0).meta({ title: "Comes in over", unit: "frames", max: 24, step: 1 }),
  easeOut: z.number().min(0).default(0).meta({ title: "Goes out over", unit: "frames", max: 24, step: 1 }),
});
type Settings = z.infer<typeof settings>;

/** Tell a pass anew how it plays its action. */
export const playBand: Operation<Settings> = {
  id: "play-band",
  title: "How it plays",
  group: "Actions",
  help: "Where, how fast, how often and from which to which of its frames the chosen pass plays its action, all in numbers.",
  guide: {
    use: "The numbers behind the band: start, trim, speed, times, ease. The band itself is dragged in the pass tray.",
    watch: "Trimmed frames are still there. What is below shows again where the band ends.",
  },
  words: "band trim speed repeat start played clip retime slower faster",
  needs: ["a played action"],
  leaves: ["controls", "range"],
  stacks: true,
  settings,
  situation({ shot, scope }) {
    const pass = shot.passes.find(({ id, kind }) => id === scope.layer && kind === playPass.id);
    if (!pass) return {};
    const told = playOf(pass);
    const { easeIn = 0, easeOut = 0 } = pass.range ?? {};
    return {
      start: told.start,
      from: told.from,
      to: told.to,
      speed: told.speed,
      rounds: told.rounds,
      travels: told.travels,
      joins: told.joins,
      easeIn,
      easeOut,
    };
  },
  async run(shot, scope, { easeIn, easeOut, ...told }) {
    const { pass, action } = playedPass(shot, scope.layer, "How it plays");
    const within = { ...told, to: Math.min(told.to, action.clip.length) };
    const after = withPass(shot, pass.id, (one) =>
      withSpan(shot, playPass.checked({ ...one, settings: { ...one.settings, ...within }, range: { start: 0, end: 0, easeIn, easeOut } })),
    );
    const range = after.passes.find(({ id }) => id === pass.id)?.range;
    return outcome(
      shot,
      crossed(shot, after, pass.id),
      `Told "${pass.name}" to play over frames ${round(range?.start)} to ${round(range?.end)}`,
      {
        notes: told.to > action.clip.length ? [`"${action.card.name}" has ${action.clip.length} frames; it plays to its last.`] : [],
      },
    );
  },
};

const round = (frame = 0) => Math.round(frame * 100) / 100;
