import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import type { Control } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { bakeDown } from "../../src/operations/spaces/bakeDown.ts";
import { bakePasses } from "../../src/operations/passes/bakePasses.ts";
import { catalogue, checkSettings, operationById, settingsSchema } from "../../src/operations/catalogue.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { noContext, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { pastePose } from "../../src/operations/poses/pastePose.ts";
import { setTangents } from "../../src/operations/clean/setTangents.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

/** Worlds of both shots at every whole frame: the worst difference of any number. */
function worstWorld(a: Shot, b: Shot): number {
  const [p, q] = [makePlayer(a), makePlayer(b)];
  let worst = 0;
  for (let frame = a.range.start; frame <= a.range.end; frame++) {
    p.pose(frame);
    q.pose(frame);
    p.worlds.forEach((value, k) => {
      worst = Math.max(worst, Math.abs(value - q.worlds[k]));
    });
  }
  return worst;
}

/** How far the lantern, which hangs on nothing, is by its own curves alone from where a shot has it. */
function worstPlaceAt(before: Shot, after: Shot, frames: readonly number[]): number {
  const player = makePlayer(before);
  const at = 16 * (player.controlIndex.get("lantern") as number) + 12;
  const { rest } = after.rig.controls.find(({ id }) => id === "lantern") as Control;
  return Math.max(
    ...frames.map((frame) => {
      player.pose(frame);
      return Math.hypot(
        ...["X", "Y", "Z"].map((axis, k) => rest[k] + sampleCurve(after.base[`lantern.move${axis}`], frame) - player.worlds[at + k]),
      );
    }),
  );
}

describe("set tangents", () => {
  test("on picked keys only", async () => {
    const shot = movingShot();
    const scope: Scope = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [13, 25] } };
    const { shot: after, report } = await setTangents.run(shot, scope, { kind: "flat", side: "both", handles: "keep" }, noContext);
    const curve = after.base["spine.rotateX"];
    expect([...curve.kindOut]).toEqual([Tangent.auto, Tangent.flat, Tangent.flat, Tangent.auto]);
    expect(report.summary).toBe("2 keys made flat");
    expect(report.curvesChanged).toBe(1);
    expect(after.base["root.moveX"]).toBe(shot.base["root.moveX"]);
  });

  test("within a range, on one side", async () => {
    const scope: Scope = { ...WHOLE_FIGURE, controls: ["spine"], range: { start: 10, end: 30 } };
    const { shot: after } = await setTangents.run(movingShot(), scope, { kind: "linear", side: "out", handles: "keep" }, noContext);
    const curve = after.base["spine.rotateX"];
    expect([...curve.kindOut]).toEqual([Tangent.auto, Tangent.linear, Tangent.linear, Tangent.auto]);
    expect([...curve.kindIn]).toEqual([0, 0, 0, 0]);
  });
});

/** The other settings of a paste as they come. */
const asProposed = pastePose.settings.parse({});

describe("paste pose", () => {
  test("as it is: the figure stands at the second frame as it did at the first", async () => {
    const shot = movingShot();
    const { shot: after } = await pastePose.run(shot, WHOLE_FIGURE, { ...asProposed, from: 13, to: 30, mirrored: false }, noContext);
    const [was, is] = [makePlayer(shot), makePlayer(after)];
    was.pose(13);
    is.pose(30);
    is.worlds.forEach((value, k) => {
      expect(value).toBeCloseTo(was.worlds[k], 9);
    });
  });

  test("mirrored: left and right change sides, and what is overwritten is said", async () => {
    const { shot: after, report } = await pastePose.run(
      movingShot(),
      WHOLE_FIGURE,
      { ...asProposed, from: 13, to: 25, mirrored: true },
      noContext,
    );
    const left = sampleCurve(movingShot().base["arm-left.rotateZ"], 13);
    expect(sampleCurve(after.base["arm-right.rotateZ"], 25)).toBeCloseTo(-left, 9);
    expect(report.warnings).toEqual([expect.stringMatching(/keys at frame 25 are overwritten/)]);
  });

  test("on a narrowed scope only those controls are keyed", async () => {
    const shot = movingShot();
    const scope = { ...WHOLE_FIGURE, controls: ["arm-right"] };
    const { shot: after } = await pastePose.run(shot, scope, { ...asProposed, from: 1, to: 30, mirrored: true }, noContext);
    expect(after.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
    expect([...after.base["arm-right.rotateZ"].times]).toContain(30);
  });
});

describe("bake passes", () => {
  const wave: Curve = curveFrom([
    [1, 0],
    [20, 15],
    [49, -5],
  ]);
  const stack = (compose: "channel" | "rotation") =>
    movingShot({
      passes: [
        passOf("adds", { "spine.rotateX": wave, "spine.rotateZ": wave }, { id: "a", compose, weight: constantCurve(1.3) }),
        passOf("replaces", { "arm-left.rotateZ": wave }, { id: "b", weight: constantCurve(0.5) }),
      ],
    });

  test.each(["channel", "rotation"] as const)("on every frame gives the same picture (%s)", async (compose) => {
    const shot = stack(compose);
    const { shot: after, report } = await bakePasses.run(
      shot,
      WHOLE_FIGURE,
      { which: "all", into: "base", keys: "every", rotation: 0.1, move: 0.001 },
      noContext,
    );
    expect(after.passes).toEqual([]);
    expect(worstWorld(shot, after)).toBeLessThan(1e-9);
    expect(report.drift?.turn.amount).toBeLessThan(1e-5);
    expect(report.warnings).toEqual([expect.stringMatching(/replaced what was below it on 1 channel\./)]);
  });

  test("the fewest keys within a tolerance stay within it", async () => {
    const shot = stack("channel");
    const { shot: after, report } = await bakePasses.run(
      shot,
      WHOLE_FIGURE,
      { which: "all", into: "base", keys: "fewest", rotation: 0.25, move: 0.001 },
      noContext,
    );
    const [a, b] = [makePlayer(shot), makePlayer(after)];
    let worst = 0;
    for (let frame = 1; frame <= 49; frame++) {
      a.pose(frame);
      b.pose(frame);
      for (let i = 0; i < shot.rig.controls.length; i++) worst = Math.max(worst, quatAngle(a.turns, i * 4, b.turns, i * 4));
    }
    // Each of a control's three angles stays within 0.25°, and so do two of them together within their sum.
    expect(worst).toBeLessThan(0.5);
    // The report looks between frames too.
    expect(report.drift?.turn.amount).toBeCloseTo(measureDrift(shot, after, shot.range, { step: 0.25 }).turn.amount, 9);
    expect(report.drift?.turn.amount).toBeGreaterThanOrEqual(worst);
    expect(after.base["spine.rotateX"].times.length).toBeLessThan(15);
  });

  test("on the existing keys, those frames are exact", async () => {
    const shot = stack("channel");
    const { shot: after } = await bakePasses.run(
      shot,
      WHOLE_FIGURE,
      { which: "all", into: "base", keys: "existing", rotation: 0.1, move: 0.001 },
      noContext,
    );
    const player = makePlayer(shot);
    for (const frame of [1, 13, 20, 25, 49]) {
      player.readValues(frame);
      expect(sampleCurve(after.base["spine.rotateX"], frame)).toBeCloseTo(
        player.values[player.channelIndex.get("spine.rotateX") as number],
        9,
      );
    }
    expect([...after.base["spine.rotateX"].times]).toEqual([1, 13, 20, 25, 49]);
  });

  test("passes that are off stay on the stack, and with none on there is nothing to bake", async () => {
    const shot = stack("channel");
    const off = { ...shot, passes: shot.passes.map((pass, i) => (i === 0 ? { ...pass, on: false } : pass)) };
    const { shot: after } = await bakePasses.run(
      off,
      WHOLE_FIGURE,
      { which: "all", into: "base", keys: "every", rotation: 0.1, move: 0.001 },
      noContext,
    );
    expect(after.passes.map((pass) => pass.id)).toEqual(["a"]);
    await expect(
      bakePasses.run(movingShot(), WHOLE_FIGURE, { which: "all", into: "base", keys: "every", rotation: 0.1, move: 0.001 }, noContext),
    ).rejects.toThrow(/no pass is on/);
  });
});

describe("bake down", () => {
  test("the lantern of the demo, handed over: each way within what is stated, as an independent look at quarter frames confirms", async () => {
    const shot = await handOverTheLantern();
    for (const keys of ["every", "existing", "fewest"]) {
      const { shot: after, report } = await run(bakeDown, shot, { keys, rotation: 0.5, move: 0.002 });
      expect(after.constraints.every(({ on }) => !on)).toBe(true);
      const stated = report.drift?.place.amount as number;
      // With a key on every frame what is stated is of whole frames; else of every quarter.
      const quarters = Array.from({ length: 4 * 83 + 1 }, (_, n) => 1 + n / 4).filter(
        (frame) => keys !== "every" || Number.isInteger(frame),
      );
      expect(worstPlaceAt(shot, after, quarters)).toBeLessThanOrEqual(stated + 1e-9);
      expect(stated).toBeLessThan(0.01);
      if (keys !== "every") continue;
      expect(after.base["lantern.moveX"].times).toHaveLength(84);
      expect(worstPlaceAt(shot, after, quarters)).toBeLessThan(1e-9);
    }
  });

  test("says when nothing follows, and refuses while a pass moves the follower", async () => {
    await expect(run(bakeDown, movingShot())).rejects.toThrow(/nothing leads/);
    const shot = await handOverTheLantern();
    const pass = passOf("adds", { "lantern.moveY": constantCurve(0.1) }, { name: "Bounce" });
    await expect(run(bakeDown, { ...shot, passes: [pass] })).rejects.toThrow(/"Bounce" also moves Lantern/);
  });
});

describe("keying channels", () => {
  test("a channel without a curve gets one key that holds", () => {
    const after = keyChannels(smallShot(), "base", 12, { "spine.rotateX": 7 });
    expect([...after.base["spine.rotateX"].times]).toEqual([12]);
    expect(sampleCurve(after.base["spine.rotateX"], 40)).toBe(7);
  });

  test("in a pass the base stays as it is", () => {
    const shot = movingShot({ passes: [passOf("adds", {})] });
    const after = keyChannels(shot, "pass-adds", 12, { "spine.rotateX": 7 });
    expect(after.base).toBe(shot.base);
    expect(after.passes[0].curves["spine.rotateX"].values[0]).toBe(7);
  });
});

describe("the catalogue", () => {
  test.each(catalogue.map((operation) => [operation.id, operation] as const))(
    "%s says what it is and checks its settings",
    (id, operation) => {
      expect(id).toMatch(/^[a-z-]+$/);
      expect(operation.help).toMatch(/^[A-Z].*\.$/);
      const schema = settingsSchema(operation) as { properties?: Record<string, { title?: string; default?: unknown }> };
      for (const property of Object.values(schema.properties ?? {})) expect(property.title).toBeTruthy();
      expect(operationById(id)).toBe(operation);
    },
  );

  test("ids are all different", () => {
    expect(new Set(catalogue.map((operation) => operation.id)).size).toBe(catalogue.length);
  });

  test("a wrong setting is named", () => {
    const operation = operationById("simplify");
    expect(() => checkSettings(operation, { rotation: -1 })).toThrow(/Simplify: setting rotation should not be below 0/);
    expect(() => checkSettings(operation, { rotation: Number.NaN })).toThrow(/rotation/);
    expect(() => operationById("melt")).toThrow(/no operation "melt"/);
  });
});

describe("drift", () => {
  test("of a shot against itself is nothing", () => {
    const drift = measureDrift(movingShot(), movingShot(), { start: 1, end: 49 });
    expect([drift.turn.amount, drift.place.amount]).toEqual([0, 0]);
  });

  test("finds the worst turn and place, with control and frame", () => {
    const shot = movingShot();
    const bent = keyChannels(shot, "base", 25, { "arm-right.rotateZ": 50 });
    const drift = measureDrift(shot, bent, { start: 1, end: 49 });
    expect(drift.turn).toEqual({ amount: expect.closeTo(30, 9), frame: 25, control: "arm-right" });
    expect(drift.place.control).toBe("hand-right");
    expect(drift.turnPerFrame).toHaveLength(49);
    const others = measureDrift(shot, bent, { start: 1, end: 49 }, { controls: ["spine"] });
    expect(others.turn.amount).toBe(0);
  });
});
