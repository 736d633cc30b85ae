import fc from "fast-check";
import { validateBytes } from "gltf-validator";
import type { Curve, RunKind } from "../../src/curve/curve.ts";
import { Tangent, type TangentKind } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { readShot } from "../../src/formats/formats.ts";
import { putBack } from "../../src/formats/gltf/putBack.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { makeCharacter, takeApart } from "../help/characters.ts";
import { passOf } from "../help/shots.ts";
import { gltfInThree } from "../help/three.ts";

// Whole files are made, read and played.
jest.setTimeout(60_000);

/** Keys anywhere, also between frames, of any kind, going on in any way beyond their ends. */
const anyCurve = fc
  .record({
    times: fc.uniqueArray(fc.integer({ min: 4, max: 100 }), { minLength: 1, maxLength: 5 }),
    values: fc.array(fc.double({ min: -40, max: 40, noNaN: true }), { minLength: 5, maxLength: 5 }),
    kind: fc.constantFrom<TangentKind>(Tangent.auto, Tangent.linear, Tangent.stepped, Tangent.flat),
    runOut: fc.constantFrom<RunKind>("hold", "repeat", "travel", "pingpong", "straight"),
    rounds: fc.integer({ min: 0, max: 2 }),
  })
  .map(({ times, values, kind, runOut, rounds }): Curve => {
    const sorted = times.sort((a, b) => a - b).map((quarter, i) => [quarter / 4, values[i]] as const);
    return { ...curveFrom(sorted, kind), runOut: { kind: runOut, rounds } };
  });

const anyChange = fc.record({
  turns: fc.array(anyCurve, { minLength: 3, maxLength: 3 }),
  way: anyCurve,
  pass: fc.option(fc.record({ curve: anyCurve, kind: fc.constantFrom("adds", "replaces"), solo: fc.boolean(), on: fc.boolean() })),
  scale: fc.constantFrom(1, -1, 1.4),
  shape: anyCurve,
});

/** A curve of lengths rather than degrees. */
const small = (curve: Curve): Curve => ({
  ...curve,
  values: curve.values.map((value) => value / 100),
  slopeIn: curve.slopeIn.map((slope) => slope / 100),
  slopeOut: curve.slopeOut.map((slope) => slope / 100),
});

test("whatever is done to the motion, three plays the file handed back as it is seen, at every frame, and the validator finds nothing new", async () => {
  const file = await makeCharacter({ influences: 2, morphs: true, animations: 2 });
  const { shot } = await readShot(file, "heron.glb");
  const was = (await validateBytes(file)).issues;
  const names = shot.rig.controls.filter(({ name }) => name !== "Shape").map(({ name }) => name);
  await fc.assert(
    fc.asyncProperty(anyChange, async ({ turns, way, pass, scale, shape }) => {
      const passes: Pass[] = pass
        ? [
            { ...passOf(pass.kind, { "Neck.rotateX": pass.curve, "Body.rotateY": pass.curve }), solo: pass.solo, on: pass.on },
            passOf("adds", { "Head.rotateZ": constantCurve(9) }, { id: "other" }),
          ]
        : [];
      const base = {
        ...shot.base,
        "Neck.rotateX": turns[0],
        "Neck.rotateY": turns[1],
        "Body.rotateZ": turns[2],
        "Heron.moveX": small(way),
        "Wing_L.scaleX": constantCurve(scale),
        "Wing_L.scaleY": constantCurve(1),
        "Wing_L.scaleZ": constantCurve(1),
        "Shape.puffed %": shape,
      };
      const changed: Shot = { ...shot, base, passes };
      const { bytes, notes } = await putBack(changed, { asset: file });
      const origin = Number(/frame (-?\d+) is second 0/.exec(notes.join())?.[1] ?? 1);
      const frames = Array.from({ length: shot.range.end - shot.range.start + 1 }, (_, n) => shot.range.start + n);
      const places = (await gltfInThree(bytes))(
        names,
        frames.map((frame) => (frame - origin) / 24 + 1e-6),
      );
      const player = makePlayer(changed);
      let size = 1.3;
      let worst = 0;
      frames.slice(0, -1).forEach((frame, n) => {
        player.pose(frame);
        names.forEach((name, i) => {
          const at = (player.controlIndex.get(name) as number) * 16 + 12;
          const [x, y, z] = player.worlds.subarray(at, at + 3);
          size = Math.max(size, Math.hypot(x, y, z));
          worst = Math.max(worst, Math.hypot(places[i][n].x - x, places[i][n].y - y, places[i][n].z - z));
        });
      });
      expect(worst / size).toBeLessThan(1e-4);
      const is = (await validateBytes(bytes)).issues;
      for (const count of ["numErrors", "numWarnings", "numInfos", "numHints"] as const) expect(is[count]).toBeLessThanOrEqual(was[count]);
      expect(takeApart(bytes).json.meshes).toEqual(takeApart(file).json.meshes);
    }),
    { numRuns: 60, seed: 14 },
  );
});

test("with hardly anything left that moves, nothing unused is left in the file that was not there", async () => {
  const file = await makeCharacter({ influences: 2, animations: 2 });
  const { shot } = await readShot(file, "heron.glb");
  const base = Object.fromEntries(Object.entries(shot.base).filter(([key]) => key.startsWith("Neck.") || key.startsWith("Heron.")));
  const { bytes } = await putBack({ ...shot, base }, { asset: file });
  const [was, is] = [(await validateBytes(file)).issues, (await validateBytes(bytes)).issues];
  expect(is.numInfos).toBeLessThanOrEqual(was.numInfos);
});
