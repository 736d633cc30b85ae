import { AnimationClip, AnimationMixer, AnimationUtils, Object3D, QuaternionKeyframeTrack, VectorKeyframeTrack } from "three";
import { constantCurve, curveFrom, linearCurve, linearFrame } from "../packages/core/src/curve/make.ts";
import { makePlayer } from "../packages/core/src/evaluate/makePlayer.ts";
import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { channelKey, rotateChannels } from "../packages/core/src/model/rig.ts";
import type { Pass, Shot } from "../packages/core/src/model/shot.ts";
import { makePass } from "../packages/core/src/model/shotFields.ts";
import { bakePasses } from "../packages/core/src/operations/passes/bakePasses.ts";
import { noContext, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { runOperation } from "../packages/core/src/operations/runOperation.ts";
import { demoShots } from "../packages/demo/src/index.ts";
import { captureBytes } from "./capture.ts";
import { atMost, medianRun, medians, ratio, type Row } from "./measure.ts";

const FRAMES = 600;
/** Frames between two pictures: playback rarely falls on whole frames, where interpolation has nothing to do. */
const STEP = 0.973;

function wavePass(shot: Shot, n: number, compose: Pass["compose"]): Pass {
  const frame = linearFrame(Float64Array.from({ length: FRAMES }, (_, i) => i + 1));
  const curves = Object.fromEntries(
    shot.rig.controls.flatMap((control, c) =>
      rotateChannels.map((channel, k) => [
        channelKey(control.id, channel),
        linearCurve(
          frame,
          Float64Array.from({ length: FRAMES }, (_, i) => 4 * Math.sin(i / (5 + n) + c + k)),
        ),
      ]),
    ),
  );
  return { ...makePass(`wave-${n}`, `Wave ${n}`, "adds", curves), compose };
}

/** The same figure and motion as three plays it: a tree of objects, a base action and three additive ones. */
function threeFigure(shot: Shot, passes: readonly Pass[]): () => void {
  const objects = new Map<string, Object3D>();
  const root = new Object3D();
  for (const control of shot.rig.controls) {
    const object = new Object3D();
    object.name = control.id;
    object.position.set(...(control.rest as [number, number, number]));
    (control.parent === null ? root : (objects.get(control.parent) as Object3D)).add(object);
    objects.set(control.id, object);
  }
  const times = Array.from({ length: FRAMES }, (_, i) => i);
  const clip = (made: Shot, name: string, moves: boolean) => {
    const player = makePlayer(made);
    const turns = made.rig.controls.map(() => [] as number[]);
    const places: number[] = [];
    for (let frame = 1; frame <= FRAMES; frame++) {
      player.pose(frame);
      turns.forEach((column, i) => {
        column.push(...player.turns.subarray(i * 4, i * 4 + 4));
      });
      places.push(...player.worlds.subarray(12, 15));
    }
    const tracks = made.rig.controls.map((control, i) => new QuaternionKeyframeTrack(`${control.id}.quaternion`, times, turns[i]));
    if (!moves) return new AnimationClip(name, FRAMES, tracks);
    return new AnimationClip(name, FRAMES, [...tracks, new VectorKeyframeTrack(`${made.rig.controls[0].id}.position`, times, places)]);
  };
  const mixer = new AnimationMixer(root);
  mixer.clipAction(clip(shot, "base", true)).play();
  for (const pass of passes) mixer.clipAction(AnimationUtils.makeClipAdditive(clip({ ...shot, base: pass.curves }, pass.id, false))).play();
  return () => {
    for (let frame = 0; frame < FRAMES; frame++) {
      mixer.setTime(frame * STEP);
      root.updateMatrixWorld(true);
    }
  };
}

export async function benchStack(): Promise<Row[]> {
  const shot: Shot = { ...readBvh({ bytes: captureBytes, name: "capture" }).shot, range: { start: 1, end: FRAMES } };
  const play = (compose: Pass["compose"], weight = 1) => {
    const player = makePlayer({
      ...shot,
      passes: [0, 1, 2].map((n) => ({ ...wavePass(shot, n, compose), weight: constantCurve(weight) })),
    });
    return () => {
      for (let frame = 0; frame < FRAMES; frame++) player.pose(1 + frame * STEP);
    };
  };
  const times = await medians({
    channels: play("channel"),
    rotations: play("rotation"),
    weighted: play("rotation", 0.7),
    three: threeFigure(
      shot,
      [0, 1, 2].map((n) => wavePass(shot, n, "rotation")),
    ),
  });
  const fifty = await fiftyPasses();
  const growth = await costGrowth();
  const micro = (ms: number) => `${((ms * 1000) / FRAMES).toFixed(1)} µs a frame`;
  const pair = { measured: times, theirs: "three", name: "three AnimationMixer, three additive actions" };
  return [
    ratio("Base and three adding passes to world matrices, per channel", { ...pair, ours: "channels" }, 5, micro(times.channels)),
    ratio("The same composed as rotations", { ...pair, ours: "rotations" }, 4, micro(times.rotations)),
    ratio("The same, with weights other than 1", { ...pair, ours: "weighted" }, 2.5, micro(times.weighted)),
    {
      ...atMost("50 passes on the demo's figure, each on a tenth of it, a frame", fifty.ms, 0.5),
      note: `${fifty.alone.toFixed(3)} ms without passes`,
    },
    {
      work: "50 passes on one control of the demo's figure, a frame beyond none",
      ms: growth.one,
      against: { name: "50 passes on all of its controls", ms: growth.all },
      target: "at most a tenth",
      met: growth.one < growth.all / 10,
      note: `${growth.controls} controls`,
    },
    atMost("Merging 10 passes over 2 752 frames of the capture, keys on every frame", await mergeTen(), 2000),
  ];
}

/** Milliseconds a frame that fifty keyed passes add on one control, and on all: a pass costs where it changes something. */
async function costGrowth(): Promise<{ one: number; all: number; controls: number }> {
  const made = await demoShots[4].make();
  const controls = made.rig.controls.filter(({ part }) => part !== "set");
  const under = (some: typeof controls) => played({ ...made, passes: Array.from({ length: 50 }, (_, n) => swayPass(some, n)) });
  const times = await medians({ none: played(made), one: under(controls.slice(8, 9)), all: under(controls) });
  return { one: (times.one - times.none) / 144, all: (times.all - times.none) / 144, controls: controls.length };
}

/** Milliseconds a frame of the demo's figure under fifty keyed passes, each on a tenth of its controls; and without any. */
async function fiftyPasses(): Promise<{ ms: number; alone: number }> {
  const made = await demoShots[4].make();
  const controls = made.rig.controls.filter(({ part }) => part !== "set");
  const passes = Array.from({ length: 50 }, (_, n) =>
    swayPass(
      controls.filter((_, i) => i % 10 === n % 10),
      n,
    ),
  );
  const times = await medians({ fifty: played({ ...made, passes }), alone: played(made) });
  return { ms: times.fifty / 144, alone: times.alone / 144 };
}

/** A keyed pass on the angles of some controls. */
function swayPass(controls: Shot["rig"]["controls"], n: number): Pass {
  const curves = Object.fromEntries(
    controls.flatMap(({ id }) =>
      rotateChannels.map((channel, k) => [
        channelKey(id, channel),
        curveFrom([
          [1, 0],
          [30, k + n * 0.1],
          [73, 0],
        ]),
      ]),
    ),
  );
  return makePass(`p-${n}`, `Pass ${n}`, "adds", curves);
}

/** The demo's idle played through at half frames: 144 poses. */
function played(shot: Shot): () => void {
  const player = makePlayer(shot);
  return () => {
    for (let frame = 1; frame < 73; frame += 0.5) player.pose(frame);
  };
}

/** Milliseconds to merge ten adding passes on every rotation of the whole capture into base motion. */
async function mergeTen(): Promise<number> {
  const { shot } = readBvh({ bytes: captureBytes, name: "capture" });
  const stacked = { ...shot, passes: Array.from({ length: 10 }, (_, n) => wavePass(shot, n, "channel")) };
  const settings = bakePasses.settings.parse({ keys: "every" });
  return medianRun(() => runOperation(bakePasses, stacked, WHOLE_FIGURE, settings, noContext), 3);
}
