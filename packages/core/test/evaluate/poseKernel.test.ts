import { constantCurve, curveFrom, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { channelKey, rotateChannels } from "../../src/model/rig.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import type { MakePlayer, PlayerOptions } from "../../src/figure/player.ts";
import { Chance } from "../help/chance.ts";
import { randomShot } from "../help/randomRig.ts";
import { passOf } from "../help/shots.ts";
import { apart } from "../help/posed.ts";

/*
 * What plays a figure in WebAssembly against the same figure played without it, which other tests hold against three and
 * against turns multiplied by hand.
 */

const FRAMES = [-2.5, 1, 3.37, 9, 14.999, 22.2, 30, 55.1];

let makeWithout: MakePlayer;

beforeAll(async () => {
  const known = globalThis.WebAssembly;
  Object.assign(globalThis, { WebAssembly: undefined });
  try {
    await jest.isolateModulesAsync(async () => {
      const { makePlayer: made } = await import("../../src/evaluate/makePlayer.ts");
      makeWithout = made;
      // It is looked for when a figure is first played.
      made(randomShot(new Chance(1))).pose(1);
    });
  } finally {
    Object.assign(globalThis, { WebAssembly: known });
  }
}, 60_000);

/** Numbers of a figure at each frame, all of them; nothing below and above zero are one. */
function played(make: MakePlayer, shot: Shot, options: PlayerOptions = {}, frames = FRAMES): number[] {
  const player = make(shot, options);
  return frames.flatMap((frame) => {
    player.pose(frame);
    return [...player.worlds, ...player.turns].map((value) => value + 0);
  });
}

/** Angles in all sizes: under the first series, under the second, over half a round, over many; and none. */
const anyAngle = (chance: Chance) => chance.between(-1, 1) * chance.of([0, 20, 60, 179, 200, 5000]);

function turnedShot(chance: Chance): Shot {
  const shot = randomShot(chance);
  const base = { ...shot.base };
  for (const { id } of shot.rig.controls)
    for (const channel of rotateChannels)
      base[channelKey(id, channel)] =
        chance.next() < 0.5
          ? curveFrom([1, 8, 19, 30].map((frame) => [frame, anyAngle(chance)]))
          : linearCurve(
              linearFrame(Float64Array.from({ length: 30 }, (_, n) => n + 1)),
              Float64Array.from({ length: 30 }, () => anyAngle(chance)),
            );
  return { ...shot, base };
}

function turning(chance: Chance, shot: Shot, n: number, size: number, weight: number): Pass {
  const curves = Object.fromEntries(
    shot.rig.controls
      .filter(() => chance.next() < 0.8)
      .flatMap(({ id }) =>
        rotateChannels
          .filter(() => chance.next() < 0.8)
          .map((channel) => [
            channelKey(id, channel),
            linearCurve(
              linearFrame(Float64Array.from({ length: 40 }, (_, k) => k - 5)),
              Float64Array.from({ length: 40 }, () => chance.between(-size, size)),
            ),
          ]),
      ),
  );
  return { ...passOf("adds", curves, { id: `p${n}`, weight: constantCurve(weight) }), compose: "rotation" };
}

test("turns and places are the very same, whatever the orders, angles, scales and resting turns", () => {
  for (let n = 0; n < 60; n++) {
    const shot = turnedShot(new Chance(n));
    expect(played(makePlayer, shot)).toEqual(played(makeWithout, shot));
    const only = [shot.rig.controls[n % 8].id, shot.rig.controls[(n * 3) % 8].id];
    expect(played(makePlayer, shot, { only })).toEqual(played(makeWithout, shot, { only }));
  }
});

test("passes that join as rotations come out the same but for round-off, of any number, size and weight", () => {
  for (let n = 0; n < 60; n++) {
    const chance = new Chance(n + 400);
    const shot = turnedShot(chance);
    const weights = [1, 1, 0, 0.3, -0.7, 1.9];
    const passes = Array.from({ length: 1 + (n % 4) }, (_, p) =>
      turning(chance, shot, p, chance.of([2, 30, 300]), n % 3 === 0 ? 1 : chance.of(weights)),
    );
    const layered = { ...shot, passes };
    expect(apart(played(makePlayer, layered), played(makeWithout, layered))).toBeLessThan(1e-11);
    const [values, without] = [makePlayer(layered), makeWithout(layered)];
    for (const frame of FRAMES) {
      for (const player of [values, without]) player.readValues(frame);
      // Where an order's second axis stands at a right angle, angles are as good as arcs of a sine near one are.
      expect(apart(values.values, without.values)).toBeLessThan(1e-5);
    }
  }
});

test("figures that are played in turns do not mix, also where one asks for more memory than there was", () => {
  const shots = [3, 4, 5].map((n) => turnedShot(new Chance(n)));
  const [first] = shots[0].rig.controls;
  const controls = Array.from({ length: 3000 }, (_, n) => ({
    ...first,
    id: `m${n}`,
    partner: null,
    parent: n === 0 ? null : `m${Math.max(0, n - 1 - (n % 7))}`,
  }));
  const many = {
    ...shots[0],
    rig: { ...shots[0].rig, id: "many", controls },
    base: {
      "m7.rotateX": curveFrom([
        [1, 0],
        [30, 90],
      ]),
    },
  };
  const all = [...shots, many];
  const [ours, theirs] = [makePlayer, makeWithout].map((make) => all.map((shot) => make(shot)));
  for (const frame of FRAMES)
    all.forEach((_, n) => {
      ours[n].pose(frame);
      theirs[n].pose(frame);
      expect(Buffer.from(ours[n].worlds.buffer).equals(Buffer.from(theirs[n].worlds.buffer))).toBe(true);
    });
});

test("where memory cannot be had a figure is played the other way", async () => {
  const shot = turnedShot(new Chance(9));
  const { grow } = WebAssembly.Memory.prototype;
  await jest.isolateModulesAsync(async () => {
    const { makePlayer: made } = await import("../../src/evaluate/makePlayer.ts");
    made(shot).pose(1);
    WebAssembly.Memory.prototype.grow = () => {
      throw new RangeError("no memory");
    };
    const controls = Array.from({ length: 800 }, (_, n) => ({
      ...shot.rig.controls[0],
      id: `m${n}`,
      parent: n === 0 ? null : `m${n - 1}`,
    }));
    const large = { ...shot, rig: { ...shot.rig, id: "large", controls }, base: { "m3.rotateY": constantCurve(20) } };
    try {
      for (const some of [large, shot]) expect(played(made, some)).toEqual(played(makeWithout, some));
    } finally {
      WebAssembly.Memory.prototype.grow = grow;
    }
  });
}, 60_000);
