import { z } from "zod";
import { bakeRounds } from "../../curve/loop.ts";
import { KneaderError } from "../../errors.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { changeCurves, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  side: z
    .enum(["out", "in"])
    .default("out")
    .meta({ title: "Where", labels: { out: "After the last key", in: "Before the first key" } }),
  rounds: z
    .number()
    .int()
    .min(0)
    .max(1000)
    .default(0)
    .meta({ title: "Extra rounds", zero: "as many as there are", max: 20, step: 1, help: "How many become keys." }),
});

/** Turn repeated rounds into keys. */
export const bakeLoop: Operation<z.infer<typeof settings>> = {
  id: "bake-loop",
  title: "Bake the rounds",
  group: "Cycles",
  help: "Turns the rounds of repeating curves into keys that can be edited one by one.",
  guide: {
    use: "Makes keys of repeated rounds, when one round must differ from the others.",
    watch: "From then on a change is made once per round. Until then one change goes through all.",
  },
  words: "loop cycle keys rounds repeat",
  suits: ["a loop"],
  leaves: ["range"],
  saysRounds: true,
  settings,
  async run(shot, scope, s, context) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Bake the rounds");
    const curves = layerCurves(shot, scope.layer);
    const looping = channels.filter((key) => {
      const run = s.side === "out" ? curves[key].runOut : curves[key].runIn;
      return run.kind !== "hold" && run.kind !== "straight" && curves[key].times.length > 1;
    });
    if (looping.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        `Bake the rounds: no curve in scope repeats ${s.side === "out" ? "after its last key" : "before its first key"}.`,
        'Let curves repeat first, with "Run-in and run-out".',
      );
    if (s.rounds === 0 && looping.some((key) => (s.side === "out" ? curves[key].runOut : curves[key].runIn).rounds === 0))
      throw new KneaderError("bad-setting", "Some curves repeat for ever.", "Say how many rounds to bake.");
    let end = shot.range.end;
    const changed = Object.fromEntries(
      looping.map((key) => {
        const run = s.side === "out" ? curves[key].runOut : curves[key].runIn;
        const curve = bakeRounds(curves[key], s.side, s.rounds || run.rounds);
        end = Math.max(end, Math.ceil(curve.times[curve.times.length - 1]));
        return [key, curve];
      }),
    );
    const after = { ...changeCurves(shot, scope.layer, changed), range: { start: shot.range.start, end } };
    const drift = await measureDriftInPieces(shot, after, after.range, (share) => context.breathe(0.9 + 0.1 * share));
    return outcome(shot, after, `Baked the rounds of ${countedWord(looping.length, "curve")}`, { drift });
  },
};
