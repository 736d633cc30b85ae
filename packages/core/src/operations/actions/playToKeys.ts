import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { bakeRounds } from "../../curve/loop.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { type Pass, withPass } from "../../model/shot.ts";
import { passMembers } from "../../passes/members.ts";
import { playedCurves, playOf, playPass } from "../../passes/play.ts";
import { withoutUnplayed } from "../../passes/rows.ts";
import { countedWord } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { playedPass } from "./playedPass.ts";

const settings = z.object({
  rounds: z
    .enum(["kept", "keys"])
    .default("kept")
    .meta({ title: "Its rounds", labels: { kept: "Go on after its keys, as a run-out", keys: "Get keys of their own" } }),
});

/** Turn what a pass plays into keys of that pass. */
export const playToKeys: Operation<z.infer<typeof settings>> = {
  id: "play-to-keys",
  title: "Turn action into keys",
  group: "Actions",
  help: "The chosen pass gets the keys of the action it plays, as it plays them; its range, weight and place in the stack stay. Nothing looks different.",
  guide: {
    use: "When an action should be worked on where it is, apart from all its other uses.",
    watch: "It is no longer one thing: it cannot be trimmed or sped up as a band. Bake passes takes the keys on into base motion.",
  },
  words: "bake flatten unpack convert freeze played band",
  needs: ["a played action"],
  leaves: ["controls", "range"],
  stacks: true,
  saysRounds: true,
  settings,
  async run(shot, scope, s) {
    const { pass, action } = playedPass(shot, scope.layer, "Turn action into keys");
    const told = playOf(pass);
    const members = new Set(passMembers(shot, pass));
    const curves: Record<ChannelKey, Curve> = {};
    for (const [key, curve] of Object.entries(playedCurves(action.clip, shot.rig, shot.rate, told)))
      if (members.has(key)) curves[key] = s.rounds === "keys" ? bakeRounds(curve, "out", told.rounds - 1) : curve;
    const keyed: Pass = { ...pass, kind: playPass.joins(pass), settings: {}, members: null, curves };
    const after = withoutUnplayed(withPass(shot, pass.id, () => keyed));
    const count = Object.values(curves).reduce((sum, { times }) => sum + times.length, 0);
    return outcome(
      shot,
      after,
      `Turned "${pass.name}" into ${countedWord(count, "key")} on ${countedWord(Object.keys(curves).length, "curve")}`,
    );
  },
};
