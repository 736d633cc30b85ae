import { constantCurve } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { pointOf } from "../../src/figure/pointOf.ts";
import { layoutOf } from "../../src/figure/rigLayout.ts";
import { channelKey, moveChannels, rotateChannels } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import type { FigurePoint } from "../../src/tune/figureMotion.ts";
import { makeOwnPulls } from "../../src/tune/ownPulls.ts";
import { Chance } from "../help/chance.ts";
import { randomShot } from "../help/randomRig.ts";

/*
 * Forces and turning moments against central differences of the points' places, of which a player of the changed shot is
 * asked: rigs by chance, resting turned, in any order of rotation, scaled unevenly and mirrored, at fractional frames.
 */

const own = [...moveChannels, ...rotateChannels];

function pulledPlaces(shot: Shot, frame: number, points: readonly FigurePoint[], pulls: Float64Array): number {
  const player = makePlayer(shot);
  player.pose(frame);
  const at = new Float64Array(3);
  return points.reduce((sum, { control, at: point }, p) => {
    pointOf(at, player.worlds, control, point);
    return sum + at[0] * pulls[p * 3] + at[1] * pulls[p * 3 + 1] + at[2] * pulls[p * 3 + 2];
  }, 0);
}

function pulled(seed: number): { shot: Shot; frame: number; points: FigurePoint[]; pulls: Float64Array } {
  const chance = new Chance(seed);
  const plain = randomShot(chance);
  const scaled = plain.rig.controls.flatMap(({ id }) =>
    chance.next() < 0.4
      ? (["scaleX", "scaleY", "scaleZ"] as const).map((axis) => [channelKey(id, axis), constantCurve(chance.between(-2, 2))] as const)
      : [],
  );
  const points = Array.from({ length: 6 }, () => ({
    control: chance.below(plain.rig.controls.length),
    at: [chance.between(-1, 1), chance.between(-1, 1), chance.between(-1, 1)] as const,
  }));
  const pulls = Float64Array.from({ length: points.length * 3 }, () => chance.between(-1, 1));
  return { shot: { ...plain, base: { ...plain.base, ...Object.fromEntries(scaled) } }, frame: chance.between(1, 30), points, pulls };
}

function meanings({ shot, frame, points, pulls }: ReturnType<typeof pulled>): number[][] {
  const player = makePlayer(shot);
  player.readValues(frame);
  const values = player.values.slice();
  player.pose(frame);
  const known = makeOwnPulls(shot.rig);
  known.gather(player.worlds, points, { start: frame, count: 1, places: pulls, values: new Float64Array(0) }, 0);
  return shot.rig.controls.map((_, control) => {
    const out = new Float64Array(6);
    known.meaning(out, player.worlds, values, control);
    return [...out];
  });
}

test.each(Array.from({ length: 12 }, (_, n) => n + 1))("what one of each move and angle comes to is what differences have (%d)", (seed) => {
  const given = pulled(seed);
  const { shot, frame, points, pulls } = given;
  const player = makePlayer(shot);
  player.readValues(frame);
  const { channelIndex } = layoutOf(shot.rig);
  const found = meanings(given);
  shot.rig.controls.forEach(({ id }, control) => {
    own.forEach((channel, part) => {
      const key = channelKey(id, channel);
      const value = player.values[channelIndex.get(key) as number];
      const far = (by: number) => pulledPlaces({ ...shot, base: { ...shot.base, [key]: constantCurve(value + by) } }, frame, points, pulls);
      const step = part < 3 ? 1e-3 : 1e-2;
      expect(found[control][part]).toBeCloseTo((far(step) - far(-step)) / (2 * step), 6);
    });
  });
});

test("under a control that is flattened nothing is known, and nothing is infinite", () => {
  const given = pulled(3);
  const { shot } = given;
  const flat = shot.rig.controls.map(({ id }) => [channelKey(id, "scaleY"), constantCurve(0)] as const);
  const found = meanings({ ...given, shot: { ...shot, base: { ...shot.base, ...Object.fromEntries(flat) } } });
  expect(found.flat().every(Number.isFinite)).toBe(true);
});
