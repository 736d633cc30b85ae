import { measureDrift } from "../../src/evaluate/drift.ts";
import { countKeys } from "../../src/model/shot.ts";
import { cleanCapture } from "../../src/operations/performance/cleanCapture.ts";
import { limbEnds } from "../../src/figure/limbEnds.ts";
import { Chance } from "../help/chance.ts";
import { captureShot } from "../help/capture.ts";
import { run } from "../help/run.ts";

/** A part of the open capture, with jitter, single wrong frames, and angles that jump by whole turns. */
function damaged() {
  const whole = captureShot();
  const shot = { ...whole, range: { start: 1, end: 240 } };
  const chance = new Chance(9);
  const base = Object.fromEntries(
    Object.entries(shot.base).map(([key, curve]) => {
      const values = curve.values.slice(0, 240);
      if (key.includes(".rotate")) {
        for (let n = 0; n < values.length; n++) values[n] += chance.between(-0.3, 0.3);
        for (let hits = 0; hits < 2; hits++) values[20 + chance.below(200)] += 25;
      }
      const part = (column: Float64Array) => column.slice(0, 240);
      return [
        key,
        {
          ...curve,
          times: part(curve.times),
          values,
          slopeIn: part(curve.slopeIn),
          slopeOut: part(curve.slopeOut),
          weightIn: part(curve.weightIn),
          weightOut: part(curve.weightOut),
          kindIn: curve.kindIn.slice(0, 240),
          kindOut: curve.kindOut.slice(0, 240),
        },
      ];
    }),
  );
  return { whole: { ...shot }, shot: { ...shot, base } };
}

describe("a capture is cleaned", () => {
  it("step by step: each says what it costs; the whole is nearer to what was damaged, with a tenth of the keys", async () => {
    const { whole, shot } = damaged();
    const { shot: after, report } = await run(cleanCapture, shot, { feet: false });
    expect(report.notes.map((note) => note.slice(0, note.indexOf(":")))).toEqual(["Untwist", "Despike", "Filter", "Simplify"]);
    expect(report.notes.join()).toMatch(/Despike: mended \d+ spikes.*at most \d+\.\d+°/);
    expect(countKeys(after.base)).toBeLessThan(countKeys(shot.base) / 5);
    const range = { start: 5, end: 235 };
    const [before, now] = [measureDrift(whole, shot, range), measureDrift(whole, after, range)];
    expect(now.turn.amount).toBeLessThan(before.turn.amount / 2);
  });

  it("feet are planted where they stand; steps that are off are left out; a step without work is said", async () => {
    const { shot } = damaged();
    const { shot: planted, report } = await run(cleanCapture, shot, { despike: false, filter: false, simplify: false });
    expect(limbEnds(shot.rig, "feet").length).toBeGreaterThan(0);
    expect(planted.constraints.length).toBeGreaterThan(shot.constraints.length);
    expect(report.summary).toBe("Cleaned: untwist, ground the feet");
    const still = { ...shot, base: Object.fromEntries(Object.entries(shot.base).filter(([key]) => key.includes(".move"))) };
    const { report: none } = await run(cleanCapture, still, { feet: false, filter: false, simplify: false });
    expect(none.notes).toContain("Untwist: nothing to do.");
  });
});
