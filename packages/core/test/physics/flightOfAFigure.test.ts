import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { limbEnds } from "../../src/figure/limbEnds.ts";
import { withPass } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { fly } from "../../src/operations/physics/fly.ts";
import { bakePasses } from "../../src/operations/passes/bakePasses.ts";
import { scaleRig } from "../../src/operations/values/scaleRig.ts";
import { insertFrames } from "../../src/operations/timing/insertFrames.ts";
import { flightOf, flightOver, flightSettings } from "../../src/passes/flight/flightSettings.ts";
import { centre, EARTH, flightIn, jumper } from "../help/flights.ts";
import { Chance } from "../help/chance.ts";
import { apart, worldOf } from "../help/posed.ts";
import { run } from "../help/run.ts";

describe("flight of a figure", () => {
  it.each([1, 2, 3, 4])(
    "its centre of mass is on the parabola at every frame while it tucks and turns, ends as posed (%i)",
    async (seed) => {
      const shot = jumper(seed);
      const chance = new Chance(seed + 50);
      const landingBy: [number, number, number] = [chance.between(-1, 1), chance.between(-0.5, 0.5), chance.between(-1, 1)];
      const told = flightSettings.parse({ flights: [{ ...flightOver(10, 30), landingBy }], turns: seed % 2 === 0 });
      const { shot: after } = await run(fly, shot, told);
      const [from, end] = [centre(shot, 10), centre(shot, 30).map((value, k) => value + landingBy[k])];
      const seconds = 20 / 24;
      for (let frame = 10; frame <= 30; frame++) {
        const t = (frame - 10) / 24;
        const up = (end[1] - from[1]) / seconds + (EARTH * seconds) / 2;
        const wanted = [0, 1, 2].map((k) =>
          k === 1 ? from[1] + up * t - (EARTH * t * t) / 2 : from[k] + ((end[k] - from[k]) * t) / seconds,
        );
        expect(apart(centre(after, frame), wanted)).toBeLessThan(1e-6);
      }
      for (const { id } of [...limbEnds(shot.rig, "feet"), ...limbEnds(shot.rig, "hands")]) {
        expect(apart(worldOf(after, id, 10), worldOf(shot, id, 10))).toBeLessThan(1e-6);
        const landed = [...worldOf(shot, id, 30)].map((value, k) => (k >= 12 && k < 15 ? value + landingBy[k - 12] : value));
        expect(apart(worldOf(after, id, 30), landed)).toBeLessThan(1e-6);
      }
    },
  );

  it("turns evenly, whole turns kept: as far each frame as the next", async () => {
    const jump = jumper(7);
    const { "pelvis.rotateY": _y, "pelvis.rotateZ": _z, ...base } = jump.base;
    const shot = { ...jump, base };
    const { shot: after } = await run(fly, shot, flightSettings.parse({ flights: [flightOver(10, 30)], turns: true }));
    const player = makePlayer(after);
    const turns: number[][] = [];
    const at = (player.controlIndex.get("pelvis") as number) * 4;
    for (let frame = 10; frame <= 30; frame++) {
      player.pose(frame);
      turns.push([...player.turns.slice(at, at + 4)]);
    }
    const steps = turns.slice(1).map((turn, n) => {
      const dot = Math.abs(turn.reduce((sum, value, k) => sum + value * turns[n][k], 0));
      return (2 * Math.acos(Math.min(1, dot)) * 180) / Math.PI;
    });
    // From 5° to 365°: a whole somersault, which ends as it began, in 20 steps.
    for (const step of steps) expect(step).toBeCloseTo(steps[0], 4);
    expect(steps.reduce((sum, step) => sum + step, 0)).toBeCloseTo(360, 3);
  });

  it("muted, the old jump is back bit for bit; changed again, it is worked out from the motion below, not from itself", async () => {
    const shot = jumper(4);
    const told = flightSettings.parse({ flights: [{ ...flightOver(10, 30), height: 1.2, landingBy: [0.2, 0.4, 0] }] });
    const { shot: after } = await run(fly, shot, told);
    const muted = withPass(after, flightIn(after).id, (pass) => ({ ...pass, on: false }));
    for (let frame = 1; frame <= 45; frame += 0.25) expect([...worldOf(muted, "head", frame)]).toEqual([...worldOf(shot, "head", frame)]);
    const again = await run(fly, after, told, { layer: flightIn(after).id });
    expect(again.shot.passes).toHaveLength(1);
    expect(again.shot.range).toEqual(after.range);
    for (let frame = 1; frame <= 50; frame += 0.5)
      expect(apart(worldOf(again.shot, "head", frame), worldOf(after, "head", frame))).toBeLessThan(1e-12);
  });
});

describe("a pass of flights", () => {
  it("keys on every n-th frame, on the poses or on the essential ones: true there, and said how far off between", async () => {
    const shot = jumper(5);
    for (const [more, frames] of [
      [{ keys: "every", step: 4 }, [10, 14, 18, 22, 26, 30]],
      [{ keys: "poses" }, [10, 16, 20, 22, 30]],
      [{ keys: "essential" }, [10, 30]],
    ] as const) {
      const { shot: after, report } = await run(fly, shot, flightSettings.parse({ flights: [flightOver(10, 30)], ...more }));
      const exact = await run(fly, shot, flightSettings.parse({ flights: [flightOver(10, 30)] }));
      for (const frame of frames) expect(apart(centre(after, frame), centre(exact.shot, frame))).toBeLessThan(1e-6);
      expect(report.warnings.join()).toMatch(/few keys/);
      expect(exact.report.warnings.join()).not.toMatch(/few keys/);
    }
  });

  it("baked it is the same motion in keys", async () => {
    const shot = jumper(6);
    const { shot: after } = await run(fly, shot, flightSettings.parse({ flights: [{ ...flightOver(10, 30), height: 1 }] }));
    const { shot: baked } = await run(bakePasses, after, bakePasses.settings.parse({ keys: "every" }));
    expect(baked.passes).toEqual([]);
    for (let frame = 1; frame <= after.range.end; frame++)
      expect(apart(worldOf(baked, "head", frame), worldOf(after, "head", frame))).toBeLessThan(1e-6);
  });

  it("grows with the rig and goes along when the motion below is retimed", async () => {
    const shot = jumper(3);
    const { shot: after } = await run(
      fly,
      shot,
      flightSettings.parse({ flights: [{ ...flightOver(10, 30), landingBy: [0, 0.3, 0] }], rules: "timing" }),
    );
    const { shot: grown } = await run(scaleRig, after, scaleRig.settings.parse({ factor: 5 }));
    expect(flightOf(flightIn(grown)).flights[0].landingBy).toEqual([0, 1.5, 0]);
    const { shot: later } = await run(insertFrames, after, insertFrames.settings.parse({ at: 5, frames: 8 }));
    expect(flightOf(flightIn(later)).flights[0]).toMatchObject({ takeOff: 18, landing: 38 });
    for (const frame of [10, 17.5, 22, 30, 40])
      expect(apart(worldOf(later, "head", frame + 8), worldOf(after, "head", frame))).toBeLessThan(1e-9);
  });
});

it("a pass of flights whose settings are broken is refused with its name", () => {
  const pass = { ...makePass("pass-1", "Hop", "flight"), settings: { flights: "none" } };
  expect(() => flightOf(pass)).toThrow();
});
