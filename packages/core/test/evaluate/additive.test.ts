import {
  AnimationClip,
  AnimationMixer,
  AnimationUtils,
  NormalAnimationBlendMode,
  Object3D,
  Quaternion,
  QuaternionKeyframeTrack,
} from "three";
import { linearCurve, linearFrame } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import { channelKey, rotateChannels } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { captureShot } from "../help/capture.ts";

const FRAMES = 120;
const axes = rotateChannels;

/** A wave on every joint, as a pass. */
function wavePass(shot: Shot, n: number) {
  const frame = linearFrame(Float64Array.from({ length: FRAMES }, (_, i) => i + 1));
  const curves = Object.fromEntries(
    shot.rig.controls.flatMap((control, c) =>
      axes.map((channel, k) => [
        channelKey(control.id, channel),
        linearCurve(
          frame,
          Float64Array.from({ length: FRAMES }, (_, i) => 9 * Math.sin(i / (5 + n) + c + k)),
        ),
      ]),
    ),
  );
  return { ...makePass(`wave-${n}`, `Wave ${n}`, "adds", curves), compose: "rotation" as const };
}

test("adding as rotations equals three's additive mixing (makeClipAdditive, AnimationMixer) within 1e-5 at every frame", () => {
  const shot: Shot = { ...captureShot(), range: { start: 1, end: FRAMES } };
  const passes = [0, 1, 2].map((n) => wavePass(shot, n));
  const ours = makePlayer({ ...shot, passes });

  const root = new Object3D();
  for (const control of shot.rig.controls) {
    const bone = new Object3D();
    bone.name = control.id;
    root.add(bone);
  }
  const times = Array.from({ length: FRAMES }, (_, i) => i);
  const clipOf = (made: Shot, name: string) => {
    const player = makePlayer(made);
    const columns = shot.rig.controls.map(() => [] as number[]);
    for (let frame = 1; frame <= FRAMES; frame++) {
      player.pose(frame);
      columns.forEach((column, i) => {
        column.push(...player.turns.subarray(i * 4, i * 4 + 4));
      });
    }
    return new AnimationClip(
      name,
      // A frame longer than its keys, so that the last one is not wrapped to the start.
      FRAMES,
      shot.rig.controls.map((control, i) => new QuaternionKeyframeTrack(`${control.id}.quaternion`, times, columns[i])),
    );
  };
  const mixer = new AnimationMixer(root);
  const still = new AnimationClip(
    "still",
    0,
    shot.rig.controls.map((control) => new QuaternionKeyframeTrack(`${control.id}.quaternion`, [0], [0, 0, 0, 1])),
  );
  const basic = mixer.clipAction(clipOf(shot, "base"));
  expect(basic.blendMode).toBe(NormalAnimationBlendMode);
  basic.play();
  for (const [n, pass] of passes.entries()) {
    const alone: Shot = { ...shot, base: pass.curves };
    mixer.clipAction(AnimationUtils.makeClipAdditive(clipOf(alone, `wave ${n}`), 0, still, 30)).play();
  }
  let worst = 0;
  const turn = new Quaternion();
  for (let frame = 1; frame <= FRAMES; frame++) {
    mixer.setTime(frame - 1);
    ours.pose(frame);
    shot.rig.controls.forEach((control, i) => {
      turn.copy((root.getObjectByName(control.id) as Object3D).quaternion);
      worst = Math.max(worst, quatAngle(ours.turns, i * 4, turn.toArray(), 0));
    });
  }
  // Degrees; three keeps its tracks as 32-bit floats.
  expect(worst * (Math.PI / 180)).toBeLessThan(1e-5);
});

test("adding per channel equals the plain sum of the curves within 1e-12", () => {
  const shot = captureShot();
  const passes = [0, 1].map((n) => ({ ...wavePass(shot, n), compose: "channel" as const }));
  const all = makePlayer({ ...shot, passes });
  const parts = [shot, ...passes.map((pass) => ({ ...shot, base: pass.curves }))].map((s) => makePlayer(s));
  for (const frame of [1, 33.5, 120]) {
    all.readValues(frame);
    for (const part of parts) part.readValues(frame);
    for (const [key, i] of all.channelIndex)
      if (key.includes(".rotate"))
        expect(Math.abs(all.values[i] - parts.reduce((sum, part) => sum + part.values[i], 0))).toBeLessThan(1e-12);
  }
});
