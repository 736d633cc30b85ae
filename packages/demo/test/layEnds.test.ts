import { figureControls, makePlayer, noContext, operations, runOperation, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { Chance } from "../../core/test/help/chance.ts";
import { demoActions } from "../src/actions.ts";
import { demoShots } from "../src/index.ts";

/** Steps of every control from frame to frame: the largest between two frames. */
function largestStep(shot: Shot, from: number, to: number): { amount: number; control: string } {
  const player = makePlayer(shot);
  const controls = figureControls(shot.rig);
  let best = { amount: 0, control: "" };
  let last: number[][] | null = null;
  for (let frame = Math.max(from, shot.range.start); frame <= Math.min(to, shot.range.end); frame++) {
    player.pose(frame);
    const now = controls.map(({ id }) => {
      const at = (player.controlIndex.get(id) as number) * 16 + 12;
      return [player.worlds[at], player.worlds[at + 1], player.worlds[at + 2]];
    });
    for (const [n, place] of now.entries()) {
      const was = last?.[n];
      if (!was) continue;
      const amount = Math.hypot(...place.map((v, k) => v - was[k]));
      if (amount > best.amount) best = { amount, control: controls[n].id };
    }
    last = now;
  }
  return best;
}

/** An otter's size, of which a hundredth part is not much. */
const LITTLE = 0.01;

describe.each(["replace", "merge", "insert", "pass"] as const)("an action laid as %s, as it comes", (as) => {
  test("at any frame of any shot it pops nowhere at its ends, or says so before", async () => {
    const actions = await demoActions();
    const said: string[] = [];
    for (const [n, { make }] of demoShots.entries()) {
      const shot = await make();
      const chance = new Chance(17 + n);
      for (let round = 0; round < 3; round++) {
        const action = chance.of(actions.filter(({ clip }) => clip.length > 8));
        const at = Math.round(chance.between(shot.range.start + 2, shot.range.end - 4));
        const where = { shot, scope: WHOLE_FIGURE, frame: at, copiedPose: null, copiedKeys: null, poseShare: 0.5 };
        const settings = operations.layAction.settings.parse({
          action,
          as,
          carry: round % 2 === 0,
          ...operations.layAction.situation?.(where),
        });
        expect(settings).toMatchObject({ at, easeIn: 6, easeOut: 6 });
        const { shot: after, report } = await runOperation(operations.layAction, shot, WHOLE_FIGURE, settings, noContext);
        const end = at + action.clip.length;
        const ease = Math.ceil(Math.min(6, action.clip.length / 2));
        const around = Math.max(
          largestStep(shot, at - 8, end + 8).amount,
          largestStep(after, at + (at > shot.range.start ? ease : 0), end - (end < shot.range.end ? ease : 0)).amount,
        );
        const worst = Math.max(
          largestStep(after, at - 1, at + 1).amount,
          end < after.range.end ? largestStep(after, end - 1, end + 1).amount : 0,
        );
        const warned = report.warnings.some((one) => /^It pops at frame \d+:/.test(one));
        if (warned) said.push(`${action.card.name} in ${shot.name} at ${at}`);
        else if (worst > LITTLE) expect(worst).toBeLessThan(1.5 * around + 1e-9);
        // The card tells the step either way, before anything is done.
        expect([...report.warnings, ...report.notes].some((one) => /in one frame|Largest step/.test(one))).toBe(true);
        // What was there outside its span is as it was: at whole frames, wherever nothing is moved.
        if (as === "replace" || as === "pass") {
          const [a, b] = [makePlayer(shot), makePlayer(after)];
          for (const frame of [shot.range.start, at - 2, end + 2].filter((f) => f >= shot.range.start && f <= shot.range.end)) {
            a.pose(frame);
            b.pose(frame);
            for (const { id } of figureControls(shot.rig)) {
              const [i, k] = [a, b].map(({ controlIndex }) => (controlIndex.get(id) as number) * 16 + 12);
              for (let c = 0; c < 3; c++) expect(Math.abs(a.worlds[i + c] - b.worlds[k + c])).toBeLessThan(1e-6);
            }
          }
        }
      }
    }
    // Most of them come in softly; only what must go far in few frames, or keeps keys inside, is told.
    expect(said.length).toBeLessThan(as === "merge" ? 16 : 8);
  }, 60_000);
});
