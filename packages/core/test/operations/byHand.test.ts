import { curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import type { Shot } from "../../src/model/shot.ts";
import { operations } from "../../src/operations/catalogue.ts";
import type { HandOperation } from "../../src/operations/hand/handOperation.ts";
import { type Made, doAgain, madeBy } from "../../src/operations/history.ts";
import { noContext, type Operation, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runByHand, runOperation } from "../../src/operations/runOperation.ts";
import { markShot } from "../../../../reference/corpus/fingerprint.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { actionOf } from "../help/actions.ts";
import { movingShot, passOf } from "../help/shots.ts";

/** A shot with the steps that made it, as JSON. */
interface Worked {
  readonly shot: Shot;
  readonly steps: readonly Made[];
  readonly names: readonly string[];
}

function doing<Settings>(worked: Worked, operation: HandOperation<Settings>, settings: Settings, scope: Partial<Scope> = {}): Worked {
  const whole = { ...WHOLE_FIGURE, ...scope };
  const { shot, report } = runByHand(operation, worked.shot, whole, settings);
  const made = JSON.parse(JSON.stringify(madeBy(operation, whole, settings))) as Made;
  return { shot, steps: [...worked.steps, made], names: [...worked.names, report.summary] };
}

async function soon<Settings>(
  worked: Worked,
  operation: Operation<Settings>,
  settings: Settings,
  scope: Partial<Scope> = {},
): Promise<Worked> {
  const whole = { ...WHOLE_FIGURE, ...scope };
  const { shot, report } = await runOperation(operation, worked.shot, whole, settings, noContext);
  const made = JSON.parse(JSON.stringify(madeBy(operation, whole, settings))) as Made;
  return { shot, steps: [...worked.steps, made], names: [...worked.names, report.summary] };
}

const opened = (shot = movingShot()): Worked => ({ shot, steps: [], names: [] });
const NO_MAP = { timeScale: 1, timeShift: 0, valueScale: 1, valueShift: 0, wholeFrames: false };

/** An hour of work: everything that can be done by hand, and a few operations of the list. */
async function anHour(): Promise<Worked> {
  const keys = { "spine.rotateX": [13, 25], "arm-left.rotateZ": [13] };
  let w = opened();
  w = doing(w, operations.keyValues, { frame: 7, values: { "spine.rotateX": 12, "hand-right.rotateY": 3 } });
  w = doing(w, operations.moveKeys, { ...NO_MAP, timeShift: 2, valueShift: 1.5, carry: "move" }, { keys });
  w = doing(w, operations.moveKeys, { ...NO_MAP, timeShift: 3, carry: "ripple" }, { keys: { "root.rotateY": [25] } });
  w = doing(w, operations.moveKeys, { ...NO_MAP, timeScale: 1.5, valueScale: 0.5, carry: "copy" }, { keys: { "root.moveX": [1, 13] } });
  w = doing(w, operations.dragHandle, { channel: "spine.rotateX", frame: 7, side: "out", slope: 2, weight: 0.4, together: false });
  w = doing(w, operations.insertKey, { channel: "spine.rotateX", frame: 20 });
  w = doing(w, operations.stackPasses, { do: "add", id: "lean", kind: "adds" });
  w = doing(w, operations.stackPasses, { do: "add-members", pass: "lean", channels: ["spine.rotateX", "arm-left.rotateZ"], frame: 5 });
  w = doing(
    w,
    operations.keyPulled,
    { frame: 20, values: { "spine.rotateX": 33 }, pulled: "spine" },
    { layer: "lean", range: { start: 12, end: 30 } },
  );
  w = doing(w, operations.changePass, {
    pass: "lean",
    to: {
      weight: curveFrom([
        [1, 0],
        [20, 1],
      ]),
      colour: "moss",
    } as never,
  });
  w = doing(w, operations.stackPasses, { do: "duplicate", pass: "lean", id: "lean-2" });
  w = doing(w, operations.stackPasses, { do: "split", pass: "lean", id: "arm", channels: ["arm-left.rotateZ"] });
  w = doing(w, operations.stackPasses, { do: "move", pass: "lean-2", places: -1 });
  w = doing(w, operations.changeVersion, { keep: "Leaning" });
  w = doing(w, operations.changePass, { pass: "lean", to: { on: false } });
  w = doing(w, operations.changeVersion, { use: "Leaning" });
  w = doing(w, operations.changeShot, { lock: ["hand-left.rotateX"] });
  w = doing(w, operations.changeShot, { mark: { frame: 13, name: "Low", colour: "clay" } });
  w = doing(w, operations.changeShot, { keepSet: { name: "Arms", channels: ["arm-left.rotateZ", "arm-right.rotateZ"] } });
  w = await soon(w, operations.setGap, { from: 1, to: 7, gap: 9, ripple: true });
  w = await soon(w, operations.simplify, operations.simplify.settings.parse({}));
  w = doing(w, operations.cutMotion, { poses: [] }, { controls: ["arm-right"], range: { start: 20, end: 40 } });
  w = doing(w, operations.removeKeys, { cut: false }, { keys: { "root.moveX": [1] } });
  const keys2 = liftKeys(w.shot, { ...WHOLE_FIGURE, controls: ["root"], range: { start: 5, end: 15 } });
  w = await soon(w, operations.pasteKeys, operations.pasteKeys.settings.parse({ keys: keys2, at: 30 }));
  w = await soon(w, operations.layAction, operations.layAction.settings.parse({ action: actionOf(w.shot, 1, 12), at: 40 }));
  const early = w.shot;
  w = doing(w, operations.changeShot, { cyclic: true });
  w = doing(w, operations.takeBack, { shot: early, name: "what was before" });
  w = doing(w, operations.changeShot, { name: "Worked on" });
  return w;
}

test("the steps of a history, as JSON, make the same again to the last bit", async () => {
  const { shot, steps } = await anHour();
  let again = movingShot();
  for (const made of steps) again = (await doAgain(made, again)).shot;
  expect(again.name).toBe("Worked on");
  expect(String(markShot(again))).toBe(String(markShot(shot)));
});

test("a key between two long handles says that there is one more", () => {
  const long = (time: number, value: number) =>
    ({ time, value, slopeIn: 0, slopeOut: 0, weightIn: 0.95, weightOut: 0.95, kindIn: Tangent.free, kindOut: Tangent.free }) as const;
  const shot = { ...movingShot(), base: { "spine.rotateX": curveFromKeys([long(1, 0), long(21, 60)]) } };
  const { names, shot: after } = doing(opened(shot), operations.insertKey, { channel: "spine.rotateX", frame: 15 });
  expect(names).toEqual(["Key on spine rotate X at 15, and one between the long handles beside it"]);
  expect([...after.base["spine.rotateX"].times]).toEqual([1, 11, 15, 21]);
});

test("each step says in the history what it did", async () => {
  const { names } = await anHour();
  expect(names).toEqual([
    "Key at 7",
    "Move 3 keys",
    "Move 1 key and all later ones",
    "Copy 2 keys",
    "Drag a handle",
    "Key on spine rotate X at 20",
    "Add Pass 1",
    "Add 2 channels to Pass 1",
    "Nudge spine, frames 12–30",
    "Colour of Pass 1",
    "Duplicate Pass 1",
    "Split Pass 1",
    "Move Pass 1 2 in the stack",
    'Version "Leaning"',
    "Pass 1 off",
    'Version "Leaning"',
    "Lock 1 channel",
    'Call the pose of frame 13 "Low"',
    'Set "Arms" of 2 channels',
    "Gap 6 → 9 after frame 1",
    "Simplified 1 of 6 curves",
    expect.stringMatching(/^Cut \d+ keys?$/),
    "Remove 1 key",
    expect.stringMatching(/^Pasted/),
    'Laid "a" on 6 curves as keys, frames 40 to 51',
    "A cycle: the last frame is the first again",
    "Keep what was before",
    "Rename to Worked on",
  ]);
});

describe("locked channels", () => {
  const locked = () => opened(movingShot({ locked: ["spine.rotateX"] }));

  test("stay when keys of others go, and that is said", () => {
    const scope = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [13], "root.moveX": [13] } };
    const { shot, report } = runByHand(operations.removeKeys, locked().shot, scope, { cut: false });
    expect([...shot.base["spine.rotateX"].times]).toContain(13);
    expect([...shot.base["root.moveX"].times]).not.toContain(13);
    expect(report.warnings.join()).toMatch(/spine rotate X is locked and left alone/);
  });

  test("are told of when nothing else is picked", () => {
    const scope = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [13] } };
    expect(() => runByHand(operations.removeKeys, locked().shot, scope, { cut: false })).toThrow(/spine rotate X is locked/);
  });

  test("take no typed value, and say so", () => {
    const settings = { frame: 5, values: { "spine.rotateX": 3 } };
    expect(() => runByHand(operations.keyValues, locked().shot, WHOLE_FIGURE, settings)).toThrow(/spine rotate X is locked/);
  });

  test("can be unlocked when all are, and go along when a pass goes", () => {
    const pass = passOf("adds", { "spine.rotateX": curveFrom([[1, 2]]) });
    const shot = { ...locked().shot, passes: [pass] };
    const without = runByHand(operations.stackPasses, shot, WHOLE_FIGURE, { do: "remove", pass: pass.id }).shot;
    expect(without.passes).toHaveLength(0);
    const all = { ...shot, locked: Object.keys(shot.base) };
    expect(runByHand(operations.changeShot, all, WHOLE_FIGURE, { unlock: Object.keys(shot.base) }).shot.locked).toEqual([]);
  });
});

test("keys that fall on others are told of", () => {
  const scope = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [1] } };
  const { report } = runByHand(operations.moveKeys, movingShot(), scope, { ...NO_MAP, timeShift: 12, carry: "move" });
  expect(report.summary).toBe("Move 1 key; 1 fell on others and gave way");
});

test("a mark without a name and a colour goes; a set goes by its name", () => {
  const marked = movingShot({ poseMarks: [{ frame: 13, name: "Low", colour: null }], sets: [{ name: "Arms", channels: [] }] });
  const settings = { mark: { frame: 13, name: "", colour: null } };
  expect(runByHand(operations.changeShot, marked, WHOLE_FIGURE, settings).shot.poseMarks).toEqual([]);
  expect(runByHand(operations.changeShot, marked, WHOLE_FIGURE, { removeSet: "Arms" }).shot.sets).toEqual([]);
});

test("numbers that cannot be kept are refused as those of any operation", () => {
  const settings = { frame: 1, values: { "spine.rotateX": 1e300 } };
  expect(() => runByHand(operations.keyValues, movingShot(), WHOLE_FIGURE, settings)).toThrow(/between ±/);
});

test("an earlier state taken back keeps the versions made since", () => {
  const early = movingShot();
  const now = runByHand(operations.changeVersion, movingShot(), WHOLE_FIGURE, { keep: "Now" }).shot;
  const back = runByHand(operations.takeBack, now, WHOLE_FIGURE, { shot: early, name: "the start" });
  expect(back.report.summary).toBe("Keep the start");
  expect(back.shot.versions.map(({ name }) => name)).toEqual(["Now"]);
  expect(back.shot.base).toBe(early.base);
});

test("several gaps are changed at once, none moving the place of another", async () => {
  const settings = {
    gaps: [
      { from: 1, to: 13, gap: 6 },
      { from: 25, to: 49, gap: 10 },
    ],
    ripple: true,
  };
  const { shot, report } = await runOperation(operations.setGaps, movingShot(), WHOLE_FIGURE, settings, noContext);
  expect([...shot.base["spine.rotateX"].times]).toEqual([1, 7, 19, 29]);
  expect(report.summary).toBe("Gaps 12 24 → 6 10");
  const value = (curve: Curve, frame: number) => sampleCurve(curve, frame);
  expect(value(shot.base["spine.rotateX"], 19)).toBe(value(movingShot().base["spine.rotateX"], 25));
});
