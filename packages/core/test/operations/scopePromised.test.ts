import * as fc from "fast-check";
import { type Curve, HOLD, keysOf } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { repeats } from "../../src/curve/runOn.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { isScenery, splitChannelKey } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, operations } from "../../src/operations/catalogue.ts";
import { EVERYTHING, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { keysBeyond } from "../../src/operations/shared/keysBeyond.ts";
import { runByHand } from "../../src/operations/runOperation.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { waitingOnBoard } from "../../../demo/src/shots/waitingOnBoard.ts";
import { run, runs, unlessRefused } from "../help/promises.ts";
import { anyLoop } from "../help/random.ts";
import { countedWord, willBe } from "../../src/words.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

/*
 * One line says who, which curves, which frames an operation will touch: here is that it touches nothing else.
 */

/** Settings with which what takes long is soon done. */
const soon: Readonly<Record<string, object>> = { tune: { steps: 2 } };

const sceneryOf = (shot: Shot) => new Set(shot.rig.controls.filter(isScenery).map(({ id }) => id));

describe("the whole figure is the character with what it carries", () => {
  test.each(catalogue.map(({ id, title }) => [title, id]))("%s leaves set and camera as they are", async (_title, id) => {
    for (const make of [hopAboard, waitingOnBoard]) {
      const shot = await make();
      const scenery = sceneryOf(shot);
      const after = await unlessRefused(() => run(id, shot, soon[id]));
      if (!after) continue;
      for (const key in shot.base) if (scenery.has(splitChannelKey(key).control)) expect(after.base[key]).toBe(shot.base[key]);
      for (const [i, { id: control, rest }] of shot.rig.controls.entries())
        if (scenery.has(control)) expect(after.rig.controls[i].rest).toEqual(rest);
    }
  });

  test("everything in the shot takes them along: retimed, the ferry and the camera move when the otter does", async () => {
    const shot = await hopAboard();
    const { shot: figure } = await run("scale-time", shot, { factor: 200 });
    const { shot: all } = await run("scale-time", shot, { factor: 200 }, EVERYTHING);
    const moving = Object.keys(shot.base).filter(
      (key) => sceneryOf(shot).has(splitChannelKey(key).control) && shot.base[key].times.length > 1,
    );
    expect(moving.length).toBeGreaterThan(0);
    for (const key of moving) {
      expect([...figure.base[key].times]).toEqual([...shot.base[key].times]);
      expect([...all.base[key].times]).toEqual([...shot.base[key].times].map((time) => 1 + 2 * (time - 1)));
    }
    expect(all.base["chest.rotateX"].times).toEqual(figure.base["chest.rotateX"].times);
  });

  test("of a rig that is nothing but scenery, all of it is meant", async () => {
    const shot = movingShot();
    const bare = { ...shot, rig: { ...shot.rig, controls: shot.rig.controls.map((control) => ({ ...control, role: "set" as const })) } };
    const { shot: after } = await run("shift-values", bare, { rotation: 5 });
    expect(after.base["spine.rotateX"].values[0]).toBe(10);
  });
});

describe("a marked range", () => {
  const range = { start: 20, end: 34 };
  /** What is to change outside, as its help says: it adds rounds or a half, keys the frames beside it, joins the range to them, or moves what is later. */
  const reachesOut = new Set(["run-on", "match-ends", "close-cycle", "scale-time", "mirror-range", "other-half"]);
  const bounded = catalogue.filter(({ id, leaves = [] }) => !leaves.includes("range") && !reachesOut.has(id));
  test.each(bounded.map(({ id, title }) => [title, id]))("%s moves no key outside it", async (_title, id) => {
    const shot = movingShot();
    const after = await unlessRefused(() => run(id, shot, soon[id], { range }));
    if (!after) return;
    const outside = (curve: Curve) => keysOf(curve).filter(({ time }) => time < range.start || time > range.end);
    for (const key in shot.base)
      expect(outside(after.base[key]).map(({ time, value }) => [time, value])).toEqual(
        outside(shot.base[key]).map(({ time, value }) => [time, value]),
      );
  });

  test("scaled in time, what is before stays, what is later keeps its own time and shifts along", async () => {
    const shot = movingShot();
    const { shot: after } = await run("scale-time", shot, { factor: 200 }, { range: { start: 13, end: 25 } });
    expect([...after.base["spine.rotateX"].times]).toEqual([1, 13, 37, 61]);
    expect(after.range.end).toBe(61);
  });

  test("a typed value changes nothing outside it, in base motion and in passes, at any time", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("base", "adds", "replaces"),
        fc.integer({ min: 21, max: 33 }),
        fc.double({ min: -90, max: 90, noNaN: true }),
        (layer, frame, value) => {
          const shot = movingShot({ passes: [passOf("adds", {}, { id: "adds" }), passOf("replaces", {}, { id: "replaces" })] });
          const settings = { frame, values: { "spine.rotateX": value } };
          const { shot: after } = runByHand(operations.keyValues, shot, { ...WHOLE_FIGURE, layer, range }, settings);
          const [was, is] = [makePlayer(shot), makePlayer(after)];
          for (let at = 1; at <= 49; at += 0.43) {
            if (at > 20 && at < 34) continue;
            was.readValues(at);
            is.readValues(at);
            was.values.forEach((one, i) => {
              if (Math.abs(is.values[i] - one) > 1e-9) throw new Error(`channel ${i} at ${at}`);
            });
          }
        },
      ),
      { numRuns: 60, seed: 4 },
    );
  });
});

describe("a key in a round", () => {
  const KEY = "spine.rotateX";
  const played = (curve: Curve, time: number) => sampleCurve(curve, time);

  test("goes to the real key it repeats: what is played there is what was typed, and the cycle stays one", () => {
    fc.assert(
      fc.property(anyLoop, fc.integer({ min: -80, max: 160 }), fc.double({ min: -50, max: 50, noNaN: true }), (curve, frame, value) => {
        const { times, runIn, runOut } = curve;
        const [first, last] = [times[0], times[times.length - 1]];
        const run = frame < first ? runIn : runOut;
        const away = Math.max(first - frame, frame - last);
        const isRound = away > 0 && repeats(run) && (run.rounds === 0 || away <= run.rounds * (last - first));
        if (!isRound) return;
        const after = keyChannels(smallShot({ [KEY]: curve }), "base", frame, { [KEY]: value }).base[KEY];
        expect([after.runIn, after.runOut]).toEqual([runIn, runOut]);
        expect([after.times[0], after.times[after.times.length - 1]]).toEqual([first, last]);
        expect(after.times.length).toBeLessThanOrEqual(times.length + 1);
        // On the seam of a travelling cycle the end of a round is keyed, and that end says how far every round goes.
        const onSeam = away % (last - first) === 0;
        if (!onSeam) expect(played(after, frame)).toBeCloseTo(value, 6);
      }),
      runs,
    );
    const walk = {
      ...curveFrom([
        [1, 0],
        [7, 20],
        [13, 0],
      ]),
      runOut: { kind: "repeat" as const, rounds: 0 },
    };
    const shot = smallShot({ [KEY]: walk });
    const { shot: after, report } = runByHand(operations.keyValues, shot, WHOLE_FIGURE, { frame: 31, values: { [KEY]: 25 } });
    expect([...after.base[KEY].times]).toEqual([1, 7, 13]);
    expect(after.base[KEY].values[1]).toBe(25);
    expect(played(after.base[KEY], 31)).toBe(25);
    expect(played(after.base[KEY], 19)).toBe(25);
    expect(report.notes).toEqual(["Frame 31 repeats frame 7: the key goes there, and every round follows."]);
  });

  test("of a travelling cycle the way of the rounds is taken off", () => {
    const travel = {
      ...curveFrom([
        [1, 0],
        [7, 1],
        [13, 2],
      ]),
      runIn: HOLD,
      runOut: { kind: "travel" as const, rounds: 3 },
    };
    const after = keyChannels(smallShot({ [KEY]: travel }), "base", 31, { [KEY]: 6 }).base[KEY];
    expect(after.values[1]).toBeCloseTo(2, 12);
    expect(played(after, 31)).toBeCloseTo(6, 12);
  });
});

describe("a replacing pass", () => {
  const scope: Scope = { ...WHOLE_FIGURE, layer: "over" };
  const settings = { frame: 20, values: { "spine.rotateX": 60 } };

  test("begins as the result below plays, at every time, and only the key differs", () => {
    const lean = passOf(
      "adds",
      {
        "spine.rotateX": curveFrom([
          [1, 3],
          [30, 12],
        ]),
      },
      { id: "lean" },
    );
    const shot = movingShot({ passes: [lean, passOf("replaces", {}, { id: "over", name: "Over" })] });
    const { shot: after, report } = runByHand(operations.keyValues, shot, scope, settings);
    const [a, b] = [makePlayer(shot), makePlayer(after)];
    const at = a.channelIndex.get("spine.rotateX") as number;
    for (const frame of [1, 13, 25, 30, 49]) {
      a.readValues(frame);
      b.readValues(frame);
      expect(b.values[at]).toBeCloseTo(a.values[at], 9);
    }
    b.readValues(20);
    expect(b.values[at]).toBeCloseTo(60, 9);
    expect(report.notes).toEqual(['"Over" has taken 1 channel as it plays now, and hides what is below it.']);
  });
});

describe("keys beyond the shot's range", () => {
  test("are counted once they are put there, with the range that would hold them", async () => {
    const shot = movingShot();
    const { shot: after } = await run("shift-values", shot, { rotation: 5 });
    expect(keysBeyond(shot, after)).toBeNull();
    const late = keyChannels(shot, "base", 60, { "spine.rotateX": 4, "arm-left.rotateZ": 2 });
    expect(keysBeyond(shot, late)).toEqual({ keys: 2, who: "spine, arm left", start: 1, end: 60 });
    const again = keyChannels(late, "base", 70, { "spine.rotateX": 4 });
    expect(keysBeyond(late, again)).toMatchObject({ keys: 1, who: "spine", end: 70 });
    expect(keysBeyond(shot, { ...shot, range: { start: 1, end: 40 } })).toMatchObject({ end: 49 });
  });
});

describe("words", () => {
  test("counts have their right plural, and a card speaks of what will be", () => {
    expect([countedWord(0, "key"), countedWord(1, "key"), countedWord(2, "key")]).toEqual(["0 keys", "1 key", "2 keys"]);
    expect(willBe("Reversed frames 1 to 46 of 3 curves")).toBe("Will reverse frames 1 to 46 of 3 curves");
    expect(willBe("Cleaned: untwist, filter")).toBe("Will clean: untwist, filter");
    expect(willBe("Gaps 5 5 → 6 4")).toBe("Gaps 5 5 → 6 4");
  });

  test.each(catalogue.map(({ id, title }) => [title, id]))(
    "%s reports without a wrong plural and in words that can be said before",
    async (_title, id) => {
      const one = smallShot({
        "spine.rotateX": curveFrom([
          [1, 0],
          [25, 40],
          [49, 0],
        ]),
      });
      for (const shot of [one, await hopAboard()]) {
        const scope = shot === one ? { controls: ["spine"] } : {};
        const found = await (async () => run(id, shot, soon[id], scope))().catch(() => null);
        if (!found) continue;
        const { summary, notes, warnings } = found.report;
        for (const text of [summary, ...notes, ...warnings])
          expect(text).not.toMatch(/(?<![\d.,])1 (keys|curves|channels|frames|poses|controls|rounds|links)\b/);
        // A deed in the past is one that can be turned into a plan.
        if (/^[A-Z][a-z]+ed /.test(summary)) expect(willBe(summary)).toMatch(/^Will /);
      }
    },
  );
});
