import { curveFrom } from "../../src/curve/make.ts";
import { findFlights } from "../../src/evaluate/findFlights.ts";
import { massesOf } from "../../src/figure/anatomy/masses.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { fly } from "../../src/operations/physics/fly.ts";
import { flightOver, flightSettings } from "../../src/passes/flight/flightSettings.ts";
import { ball, centre, hopper } from "../help/flights.ts";
import { standingFigure } from "../help/figures.ts";
import { apart, worldOf } from "../help/posed.ts";
import { run } from "../help/run.ts";
import { control } from "../help/shots.ts";

describe("what a figure weighs", () => {
  it("shares add up to the whole, and an upright body's centre is where a grown man's is (common practice: 55–57 % of the height)", () => {
    const rig = { id: "rig", name: "Figure", figure: null, controls: standingFigure() };
    const { parts, isKnown } = massesOf(rig);
    expect(isKnown).toBe(true);
    expect(parts.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 12);
    const legs = parts.filter(({ control: i }) => /thigh|shin|foot/.test(rig.controls[i].id)).reduce((sum, { share }) => sum + share, 0);
    // de Leva 1996, men: thigh 14.16 %, shank 4.33 %, foot 1.37 %, twice.
    expect(legs).toBeCloseTo(2 * (0.1416 + 0.0433 + 0.0137), 9);
    const height = centre(emptyShot({ id: "s", name: "s", rig }), 1)[1];
    // The drawn figure ends at the head's joint, 1.6 m; a head is about 0.2 m more.
    expect(height / 1.8).toBeGreaterThan(0.53);
    expect(height / 1.8).toBeLessThan(0.59);
  });

  it("without such limbs each bone weighs as it is long, and it is said", async () => {
    const controls = [control("a", null, [0, 0, 0]), control("b", "a", [0, 1, 0]), control("c", "b", [2, 0, 0])];
    const rig = { id: "rig", name: "Bones", figure: null, controls };
    // Bones of 1 up and of 2 aside: (1·(0, ½) + 2·(1, 1)) / 3.
    expect(apart(centre(emptyShot({ id: "s", name: "s", rig }), 1), [2 / 3, 2.5 / 3, 0])).toBeLessThan(1e-12);
    const shot = emptyShot({
      id: "s",
      name: "s",
      rig,
      unitMetres: 1,
      base: {
        "a.moveX": curveFrom([
          [1, 0],
          [20, 1],
        ]),
      },
    });
    const { report } = await run(fly, shot, flightSettings.parse({ flights: [flightOver(5, 15)] }));
    expect(report.warnings.join()).toMatch(/as it is long/);
  });
});

describe("flights that are found", () => {
  it("a run of hops, up a step and down again, each from its take-off to its landing", () => {
    const shot = hopper([
      { at: 10, frames: 12, rise: 0 },
      { at: 34, frames: 10, rise: 0.3 },
      { at: 60, frames: 12, rise: -0.3 },
    ]);
    expect(findFlights(shot)).toEqual([
      { start: 10, end: 22 },
      { start: 34, end: 44 },
      { start: 60, end: 72 },
    ]);
    expect(findFlights(shot, { start: 25, end: 50 })).toEqual([{ start: 34, end: 44 }]);
  });

  it("none in a figure that stands, and none in a rig without feet", () => {
    expect(findFlights(hopper([]))).toEqual([]);
    expect(findFlights(ball([0, 0, 0], [1, 0, 0]))).toEqual([]);
  });

  it("none for who hangs by the hands, or is held up by something: bars, a swing, a carriage", () => {
    const controls = standingFigure();
    const rig = { id: "rig", name: "Figure", figure: null, controls };
    // Feet leave the ground and swing, the pelvis goes up and down a little; the arms hang from still shoulders.
    const swing = [1, 10, 20, 30, 40, 50, 60].map((frame, n): [number, number] => [frame, n === 0 || n === 6 ? 0 : n % 2 ? 70 : 50]);
    const tucked = { "thigh-left.rotateX": curveFrom(swing), "thigh-right.rotateX": curveFrom(swing) };
    const hanging = emptyShot({ id: "s", name: "s", rig, base: tucked, range: { start: 1, end: 60 }, unitMetres: 1 });
    expect(findFlights(hanging)).toEqual([]);
    // Carried for two seconds: 3 cm up where a thrown body would rise by 5 m; hands go along.
    const carried = {
      ...tucked,
      "pelvis.moveY": curveFrom([
        [1, 0],
        [30, 0.03],
        [60, 0],
      ]),
      "upper-left.rotateX": curveFrom(swing),
      "upper-right.rotateX": curveFrom(swing),
    };
    expect(findFlights({ ...hanging, base: carried })).toEqual([]);
  });

  it("flown as they are found, hops under the earth's gravity are as they were", async () => {
    const shot = hopper([
      { at: 10, frames: 12, rise: 0.1 },
      { at: 30, frames: 14, rise: -0.1 },
    ]);
    const flights = findFlights(shot).map(({ start, end }) => flightOver(start, end));
    const { shot: after } = await run(fly, shot, flightSettings.parse({ flights }));
    for (let frame = 1; frame <= shot.range.end; frame++)
      expect(apart(worldOf(after, "head", frame), worldOf(shot, "head", frame))).toBeLessThan(1e-9);
  });
});
