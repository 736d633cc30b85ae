import { makePlayer, type Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { PerspectiveCamera } from "three";
import { boundsOf } from "../src/bench/view/framing.ts";
import { ghostFrames } from "../src/bench/view/ghostFrames.ts";
import { markAt } from "../src/bench/view/arcs/markAt.ts";

const range = { start: 1, end: 46 };
const poses = [1, 6, 11, 16, 21, 26, 31, 36, 41, 46];
const wish = { ghostBy: "poses" as const, ghostEvery: 4, ghostsBefore: 1, ghostsAfter: 1, ghostFrames: [] };

describe("ghosts", () => {
  test("neighbouring key poses, as many as asked for, the nearest ones", () => {
    expect(ghostFrames(18, range, poses, wish)).toEqual([16, 21]);
    expect(ghostFrames(16, range, poses, wish)).toEqual([11, 21]);
    expect(ghostFrames(18, range, poses, { ...wish, ghostsBefore: 3, ghostsAfter: 2 })).toEqual([6, 11, 16, 21, 26]);
    expect(ghostFrames(1, range, poses, { ...wish, ghostsBefore: 2 })).toEqual([6]);
    expect(ghostFrames(18, range, poses, { ...wish, ghostsBefore: 0, ghostsAfter: 0 })).toEqual([]);
  });

  test("every few frames, within the shot", () => {
    expect(ghostFrames(4, range, poses, { ...wish, ghostBy: "every", ghostsBefore: 2, ghostsAfter: 2 })).toEqual([8, 12]);
    expect(ghostFrames(20, range, poses, { ...wish, ghostBy: "every", ghostEvery: 1 })).toEqual([19, 21]);
  });

  test("chosen frames, without the present one", () => {
    expect(ghostFrames(10, range, poses, { ...wish, ghostBy: "frames", ghostFrames: [1, 10, 30, 90] })).toEqual([1, 30]);
  });

  test("of a key on every frame, some frames away", () => {
    const every = Array.from({ length: 46 }, (_, n) => n + 1);
    expect(ghostFrames(20, range, every, wish)).toEqual([14, 26]);
  });
});

describe("marks of an arc", () => {
  const camera = new PerspectiveCamera(40, 2, 0.1, 100);
  camera.position.set(0, 0, 5);
  camera.lookAt(0, 0, 0);
  camera.updateMatrixWorld();
  const picture = { width: 400, height: 200 };
  const plain = { name: "Hand left", control: "hand-left", isKey: false, isFlat: false };
  const marks = [
    { ...plain, frame: 7, place: [0, 0, 0] as const },
    { ...plain, frame: 8, place: [0.1, 0, 0] as const },
    { ...plain, frame: 9, place: [0, 0, 9] as const },
  ];

  test("the nearest under the pointer, and none where none is near or it lies behind the camera", () => {
    expect(markAt(marks, camera, picture, { x: 201, y: 99 }, 1)?.mark.frame).toBe(7);
    expect(markAt(marks, camera, picture, { x: 206, y: 100 }, 1)?.mark.frame).toBe(8);
    expect(markAt(marks, camera, picture, { x: 240, y: 100 }, 1)).toBeNull();
    expect(markAt([marks[2]], camera, picture, { x: 200, y: 100 }, 1)).toBeNull();
  });

  test("a key is taken hold of from further off than a frame beside it; a flat mark is where the picture has it", () => {
    const key = { ...marks[0], isKey: true };
    expect(markAt([key, marks[1]], camera, picture, { x: 204, y: 100 }, 1)?.mark.frame).toBe(7);
    expect(markAt([key], camera, picture, { x: 212, y: 100 }, 1)?.mark.frame).toBe(7);
    expect(markAt([marks[0]], camera, picture, { x: 212, y: 100 }, 1)).toBeNull();
    const flat = { ...marks[0], isFlat: true, place: [0.5, -0.5, 0.9] as const };
    expect(markAt([flat], camera, picture, { x: 300, y: 150 }, 1)?.mark.frame).toBe(7);
    expect(markAt([{ ...flat, place: [0.5, -0.5, 2] as const }], camera, picture, { x: 300, y: 150 }, 1)).toBeNull();
  });
});

describe("framing", () => {
  const hop = demoShots[1].make() as Shot;
  const player = makePlayer(hop);

  test("a picked part is framed with what hangs on it, the figure without set and camera", () => {
    player.pose(1);
    const whole = boundsOf(hop.rig, player, []);
    const tail = boundsOf(hop.rig, player, ["tail-1"]);
    const tip = boundsOf(hop.rig, player, ["tail-4"]);
    expect(tail.radius).toBeLessThan(whole.radius);
    expect(tip.radius).toBeLessThan(tail.radius);
    // An otter is less than two metres tall, wherever ferry and camera are.
    expect(whole.radius).toBeLessThan(1.5);
    for (const bounds of [whole, tail, tip]) for (const place of bounds.centre) expect(Number.isFinite(place)).toBe(true);
  });
});
