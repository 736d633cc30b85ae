import { arcBends, marksOf } from "../apps/web/src/bench/view/arcs/arcMarks.ts";
import { setKey } from "../packages/core/src/curve/edit.ts";
import { curveFrom } from "../packages/core/src/curve/make.ts";
import { arcPaths } from "../packages/core/src/evaluate/arcPaths.ts";
import { makePlayer } from "../packages/core/src/evaluate/makePlayer.ts";
import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { makeMirrorer, type PoseValues } from "../packages/core/src/figure/mirror.ts";
import type { Shot } from "../packages/core/src/model/shot.ts";
import { checkSettings, operations } from "../packages/core/src/operations/catalogue.ts";
import { noContext, type Operation, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { placeOnField, poseOfFrame } from "../packages/core/src/operations/passes/poseField.ts";
import { runOperation } from "../packages/core/src/operations/runOperation.ts";
import { demoShots } from "../packages/demo/src/index.ts";
import { captureBytes } from "./capture.ts";
import { atMost, medianRun, medians, type Row } from "./measure.ts";

const demo = async (id: string): Promise<Shot> => (await demoShots.find((one) => one.id === id)?.make()) as Shot;

async function run<Settings>(operation: Operation<Settings>, shot: Shot, settings: object = {}): Promise<Shot> {
  const checked = checkSettings(operation as Operation, settings) as Settings;
  return (await runOperation(operation, shot, WHOLE_FIGURE, checked, noContext)).shot;
}

const timed = (work: () => Promise<unknown>, rounds = 7): Promise<number> => medianRun(work, rounds);

/** A key of the chest dragged to ever other values, 24 arcs over 300 frames drawn after each. */
async function arcRow(): Promise<Row> {
  const given = await demo("demo-waiting");
  const frames = Float64Array.from({ length: 300 }, (_, n) => n + 1);
  const looped = { ...given, range: { start: 1, end: 300 } };
  const controls = looped.rig.controls.slice(0, 24).map(({ id }) => id);
  const curve = looped.base["chest.rotateX"];
  const time = curve.times[curve.times.length >> 1];
  let known = { shot: looped, paths: arcPaths(looped, controls, frames) };
  let n = 0;
  const { redraw } = await medians({
    redraw: () => {
      const shot = { ...looped, base: { ...looped.base, "chest.rotateX": setKey(curve, time, 10 + (n++ % 50) / 10) } };
      const paths = arcPaths(shot, controls, frames, known);
      known = { shot, paths };
      return paths.map((path) => [marksOf(shot, path, path.places, new Set([1, 20]), false), arcBends(shot, path, null, 1.5)]);
    },
  });
  return atMost("24 arcs over 300 frames after a key was dragged: paths, marks and bends", redraw, 6);
}

/** 10 s at 24 frames a second, 5 poses of 46 controls, a recorded path. */
async function fieldRows(): Promise<Row[]> {
  const given = { ...(await demo("demo-waiting")), range: { start: 1, end: 240 } };
  const poses = [1, 12, 24, 36, 46].map((frame, n) => ({
    id: `p${n}`,
    name: `Frame ${frame}`,
    ...placeOnField(n, 5),
    values: poseOfFrame(given, frame),
  }));
  const made = await run(operations.poseField, given, { field: { poses, spot: { x: 0.5, y: 0.5 } } });
  const path = (phase: number) => curveFrom(Array.from({ length: 240 }, (_, i) => [i + 1, 0.5 + 0.4 * Math.sin(i / 7 + phase)] as const));
  const withPath = (phase: number): Shot => ({
    ...made,
    passes: made.passes.map((pass, i) =>
      i === made.passes.length - 1 ? { ...pass, curves: { "Field.x": path(phase), "Field.y": path(phase + 1) } } : pass,
    ),
  });
  const [plain, blended] = [makePlayer(given), makePlayer(withPath(0))];
  const all = (player: typeof plain) => () => {
    for (let frame = 1; frame <= 240; frame++) player.pose(frame);
  };
  const { without, with: played } = await medians({ without: all(plain), with: all(blended) });
  const more = Math.max(0, played - without) / 240;
  let phase = 0;
  const { work } = await medians({ work: () => makePlayer(withPath(phase++)) });
  return [
    atMost("a pose field of 5 poses of 46 controls, 10 s: a frame beyond the shot without it", more, 0.1),
    { work: "the same worked out anew after its path changed", ms: work },
  ];
}

export async function benchPoses(): Promise<Row[]> {
  const capture = readBvh({ bytes: captureBytes, name: "capture" }).shot;
  const walk = await demo("demo-half-a-walk");
  const mirrorer = makeMirrorer(walk.rig);
  const pose: PoseValues = poseOfFrame(walk, 7);
  const { mirrored } = await medians({ mirrored: () => mirrorer.pose(pose, pose) });
  return [
    { work: "a pose of 46 controls mirrored", ms: mirrored },
    { work: "half a walk made whole, with its report", ms: await timed(() => run(operations.otherHalf, walk)) },
    {
      work: "the capture mirrored in place, 2 752 frames, with its report",
      ms: await timed(() => run(operations.mirrorRange, capture), 3),
    },
    await arcRow(),
    ...(await fieldRows()),
  ];
}
