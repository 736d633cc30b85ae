import { captureClip } from "../../src/actions/captureClip.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { rotationOrders } from "../../src/maths/rotation.ts";
import type { Action } from "../../src/model/action.ts";
import { type Control, makeControl } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { layAction } from "../../src/operations/actions/layAction.ts";
import { Chance } from "../help/chance.ts";
import { worldOf } from "../help/posed.ts";
import { anyTurn } from "../help/randomRig.ts";
import { run } from "../help/run.ts";

const cardOf = (name: string) => ({ id: name, name, notes: "", tags: [], folder: "", savedAt: 0 });
const actionIn = (shot: Shot, start: number, end: number): Action => ({
  card: cardOf("Hop"),
  clip: captureClip(shot, Object.keys(shot.base), { start, end }),
});
const hipsShot = (base: Shot["base"], more: Partial<Control> = {}): Shot =>
  emptyShot({
    id: "s",
    name: "S",
    rig: { id: "r", name: "R", figure: null, controls: [makeControl("hips", { order: "YXZ", ...more })] },
    range: { start: 1, end: 41 },
    base,
  });

/** Place on the ground and heading (degrees) as they are seen. */
function seen(shot: Shot, frame: number): { x: number; z: number; y: number; heading: number } {
  const m = worldOf(shot, "hips", frame);
  return { x: m[12], y: m[13], z: m[14], heading: (Math.atan2(m[8], m[10]) * 180) / Math.PI };
}
const turnsApart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180);

test("common practice: a hop of 40 frames laid twice, carried on, goes twice as far and ends at 81", async () => {
  const hop = hipsShot({
    "hips.moveZ": curveFrom([
      [1, 0],
      [12, 0],
      [28, 0.8],
      [41, 0.8],
    ]),
    "hips.moveY": curveFrom([
      [1, 0],
      [12, -0.1],
      [20, 0.3],
      [28, -0.1],
      [41, 0],
    ]),
  });
  const { shot, report } = await run(layAction, hop, { action: actionIn(hop, 1, 41), at: 41, carry: true });
  expect(shot.range.end).toBe(81);
  expect(seen(shot, 81).z).toBeCloseTo(1.6, 12);
  expect(report.notes.join(" ")).toMatch(/Carries on from where the figure is at frame 41: hips\. The shot now ends at frame 81\./);
  for (let frame = 1; frame <= 41; frame += 0.25) {
    expect(sampleCurve(shot.base["hips.moveZ"], frame)).toBeCloseTo(sampleCurve(hop.base["hips.moveZ"], frame), 9);
    expect(sampleCurve(shot.base["hips.moveZ"], frame + 40)).toBeCloseTo(0.8 + sampleCurve(hop.base["hips.moveZ"], frame), 9);
    expect(sampleCurve(shot.base["hips.moveY"], frame + 40)).toBeCloseTo(sampleCurve(hop.base["hips.moveY"], frame), 9);
  }
  // As a pass the same, and the keys stay.
  const { shot: played } = await run(layAction, hop, { action: actionIn(hop, 1, 41), at: 41, carry: true, as: "pass" });
  for (let frame = 41; frame <= 81; frame += 0.25) expect(seen(played, frame).z).toBeCloseTo(seen(shot, frame).z, 9);
  expect(played.base).toBe(hop.base);
});

test("on ways by chance nothing jumps at the seam, in place or heading, whatever the order of rotation and the turn at rest; the height stays its own", async () => {
  for (let seed = 1; seed <= 40; seed++) {
    const chance = new Chance(seed);
    const frames = [1, 9, 20, 30, 41];
    const way = (size: number) => curveFrom(frames.map((f) => [f, chance.between(-size, size)]));
    const order = chance.of(rotationOrders);
    // A rig that rests turned any way looks wherever its front then is.
    const restTurn = seed % 2 === 0 ? anyTurn(chance) : ([0, 0, 0, 1] as const);
    // Leaning as a figure does that stands; lying on its back its front points nowhere on the ground.
    const lean = seed % 2 === 0 ? 180 : 35;
    const base = () => ({
      "hips.moveX": way(2),
      "hips.moveY": way(0.3),
      "hips.moveZ": way(2),
      "hips.rotateX": way(lean / 2),
      "hips.rotateY": way(170),
      "hips.rotateZ": way(lean / 2),
    });
    const given = hipsShot(base(), { order, restTurn });
    const action = actionIn(hipsShot(base(), { order, restTurn }), 1, 41);
    const match = chance.of([0, 7.5, 20]);
    for (const as of ["replace", "pass"]) {
      const { shot } = await run(layAction, given, { action, at: 20, carry: true, match, as });
      const [was, is] = [seen(given, 20 + match), seen(shot, 20 + match)];
      if (given.range.end < 20 + match) continue;
      expect(Math.hypot(was.x - is.x, was.z - is.z)).toBeLessThan(1e-9);
      const plain = order.startsWith("Y") && restTurn[3] === 1;
      // Of one that turns about the vertical first that angle is its heading, however it leans.
      if (!plain) expect(turnsApart(was.heading, is.heading)).toBeLessThan(1e-7);
      else expect(turnsApart(angleAt(given, 20 + match), angleAt(shot, 20 + match))).toBeLessThan(1e-9);
      const own = sampleCurve(action.clip.curves["hips.moveY"], match);
      expect(is.y).toBeCloseTo(own, 9);
    }
  }
});

function angleAt(shot: Shot, frame: number): number {
  const player = makePlayer(shot);
  player.readValues(frame);
  return player.values[player.channelIndex.get("hips.rotateY") as number];
}

test("what travels beside the figure is carried with it, as one thing", async () => {
  const controls = [
    makeControl("hips", { order: "YXZ" }),
    makeControl("head", { parent: "hips" }),
    makeControl("lantern", { order: "YXZ", role: "prop" }),
  ];
  const rig = { id: "r", name: "R", figure: null, controls };
  const base = {
    "hips.moveX": curveFrom([
      [1, 0],
      [21, 1],
    ]),
    "hips.moveZ": curveFrom([
      [1, 0],
      [21, 0],
    ]),
    "hips.rotateY": curveFrom([
      [1, 0],
      [21, 90],
    ]),
    "lantern.moveX": curveFrom([
      [1, 0.2],
      [21, 1],
    ]),
    "lantern.moveZ": curveFrom([
      [1, 0.1],
      [21, -0.2],
    ]),
    "lantern.rotateY": curveFrom([
      [1, 0],
      [21, 90],
    ]),
  };
  const shot = emptyShot({ id: "s", name: "S", rig, range: { start: 1, end: 21 }, base });
  const action = { card: cardOf("Carry"), clip: captureClip(shot, Object.keys(base), { start: 1, end: 21 }) };
  const { shot: after } = await run(layAction, shot, { action, at: 21, carry: true });
  const held = (s: Shot, frame: number) => {
    const [hips, lantern] = [worldOf(s, "hips", frame), worldOf(s, "lantern", frame)];
    return Math.hypot(lantern[12] - hips[12], lantern[14] - hips[14]);
  };
  for (const n of [0, 5, 12, 20]) expect(held(after, 21 + n)).toBeCloseTo(held(shot, 1 + n), 9);
});

test("it comes in from the motion before and goes out into the motion after, over so many frames", async () => {
  const shot = hipsShot({
    "hips.rotateX": curveFrom([
      [1, 40],
      [41, 60],
    ]),
  });
  const action = {
    card: cardOf("Flat"),
    clip: {
      rate: shot.rate,
      from: 0,
      length: 20,
      whole: false,
      figure: null,
      controls: shot.rig.controls,
      curves: {
        "hips.rotateX": curveFrom([
          [0, 0],
          [20, 0],
        ]),
      },
    },
  };
  const { shot: after } = await run(layAction, shot, { action, at: 10, easeIn: 6, easeOut: 4 });
  const at = (frame: number) => sampleCurve(after.base["hips.rotateX"], frame);
  const was = (frame: number) => sampleCurve(shot.base["hips.rotateX"], frame);
  expect(at(10)).toBeCloseTo(was(10), 9);
  expect(at(30)).toBeCloseTo(was(30), 9);
  for (let frame = 16; frame <= 26; frame++) expect(at(frame)).toBeCloseTo(0, 9);
  for (const frame of [1, 5, 10, 30, 35, 41]) expect(at(frame)).toBeCloseTo(was(frame), 9);
  expect(at(13)).toBeCloseTo(was(10) / 2, 9);
});
