import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { channelKey } from "../../src/model/rig.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { centreOf, massesOf } from "../../src/figure/anatomy/masses.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { type Flight, flightOver, flightSettings } from "../../src/passes/flight/flightSettings.ts";
import { Chance } from "./chance.ts";
import { standingFigure } from "./figures.ts";
import { worldOf } from "./posed.ts";
import { control } from "./shots.ts";

/** 3rd General Conference on Weights and Measures, 1901. */
export const EARTH = 9.80665;

/** A ball that lies at one place and from a frame on at another. */
export function ball(from: readonly number[], to: readonly number[], more: Partial<Shot> = {}): Shot {
  const rig = { id: "rig", name: "Ball", figure: null, controls: [control("ball", null, [0, 0, 0], { role: "prop" })] };
  const axes = ["moveX", "moveY", "moveZ"];
  const base = Object.fromEntries(
    axes.map((axis, k) => [
      channelKey("ball", axis),
      curveFrom(
        [
          [10, from[k]],
          [30, to[k]],
        ],
        Tangent.auto,
      ),
    ]),
  );
  return emptyShot({ id: "shot", name: "Ball", rig, base, range: { start: 1, end: 60 }, unitMetres: 1, ...more });
}

export const ballFlies = (flight: Partial<Flight> = {}, more: object = {}) =>
  flightSettings.parse({ flies: "control", control: "ball", flights: [{ ...flightOver(10, 30), ...flight }], ...more });

export const place = (shot: Shot, frame: number, id = "ball") => [...worldOf(shot, id, frame).slice(12, 15)];

/** The topmost pass. */
export const flightIn = (shot: Shot): Pass => shot.passes[shot.passes.length - 1];

/** A figure that jumps from 10 to 30 while it tucks, swings its arms and turns over, in poses by chance. */
export function jumper(seed: number): Shot {
  const chance = new Chance(seed);
  const controls = standingFigure();
  const rig = { id: "rig", name: "Figure", figure: null, controls };
  const base: Record<string, Curve> = {};
  const poses = [1, 10, 16, 22, 30, 45];
  for (const { id, channels } of controls)
    for (const channel of channels)
      if (channel.startsWith("rotate")) base[channelKey(id, channel)] = curveFrom(poses.map((frame) => [frame, chance.between(-60, 60)]));
  base["pelvis.rotateX"] = curveFrom([
    [1, 0],
    [10, 5],
    [20, 180],
    [30, 365],
  ]);
  for (const axis of ["moveX", "moveY", "moveZ"])
    base[channelKey("pelvis", axis)] = curveFrom(poses.map((frame) => [frame, chance.between(-0.3, 0.3)]));
  return emptyShot({ id: "shot", name: "Jump", rig, base, range: { start: 1, end: 45 }, unitMetres: 1 });
}

/** The centre of mass of a posed figure, summed up here from what each part weighs. */
export function centre(shot: Shot, frame: number): number[] {
  const player = makePlayer(shot);
  player.pose(frame);
  const out = [0, 0, 0];
  centreOf(massesOf(shot.rig).parts, player.worlds, out);
  return out;
}

/** A figure that hops: up and down as thrown, on straight legs, so many times with stands between. */
export function hopper(hops: readonly { at: number; frames: number; rise: number }[]): Shot {
  const controls = standingFigure();
  const keys: [number, number][] = [[1, 0]];
  let ground = 0;
  for (const { at, frames, rise } of hops) {
    const seconds = frames / 24;
    for (let n = 0; n <= frames; n++) {
      const t = n / 24;
      keys.push([at + n, ground + (rise / seconds + (EARTH * seconds) / 2) * t - (EARTH * t * t) / 2]);
    }
    ground += rise;
  }
  const end = keys[keys.length - 1][0] + 15;
  keys.push([end, ground]);
  return emptyShot({
    id: "s",
    name: "Hops",
    rig: { id: "rig", name: "Figure", figure: null, controls },
    base: { "pelvis.moveY": curveFrom(keys, Tangent.linear) },
    range: { start: 1, end },
    unitMetres: 1,
  });
}
