import { z } from "zod";
import { makeKey, Tangent } from "../../curve/curve.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { type FrameRange, type Pass, withPass } from "../../model/shot.ts";
import { WARP_FRAME, warpPass } from "../../passes/warp.ts";
import { freshPass, membersOf } from "../passes/computedPass.ts";
import type { Operation } from "../operation.ts";
import { outcome, scopeRange } from "../shared/scope.ts";

const ease = (title: string) =>
  z
    .number()
    .min(-100)
    .max(100)
    .default(0)
    .meta({ title, unit: "percent", max: 100, step: 5, help: "100 % from rest, 0 as it was, −100 % twice as quick." });

const settings = z.object({
  easeIn: ease("Slow at the start"),
  easeOut: ease("Slow at the end"),
});

/** Change when things happen without touching a key: a pass whose curve says which frame plays. */
export const timeWarp: Operation<z.infer<typeof settings>> = {
  id: "time-warp",
  title: "Time-warp",
  group: "Timing",
  help: "Adds a pass whose curve says which frame of the motion below plays at each frame, pinned at the ends of the range. Shape it in the curve tray; Bake passes turns it into keys.",
  guide: {
    use: "Retimes without touching a key: one curve says which frame plays when. Shape it like any curve, switch it off any time.",
    watch: "The ends are pinned. Bake passes makes keys of it once it is right.",
  },
  words: "retime speed slow ease curve pass frames original ramp motion slowmo",
  leaves: ["layer"],
  settings,
  async run(shot, scope, { easeIn, easeOut }) {
    const chosen = shot.passes.find((pass) => pass.id === scope.layer && pass.kind === warpPass.id);
    const now = chosen?.curves[WARP_FRAME];
    const range = now ? { start: now.times[0], end: now.times[now.times.length - 1] } : scopeRange(shot, scope);
    if (range.end - range.start < 2)
      throw new KneaderError(
        "bad-setting",
        `Time-warp: frames ${range.start} to ${range.end} leave nothing to warp.`,
        "Choose a longer range.",
      );
    const curves = { [WARP_FRAME]: easedWarp(range, easeIn / 100, easeOut / 100) };
    const where = `frames ${range.start} to ${range.end}`;
    if (chosen)
      return outcome(
        shot,
        withPass(shot, chosen.id, (pass) => ({ ...pass, curves })),
        `${chosen.name} over ${where} anew`,
      );
    const pass: Pass = { ...freshPass(shot, warpPass, "Warp"), members: membersOf(shot, scope), curves };
    return outcome(shot, { ...shot, passes: [...shot.passes, pass] }, `${pass.name} over ${where}`);
  },
};

/** Two keys pinned at the ends of a range; time starts and stops slower by as much as is asked. */
function easedWarp({ start, end }: FrameRange, easeIn: number, easeOut: number) {
  const first = { ...makeKey(start, start, Tangent.free), slopeIn: 1, slopeOut: 1 - easeIn };
  const last = { ...makeKey(end, end, Tangent.free), slopeIn: 1 - easeOut, slopeOut: 1 };
  return curveFromKeys([first, last]);
}
