import { makePlayer, noContext, operationById, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { PerspectiveCamera, Vector3 } from "three";
import { placeCamera } from "../src/bench/view/cameras.ts";

/** A view as large as a laptop's screen. */
const [WIDTH, HEIGHT] = [1280, 800];

/** Where every control of the figure stands on the screen, frame by frame, seen by the shot camera. */
function onScreen(shot: Shot): number[][] {
  const player = makePlayer(shot);
  const camera = new PerspectiveCamera(50, WIDTH / HEIGHT, 0.1, 100);
  const place = new Vector3();
  const frames: number[][] = [];
  for (let frame = shot.range.start; frame <= shot.range.end; frame++) {
    player.pose(frame);
    placeCamera(camera, "shot", shot, player);
    camera.updateMatrixWorld();
    camera.updateProjectionMatrix();
    const pixels: number[] = [];
    for (const [i, control] of shot.rig.controls.entries()) {
      if (control.part === "set") continue;
      place.fromArray(player.worlds, i * 16 + 12).project(camera);
      pixels.push(((place.x + 1) * WIDTH) / 2, ((1 - place.y) * HEIGHT) / 2);
    }
    frames.push(pixels);
  }
  return frames;
}

/** Distances in pixels between two rows of screen places. */
const apart = (a: readonly number[], b: readonly number[]) =>
  Array.from({ length: a.length / 2 }, (_, i) => Math.hypot(a[2 * i] - b[2 * i], a[2 * i + 1] - b[2 * i + 1]));

/** Mean change of speed from frame to frame, pixels: what shimmers. */
function shimmer(frames: readonly (readonly number[])[]): number {
  let sum = 0;
  for (let f = 1; f + 1 < frames.length; f++)
    for (let k = 0; k < frames[f].length; k++) sum += Math.abs(frames[f - 1][k] - 2 * frames[f][k] + frames[f + 1][k]);
  return sum / ((frames.length - 2) * frames[0].length);
}

test("the captured shot simplified at 0.5° and 4 mm cannot be told from the original at playback", async () => {
  const shot = await (demoShots.find(({ name }) => name === "Captured signal") as (typeof demoShots)[number]).make();
  const simplify = operationById("simplify");
  const { shot: after } = await simplify.run(shot, WHOLE_FIGURE, simplify.settings.parse({ rotation: 0.5, move: 0.004 }), noContext);
  const [was, is] = [onScreen(shot), onScreen(after)];
  const off = was.flatMap((frame, f) => apart(frame, is[f])).sort((a, b) => a - b);
  // The fewest keys use the tolerance up: on a screen-filling view half of all places are off by less than a pixel and a half.
  expect(off[off.length >> 1]).toBeLessThan(1.5);
  expect(off[Math.floor(off.length * 0.99)]).toBeLessThan(4);
  expect(off.at(-1)).toBeLessThan(5);
  // What could give it away is shimmer, and of that there is less than before, not more.
  expect(shimmer(is)).toBeLessThan(0.7 * shimmer(was));
});
