import { makePlayer, type Shot } from "@kneader/core";
import { otterSolids } from "../src/figure.ts";
import { demoShots, standingFerryman } from "../src/index.ts";
import { Puppet, type Vec } from "../src/puppet.ts";
import { ferrymanRig } from "../src/rig.ts";
import { capturedSignal } from "../src/shots/capturedSignal.ts";
import { halfAWalk } from "../src/shots/halfAWalk.ts";
import { handOverTheLantern } from "../src/shots/handOverTheLantern.ts";
import { hopAboard } from "../src/shots/hopAboard.ts";
import { waitingOnBoard } from "../src/shots/waitingOnBoard.ts";
import { takeStance } from "../src/stance.ts";

/** World places of a control at every whole frame. */
function path(shot: Shot, id: string): Vec[] {
  const player = makePlayer(shot);
  const o = (player.controlIndex.get(id) as number) * 16 + 12;
  const places: Vec[] = [];
  for (let frame = shot.range.start; frame <= shot.range.end; frame++) {
    player.pose(frame);
    places.push([player.worlds[o], player.worlds[o + 1], player.worlds[o + 2]]);
  }
  return places;
}

const distance = (a: Vec, b: Vec) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
/** How much the pace changes from frame to frame: what the eye sees as a pop. */
const jolts = (places: Vec[]) =>
  places.slice(2).map((p, i) => Math.hypot(...p.map((value, k) => value - 2 * places[i + 1][k] + places[i][k])));

describe("the rig", () => {
  test("has at least 45 controls; every sided one has its partner", () => {
    expect(ferrymanRig.controls.length).toBeGreaterThanOrEqual(45);
    for (const control of ferrymanRig.controls) {
      if (/ (left|right)/.test(control.name)) {
        const partner = ferrymanRig.controls.find((c) => c.id === control.partner);
        expect(partner?.partner).toBe(control.id);
        expect(partner?.rest[0]).toBeCloseTo(-control.rest[0], 12);
      } else if (control.role === "figure") expect(control.partner).toBe(control.id);
    }
  });

  test("tail chain, tassel, fingers and lantern are there", () => {
    for (const id of ["tail-4", "tassel-2", "finger-3-tip-left", "finger-3-tip-right", "lantern-body", "ferry", "hook", "shot-camera"])
      expect(ferrymanRig.controls.some((control) => control.id === id)).toBe(true);
    const chain = ["tail-1", "tail-2", "tail-3", "tail-4"].map((id) => ferrymanRig.controls.find((c) => c.id === id)?.parent);
    expect(chain).toEqual(["hips", "tail-1", "tail-2", "tail-3"]);
  });

  test("every drawn solid stands on a control, with numbers that can be drawn", () => {
    for (const solid of otterSolids) {
      expect(ferrymanRig.controls.some((control) => control.id === solid.control)).toBe(true);
      expect([...solid.a, ...(solid.b ?? []), ...solid.size].every(Number.isFinite)).toBe(true);
      expect(solid.colour).toMatch(/^#[0-9a-f]{6}$/);
    }
  });
});

describe("reaching (law of cosines)", () => {
  const reach = (target: Vec) => new Puppet().reach("upper-arm-left", "forearm-left", "hand-left", target, [0, -1, -0.4]);
  const shoulder = new Puppet().place("upper-arm-left");
  const [upper, lower] = ["forearm-left", "hand-left"].map((id) => {
    const { rest } = ferrymanRig.controls.find((c) => c.id === id) as (typeof ferrymanRig.controls)[number];
    return Math.hypot(...rest);
  });

  test("the hand comes to any place within reach, limb lengths unchanged", () => {
    for (const [x, y, z] of [
      [0.05, -0.1, 0.12],
      [0.15, 0.05, 0.08],
      [-0.05, -0.15, 0.1],
      [0.02, 0.19, 0.02],
    ] as Vec[]) {
      const target: Vec = [shoulder[0] + x, shoulder[1] + y, shoulder[2] + z];
      const puppet = reach(target);
      expect(distance(puppet.place("hand-left"), target)).toBeLessThan(1e-6);
      expect(distance(puppet.place("upper-arm-left"), puppet.place("forearm-left"))).toBeCloseTo(upper, 9);
      expect(distance(puppet.place("forearm-left"), puppet.place("hand-left"))).toBeCloseTo(lower, 9);
    }
  });

  test("the angle at the elbow is that of the triangle of the two bones and the way", () => {
    const target: Vec = [shoulder[0] + 0.08, shoulder[1] - 0.08, shoulder[2] + 0.11];
    const puppet = reach(target);
    const way = distance(shoulder, target);
    const expected = Math.acos((upper ** 2 + lower ** 2 - way ** 2) / (2 * upper * lower));
    const elbow = puppet.place("forearm-left");
    const [a, b] = [puppet.place("upper-arm-left"), puppet.place("hand-left")].map((p) => p.map((v, k) => v - elbow[k]) as Vec);
    const cosine = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b));
    expect(Math.acos(cosine)).toBeCloseTo(expected, 6);
  });

  test("out of reach the arm points at the place, straight", () => {
    const puppet = reach([shoulder[0] + 5, shoulder[1], shoulder[2]]);
    const hand = puppet.place("hand-left");
    expect(distance(shoulder, hand)).toBeGreaterThan((upper + lower) * 0.999);
    expect(hand[1]).toBeCloseTo(shoulder[1], 3);
  });
});

describe("a stance", () => {
  test("puts the feet on the ground where it says, whichever way it looks", () => {
    for (const heading of [0, 45, 90, 200]) {
      const puppet = takeStance({ x: 1, z: 2, heading, up: -0.05, footLeft: [0.1, 0, 0], footRight: [-0.1, 0.03, 10] });
      const [left, right] = [puppet.place("foot-left"), puppet.place("foot-right")];
      expect(left[1]).toBeCloseTo(0.055, 6);
      expect(right[1]).toBeCloseTo(0.085, 6);
      expect(Math.hypot(left[0] - 1, left[2] - 2)).toBeCloseTo(Math.hypot(0.1, 0.085), 6);
    }
  });
});

describe("half a walk", () => {
  test("the planted foot stays planted: its drift is below 2 mm at every frame", async () => {
    const shot = await halfAWalk();
    // The left foot is down from contact until the heel lifts.
    const planted = path(shot, "foot-left").slice(2, 9);
    for (const place of planted) {
      expect(Math.hypot(place[0] - planted[0][0], place[2] - planted[0][2])).toBeLessThan(0.002);
      expect(Math.abs(place[1] - planted[0][1])).toBeLessThan(0.004);
    }
  });

  test("goes one step along the jetty, the other foot passing", async () => {
    const shot = await halfAWalk();
    const root = path(shot, "ferryman");
    expect(root[root.length - 1][0] - root[0][0]).toBeCloseTo(0.24, 3);
    const right = path(shot, "foot-right");
    expect(Math.max(...right.map((p) => p[1]))).toBeGreaterThan(0.09);
    expect(right[right.length - 1][0]).toBeGreaterThan(root[root.length - 1][0]);
  });

  test("has few keys, at frames shared by the whole figure", async () => {
    const shot = await halfAWalk();
    const frames = new Set(
      Object.values(shot.base)
        .filter((c) => c.times.length > 1)
        .map((c) => [...c.times].join()),
    );
    expect(frames.size).toBe(1);
    expect([...frames][0].split(",").length).toBeLessThanOrEqual(9);
  });
});

describe("hop aboard", () => {
  test("ten stepped poses five frames apart, from the jetty to the ferry", () => {
    const shot = hopAboard();
    const { times, kindOut } = shot.base["hips.moveY"];
    expect([...times]).toEqual([1, 6, 11, 16, 21, 26, 31, 36, 41, 46]);
    expect(new Set(kindOut)).toEqual(new Set([4]));
    const root = path(shot, "ferryman");
    expect(root[0][0]).toBeLessThan(0.5);
    expect(root[root.length - 1][0]).toBeGreaterThan(1.3);
  });

  test("crouches before it leaves and is in the air in the middle", () => {
    const hips = path(hopAboard(), "hips").map((p) => p[1]);
    const lowest = hips.indexOf(Math.min(...hips.slice(0, 20)));
    const highest = hips.indexOf(Math.max(...hips));
    expect(lowest).toBeLessThan(highest);
    const feet = path(hopAboard(), "foot-left")[highest];
    expect(feet[1]).toBeGreaterThan(0.3);
  });
});

describe("hand over the lantern", () => {
  test("the lantern is in the right hand, then in the left, then on the hook", async () => {
    const shot = await handOverTheLantern();
    const [lantern, right, left, hook] = ["lantern", "hand-right", "hand-left", "hook"].map((id) => path(shot, id));
    for (const frame of [1, 10, 20, 27]) expect(distance(lantern[frame - 1], right[frame - 1])).toBeLessThan(0.06);
    for (const frame of [28, 40, 50, 59]) expect(distance(lantern[frame - 1], left[frame - 1])).toBeLessThan(0.09);
    for (const frame of [60, 70, 84]) expect(distance(lantern[frame - 1], hook[frame - 1])).toBeLessThan(0.03);
  });

  test("nothing pops: hands and lantern change their pace by less than two and a half centimetres a frame", async () => {
    const shot = await handOverTheLantern();
    for (const id of ["lantern", "hand-left", "hand-right", "head"]) expect(Math.max(...jolts(path(shot, id)))).toBeLessThan(0.025);
  });
});

describe("captured signal", () => {
  test("one key a frame on every moving curve, with jitter no larger than a capture stage's", () => {
    const shot = capturedSignal();
    for (const [key, curve] of Object.entries(shot.base)) {
      if (curve.times.length === 1) continue;
      expect(curve.times.length).toBe(120);
      if (!key.includes(".rotate")) continue;
      // Second differences of a smooth wave are small; the jitter is what is left.
      const rough = Array.from(curve.values.subarray(2), (v, i) => Math.abs(v - 2 * curve.values[i + 1] + curve.values[i]));
      expect(rough.reduce((a, b) => a + b) / rough.length).toBeLessThan(2.5);
    }
  });

  test("the lantern is lifted high and waved from side to side", () => {
    const hand = path(capturedSignal(), "hand-left");
    expect(Math.max(...hand.map((p) => p[1])) - hand[0][1]).toBeGreaterThan(0.25);
    const across = hand.slice(40, 90).map((p) => p[0]);
    expect(Math.max(...across) - Math.min(...across)).toBeGreaterThan(0.05);
  });
});

describe("waiting on board", () => {
  test("loops: the last frame is the first, in place and pace", async () => {
    const shot = await waitingOnBoard();
    for (const id of ["hips", "head", "hand-left", "tail-4", "ferry", "shot-camera"]) {
      const places = path(shot, id);
      const last = places.length - 1;
      expect(distance(places[0], places[last])).toBeLessThan(0.006);
      const [leaving, arriving] = [distance(places[0], places[1]), distance(places[last - 1], places[last])];
      expect(Math.abs(leaving - arriving)).toBeLessThan(0.004);
    }
  });

  test("the ferry rocks and the camera drifts", async () => {
    const shot = await waitingOnBoard();
    const spread = (places: Vec[], k: number) => Math.max(...places.map((p) => p[k])) - Math.min(...places.map((p) => p[k]));
    expect(spread(path(shot, "shot-camera"), 0)).toBeGreaterThan(0.1);
    const { values } = shot.base["ferry.rotateZ"];
    expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(2);
  });
});

test("no shot lets a limb or the tail come loose: bones keep their lengths at every frame", async () => {
  for (const demo of demoShots) {
    const shot = await demo.make();
    for (const [id, parent] of [
      ["forearm-left", "upper-arm-left"],
      ["shin-right", "thigh-right"],
      ["tail-3", "tail-2"],
    ]) {
      const [a, b] = [path(shot, id), path(shot, parent)];
      const length = distance(a[0], b[0]);
      a.forEach((place, i) => {
        expect(distance(place, b[i])).toBeCloseTo(length, 9);
      });
    }
  }
});

test("the ferryman at ease holds his lantern", () => {
  const shot = standingFerryman();
  expect(distance(path(shot, "lantern")[0], path(shot, "hand-left")[0])).toBeLessThan(0.06);
});
