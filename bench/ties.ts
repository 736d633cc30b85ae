import { constantCurve } from "../packages/core/src/curve/make.ts";
import { makePlayer, type Player } from "../packages/core/src/evaluate/makePlayer.ts";
import { pullPose } from "../packages/core/src/figure/pullPose.ts";
import { mapCurves } from "../packages/core/src/model/shotFields.ts";
import type { Shot } from "../packages/core/src/model/shot.ts";
import { checkSettings, operations } from "../packages/core/src/operations/catalogue.ts";
import { noContext, type Operation, type Scope, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { runOperation } from "../packages/core/src/operations/runOperation.ts";
import { liveResult } from "../packages/core/src/operations/shared/keyResult.ts";
import { demoShots } from "../packages/demo/src/index.ts";
import { atMost, medianRun, medians, type Row } from "./measure.ts";

async function run<Settings>(operation: Operation<Settings>, shot: Shot, settings: object, scope: Partial<Scope> = {}): Promise<Shot> {
  const checked = checkSettings(operation as Operation, settings) as Settings;
  return (await runOperation(operation, shot, { ...WHOLE_FIGURE, ...scope }, checked, noContext)).shot;
}

const demo = async (id: string): Promise<Shot> => (await demoShots.find((one) => one.id === id)?.make()) as Shot;

const all =
  (player: Player, { start, end }: Shot["range"], rounds = 6) =>
  () => {
    for (let n = 0; n < rounds; n++) for (let frame = start; frame <= end; frame++) player.pose(frame);
  };

/** The demo's figure with twenty constraints of every kind. */
async function tied(given: Shot): Promise<Shot> {
  let shot = given;
  for (const control of ["tail-1", "tail-2", "cap", "jaw", "ear-left", "ear-right"])
    shot = await run(operations.followTarget, shot, { target: "hook", what: "turn" }, { controls: [control] });
  for (const control of ["head", "neck", "lantern-body", "tassel-1"])
    shot = await run(operations.aimAt, shot, { target: "hook" }, { controls: [control] });
  for (const control of ["hand-left", "hand-right"]) shot = await run(operations.reachFor, shot, {}, { controls: [control] });
  shot = await run(operations.plantEnds, shot, { find: "range", speed: 9, height: 9 });
  for (const [control, space] of [
    ["tail-4", "hips"],
    ["finger-1-left", "*world"],
    ["tassel-2", "chest"],
    ["thumb-right", "chest"],
  ])
    shot = await run(operations.switchSpace, shot, { space, frame: 10 }, { controls: [control] });
  shot = await run(operations.addCarrier, shot, {}, { controls: ["ferryman"] });
  return run(operations.addCarrier, shot, {}, { controls: ["tail-3"] });
}

export async function benchTies(): Promise<Row[]> {
  const given = await demo("demo-hop-aboard");
  const many = await tied(given);
  // Constraints that are off cost what none cost.
  const none = { ...many, constraints: many.constraints.map((one) => ({ ...one, on: false })) };
  const frames = 6 * (given.range.end - given.range.start + 1);
  const [without, off, led] = [makePlayer({ ...none, constraints: [] }), makePlayer(none), makePlayer(many)];
  const played = await medians({ without: all(without, given.range), off: all(off, given.range), led: all(led, given.range) });
  const more = (played.led - played.without) / frames;

  // The idle over and over for as long as the capture is, with a carrier above all of it.
  const idle = await demo("demo-waiting");
  const long = mapCurves({ ...idle, range: { start: 1, end: 2752 } }, (curve) =>
    curve.times.length > 1 ? { ...curve, runOut: { kind: "repeat", rounds: 0 } } : curve,
  );
  const controls = long.rig.controls.slice(0, 48).map(({ id }) => id);
  const carried = await run(operations.addCarrier, long, {});
  const moved = { ...carried, base: { ...carried.base, "carrier.moveX": constantCurve(3, 1), "carrier.rotateY": constantCurve(30, 1) } };
  const baked = await medianRun(() => run(operations.bakeDown, moved, { into: "*world", keys: "every" }, { controls }), 3);

  const planted = await run(operations.plantEnds, given, { find: "range" });
  const keys = ["hips.moveX", "hips.moveY", "hips.moveZ"];
  const live = liveResult(planted, "base", 5, keys);
  let n = 0;
  const drag = await medians({
    drag: () => {
      const goal = [0.3, 0.36 - 0.001 * (n++ % 60), 0.01] as const;
      live.aim(pullPose(live.player, 5, { grip: { control: "hips", spot: [0, 0, 0] }, by: "reach", goal }));
      live.player.pose(5);
    },
  });
  return [
    {
      ...atMost("A shot without constraints, a frame", played.without / frames, 1),
      note: `with ${many.constraints.length} that are off ${(played.without / played.off).toFixed(2)} × as quick`,
    },
    {
      ...atMost(`${many.constraints.length} constraints of every kind on the demo's figure, a frame beyond none`, more, 0.05),
      note: `${(played.without / frames).toFixed(4)} ms without`,
    },
    {
      ...atMost(`${controls.length} controls baked into the world over 2 752 frames, keys on every frame, with its report`, baked, 1500),
    },
    atMost("Hips of a figure with planted feet dragged: a step, drawn pose and all", drag.drag, 16),
  ];
}
