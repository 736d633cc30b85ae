import { Tangent } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { gravityFor, secondsOver, speedFor, thrownHeight, topOf } from "../../src/maths/ballistic.ts";
import type { Rate } from "../../src/model/rate.ts";
import { withPass } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { fly } from "../../src/operations/physics/fly.ts";
import { flightOf, flightOver, flightSettings } from "../../src/passes/flight/flightSettings.ts";
import { ball, ballFlies, EARTH, flightIn, place } from "../help/flights.ts";
import { Chance } from "../help/chance.ts";
import { apart, worldOf } from "../help/posed.ts";
import { run } from "../help/run.ts";
import { control } from "../help/shots.ts";

describe("a thrown body", () => {
  it("does as its equations of motion, gone through in small steps (any mechanics text)", () => {
    const [up, g] = [3.2, 9.81];
    let [y, v] = [0, up];
    const step = 1e-5;
    for (let n = 0; n < 50_000; n++) {
      y += v * step - (g * step * step) / 2;
      v -= g * step;
    }
    expect(thrownHeight(0.5, up, g)).toBeCloseTo(y, 8);
    const top = topOf(up, g);
    expect(top.height).toBeCloseTo((up * up) / (2 * g), 12);
    expect(top.seconds).toBeCloseTo(up / g, 12);
    expect(topOf(-1, g).height + 0).toBe(0);
    expect(topOf(-1, g).seconds).toBe(0);
  });

  it("over a top to a landing: time, speed and gravity agree", () => {
    const chance = new Chance(3);
    for (let n = 0; n < 200; n++) {
      const [g, top] = [chance.between(0.5, 40), chance.between(0.01, 5)];
      const rise = chance.between(-3, top);
      const seconds = secondsOver(top, rise, g);
      const up = speedFor(rise, seconds, g);
      expect(topOf(up, g).height).toBeCloseTo(top, 9);
      expect(thrownHeight(seconds, up, g)).toBeCloseTo(rise, 9);
      expect(gravityFor(top, rise, seconds)).toBeCloseTo(g, 9);
    }
  });
});

describe("flight of a control", () => {
  const rates: Rate[] = [
    { num: 24, den: 1 },
    { num: 30, den: 1 },
    { num: 24000, den: 1001 },
  ];

  it("is the closed form at every frame: any rate, unit, gravity, heights of take-off and landing", async () => {
    const chance = new Chance(5);
    for (let n = 0; n < 60; n++) {
      const rate = rates[n % 3];
      const unitMetres = chance.of([1, 0.01, 0.0254, 2.5]);
      const gravity = chance.between(10, 300);
      const [from, to] = [0, 1].map(() => [0, 1, 2].map(() => chance.between(-2, 2) / unitMetres));
      const shot = ball(from, to, { rate, unitMetres });
      const { shot: after } = await run(fly, shot, ballFlies({}, { gravity }));
      const g = (EARTH * gravity) / 100 / unitMetres;
      const fps = rate.num / rate.den;
      const seconds = 20 / fps;
      for (let frame = 10; frame <= 30; frame++) {
        const t = (frame - 10) / fps;
        const up = (to[1] - from[1]) / seconds + (g * seconds) / 2;
        const wanted = [
          from[0] + ((to[0] - from[0]) * t) / seconds,
          from[1] + up * t - (g * t * t) / 2,
          from[2] + ((to[2] - from[2]) * t) / seconds,
        ];
        const off = apart(place(after, frame), wanted);
        expect(off * unitMetres).toBeLessThan(1e-9);
      }
      // Before and after it lies where it lay.
      for (const frame of [1, 9.5, 31, 60]) expect(apart(place(after, frame), place(shot, frame)) * unitMetres).toBeLessThan(1e-9);
    }
  });

  it("a top that is asked for takes its time, to a frame, and gravity is what it is; the landing comes later and all after it", async () => {
    const shot = ball([0, 0, 0], [1, 0.2, 0]);
    const later = withPass(
      {
        ...shot,
        base: {
          ...shot.base,
          "ball.rotateX": curveFrom(
            [
              [1, 0],
              [30, 0],
              [45, 90],
            ],
            Tangent.linear,
          ),
        },
      },
      "",
      (p) => p,
    );
    for (const height of [0.3, 0.9, 1.4]) {
      const { shot: after, report } = await run(fly, later, ballFlies({ height }));
      const [{ frames }] = flightOf(flightIn(after)).flights;
      // √(2h/g) up and √(2(h − rise)/g) down, in whole frames.
      const wanted = Math.round((Math.sqrt((2 * height) / EARTH) + Math.sqrt((2 * (height - 0.2)) / EARTH)) * 24);
      expect(frames).toBe(wanted);
      const landing = 10 + wanted;
      expect(apart(place(after, landing), [1, 0.2, 0])).toBeLessThan(1e-9);
      // What comes after is as much later, the turn of the ball included.
      const by = wanted - 20;
      for (const frame of [30, 37, 45]) {
        const [was, is] = [worldOf(later, "ball", frame), worldOf(after, "ball", frame + by)];
        expect(apart(is, was)).toBeLessThan(1e-9);
      }
      expect(after.range.end).toBe(60 + Math.max(0, by));
      if (by !== 0) expect(report.summary).toContain(`${Math.abs(by)} frame`);
      const second = (frame: number) => (place(after, frame + 1)[1] - 2 * place(after, frame)[1] + place(after, frame - 1)[1]) * 24 * 24;
      for (let frame = 11; frame < landing; frame++) expect(second(frame)).toBeCloseTo(-EARTH, 6);
    }
  });

  // Common practice: raised a little, a landing at 40 comes at 43 or 44.
  it("landing 40 becomes 43 or 44 when the top is raised", async () => {
    const shot = ball([0, 0, 0], [1, 0, 0]);
    const hop = {
      ...shot,
      base: Object.fromEntries(Object.entries(shot.base).map(([key, c]) => [key, { ...c, times: Float64Array.of(20, 40) }])),
    };
    const asIs = await run(fly, hop, ballFlies({ takeOff: 20, landing: 40 }));
    expect(flightOf(flightIn(asIs.shot)).flights[0].frames).toBe(20);
    const height = (EARTH * (20 / 24) ** 2) / 8;
    const raised = await run(fly, hop, ballFlies({ takeOff: 20, landing: 40, height: height * 1.4 }));
    expect([43, 44]).toContain(20 + (flightOf(flightIn(raised.shot)).flights[0].frames ?? 0));
  });

  it("where timing rules the frames stay, the top is the one asked for, and gravity is said", async () => {
    const shot = ball([0, 0, 0], [1, -0.3, 0]);
    const { shot: after, report } = await run(fly, shot, ballFlies({ height: 0.7 }, { rules: "timing" }));
    expect(flightOf(flightIn(after)).flights[0].frames).toBe(20);
    let top = 0;
    for (let frame = 10; frame <= 30; frame += 0.01) top = Math.max(top, place(after, frame)[1]);
    expect(top).toBeCloseTo(0.7, 5);
    const g = (Math.sqrt(1.4) + Math.sqrt(2)) ** 2 / (20 / 24) ** 2;
    expect(report.notes.join()).toContain(`${Number((g / EARTH).toPrecision(2))} ×`);
  });
});

describe("flight of a control, further", () => {
  it("bounces lose their share of height, go on over the ground, and end; what comes after waits for them", async () => {
    const shot = ball([0, 2, 0], [1, 0, 0]);
    const { shot: after } = await run(fly, shot, ballFlies({ bounces: 50 }, { loss: 40, gravity: 100 }));
    const [{ frames, bounceFrames }] = flightOf(flightIn(after)).flights;
    const bounces = bounceFrames ?? [];
    expect(bounces.length).toBeGreaterThan(3);
    const top = (start: number, length: number) =>
      Math.max(...Array.from({ length: length * 20 }, (_, n) => place(after, start + n / 20)[1]));
    let at = 10 + (frames ?? 0);
    let high = top(10, frames ?? 0);
    for (const length of bounces) {
      expect(place(after, at)[1]).toBeCloseTo(0, 9);
      const next = top(at, length);
      // Whole frames: a bounce is as high as its frames, which are the nearest to the height that is left.
      const exact = 2 * Math.sqrt((2 * high * 0.6) / EARTH) * 24;
      expect(Math.abs(length - exact)).toBeLessThan(1.2 + 0.05 * exact);
      expect(next).toBeLessThan(high + 1e-12);
      high = next;
      at += length;
    }
    expect(place(after, at + 5)[0]).toBeGreaterThan(1);
    expect(apart(place(after, at + 5), place(after, at))).toBeLessThan(1e-9);
  });

  it("refuses a landing above the top, flights in each other, no length, and a unit that nobody knows, by frame", async () => {
    const shot = ball([0, 0, 0], [1, 1, 0]);
    await expect(run(fly, shot, ballFlies({ height: 0.5 }))).rejects.toThrow(/frame 10.*higher than its top/);
    await expect(run(fly, shot, ballFlies({ landing: 10 }))).rejects.toThrow(/frames 10 to 10/);
    const twice = flightSettings.parse({ flies: "control", control: "ball", flights: [flightOver(10, 30), flightOver(20, 40)] });
    await expect(run(fly, shot, twice)).rejects.toThrow(/20.*before.*10.*landed, at 30/);
    await expect(run(fly, { ...shot, unitMetres: null }, ballFlies())).rejects.toThrow(/how long its units are/);
    const told = await run(fly, { ...shot, unitMetres: null }, ballFlies({}, { unit: 0.1 }));
    expect(told.shot.unitMetres).toBe(0.1);
    await expect(run(fly, shot, flightSettings.parse({ flights: [] }))).rejects.toThrow(/no jump was found/);
  });

  it("says that a set that moves keeps its frames when the figure lands later, and only then", async () => {
    const shot = ball([0, 0, 0], [1, 0, 0]);
    const controls = [...shot.rig.controls, control("ferry", null, [0, 0, 0], { role: "set" })];
    const rocked = {
      ...shot,
      rig: { ...shot.rig, controls },
      base: {
        ...shot.base,
        "ferry.rotateZ": curveFrom([
          [1, 0],
          [40, 5],
        ]),
      },
    };
    const { report } = await run(fly, rocked, ballFlies({ height: 1.5 }));
    expect(report.notes.join()).toContain("ferry: set and camera keep their frames");
    const { report: same } = await run(fly, rocked, ballFlies());
    expect(same.notes.join()).not.toContain("keep their frames");
  });

  it("is refused on a locked channel, by name; beside a pass on solo it says that it is not heard", async () => {
    const shot = ball([0, 0, 0], [1, 0, 0]);
    await expect(run(fly, { ...shot, locked: ["ball.moveY"] }, ballFlies({ height: 1.5 }))).rejects.toThrow(/ball move Y is locked/);
    const solo = { ...shot, passes: [{ ...makePass("pass-1", "Alone", "adds"), solo: true }] };
    const { report } = await run(fly, solo, ballFlies());
    expect(report.warnings).toEqual(["Another pass is on solo, so the flight is not heard until that ends."]);
  });

  it("flies under something that turns and moves as it does in the world", async () => {
    const shot = ball([0, 0, 0], [1, 0.5, 0.2]);
    const rig = { ...shot.rig, controls: [control("cart", null, [0.4, 0.1, 0]), { ...shot.rig.controls[0], parent: "cart" }] };
    const moved = {
      ...shot,
      rig,
      base: {
        ...shot.base,
        "cart.rotateY": curveFrom([
          [1, 0],
          [60, 140],
        ]),
        "cart.moveX": curveFrom([
          [1, 0],
          [60, 3],
        ]),
      },
    };
    const { shot: after } = await run(fly, moved, ballFlies({ landingBy: [0.3, 0.2, 0] }));
    const [from, to] = [place(moved, 10), place(moved, 30).map((value, k) => value + [0.3, 0.2, 0][k])];
    const seconds = 20 / 24;
    for (let frame = 10; frame <= 30; frame++) {
      const t = (frame - 10) / 24;
      const up = (to[1] - from[1]) / seconds + (EARTH * seconds) / 2;
      expect(place(after, frame)[1]).toBeCloseTo(from[1] + up * t - (EARTH * t * t) / 2, 9);
    }
    // It stays as far from where it was, wherever the cart takes it.
    for (const frame of [31, 44, 60])
      expect(
        apart(
          place(after, frame),
          place(moved, frame).map((value, k) => value + [0.3, 0.2, 0][k]),
        ),
      ).toBeLessThan(1e-9);
  });
});
