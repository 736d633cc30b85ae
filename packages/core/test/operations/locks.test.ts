import { constantCurve } from "../../src/curve/make.ts";
import { readKneader, writeKneader } from "../../src/formats/kneaderJson.ts";
import { encodeText } from "../../src/formats/utf8.ts";
import { layerCurves } from "../../src/model/shot.ts";
import { bakePasses } from "../../src/operations/passes/bakePasses.ts";
import { catalogue, checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { poseField } from "../../src/operations/passes/poseField.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { noContext, type Outcome, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { movingShot, passOf } from "../help/shots.ts";

const locked = ["spine.rotateX", "hand-left.rotateX"];
const shot = movingShot({ locked, passes: [passOf("adds", { "spine.rotateX": constantCurve(4) }, { id: "p" })] });
const run = (id: string, given: Record<string, unknown> = {}, scope = WHOLE_FIGURE): Promise<Outcome> =>
  runOperation(operationById(id), shot, scope, checkSettings(operationById(id), given), noContext);

/** A field of some of the shot's poses. */
const proposedField = () =>
  poseField.situation?.({ shot, scope: WHOLE_FIGURE, frame: 1, copiedPose: null, copiedKeys: null, poseShare: 0.2 }) as object;

describe("locked channels", () => {
  test.each(catalogue.filter(({ id }) => id !== "apply-action").map(({ id }) => id))("%s never changes them", async (id) => {
    const needed: Record<string, object> = {
      "paste-keys": { keys: liftKeys(shot, WHOLE_FIGURE) },
      "remove-poses": { frames: [13] },
      "pose-field": proposedField(),
    };
    const outcome = await run(id, { ...needed[id] }).catch(() => null);
    if (outcome === null) return;
    for (const key of locked) {
      expect(outcome.shot.base[key]).toBe(shot.base[key]);
      expect(layerCurves(outcome.shot, "p")[key]).toBe(shot.passes[0].curves[key]);
    }
  });

  test("what is left alone is said", async () => {
    const { report, shot: after } = await run("shift-values", { rotation: 5 });
    expect(after.base["root.rotateY"]).not.toBe(shot.base["root.rotateY"]);
    expect(report.warnings).toContain("spine rotate X and 1 more are locked and left alone.");
  });

  test("a scope that is locked as a whole is refused, and so is what cannot leave them alone", async () => {
    await expect(run("simplify", {}, { ...WHOLE_FIGURE, controls: ["spine"] })).rejects.toThrow("Simplify: spine rotate X is locked.");
    const merged = runOperation(bakePasses, shot, WHOLE_FIGURE, bakePasses.settings.parse({}), noContext);
    await expect(merged).rejects.toThrow(/Bake passes: spine rotate X is locked, and a pass changes it/);
  });

  test("are still part of poses that are saved, and keep their timing when the figure is retimed", async () => {
    const { action } = await run("save-action", { name: "All of it" });
    expect(Object.keys(action?.clip.curves ?? {})).toEqual(expect.arrayContaining(locked));
    const { shot: after } = await run("set-gap", { from: 1, to: 13, gap: 20 });
    expect([...after.base["root.rotateY"].times]).not.toEqual([...shot.base["root.rotateY"].times]);
    expect(after.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
  });

  test("are not keyed", () => {
    const keyed = keyChannels(shot, "base", 9, { "spine.rotateX": 1, "root.rotateY": 2 });
    expect(keyed.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
    expect(keyed.base["root.rotateY"]).not.toBe(shot.base["root.rotateY"]);
  });

  test("and sets of channels are kept in the shot's file; files without them open", () => {
    const sets = [{ name: "Arms", channels: ["arm-left.rotateZ", "arm-right.rotateZ"] }];
    const { shot: again } = readKneader({ bytes: writeKneader({ ...shot, sets }).bytes, name: "shot" });
    expect(again).toMatchObject({ locked, sets });
    const { locked: _, sets: __, ...older } = JSON.parse(new TextDecoder().decode(writeKneader(shot).bytes)).shot;
    const read = readKneader({ bytes: encodeText(JSON.stringify({ format: "kneader-shot", version: 1, shot: older })), name: "shot" });
    expect(read.shot).toMatchObject({ locked: [], sets: [] });
  });
});
