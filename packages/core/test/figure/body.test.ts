import { bodyOf } from "../../src/figure/body/bodyOf.ts";
import type { BodySurface, FigureBody } from "../../src/figure/body/figureBody.ts";
import { linearColour } from "../../src/figure/body/linearColour.ts";
import { surfaceNets } from "../../src/figure/body/surfaceNets.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { restWorlds } from "../../src/figure/restPlace.ts";
import { makeControl, type Rig } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { otterBody } from "../../../demo/src/otterBody.ts";
import { demoShots } from "../../../demo/src/index.ts";
import { captureShot } from "../help/capture.ts";

// Whole files are made, read and played.
jest.setTimeout(30_000);

/** How often each edge of a surface is run along in each direction; of a closed one, once there and once back. */
function openEdges(index: ArrayLike<number>): number {
  const runs = new Map<string, number>();
  for (let t = 0; t < index.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [index[t + k], index[t + ((k + 1) % 3)]];
      const name = a < b ? `${a} ${b}` : `${b} ${a}`;
      runs.set(name, (runs.get(name) ?? 0) + (a < b ? 1 : -1));
    }
  return [...runs.values()].filter((sum) => sum !== 0).length;
}

/** Enclosed volume, above 0 when triangles are counter-clockwise from outside (divergence theorem). */
function volume(positions: ArrayLike<number>, index: ArrayLike<number>): number {
  let sum = 0;
  for (let t = 0; t < index.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((r) => positions[index[t + k] * 3 + r]));
    sum += a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  }
  return sum / 6;
}

test("the net over a ball is closed, faces outwards, and holds the ball's volume (4/3·π·r³) within 2 %", () => {
  const [n, cell, r] = [24, 0.1, 0.9];
  const values = Float32Array.from({ length: n ** 3 }, (_, i) => {
    const [x, y, z] = [i % n, Math.floor(i / n) % n, Math.floor(i / n / n)].map((at) => -1.15 + at * cell);
    return Math.hypot(x, y, z) - r;
  });
  const { positions, index } = surfaceNets({ low: [-1.15, -1.15, -1.15], cell, size: [n, n, n], values });
  expect(openEdges(index)).toBe(0);
  const ball = (4 / 3) * Math.PI * r ** 3;
  expect(Math.abs(volume(positions, index) / ball - 1)).toBeLessThan(0.02);
});

/** Every vertex where linear blending puts it. */
function posed({ controls, inverses }: FigureBody, surface: BodySurface, shot: Shot, frame: number): Float64Array {
  const player = makePlayer(shot);
  player.pose(frame);
  const count = surface.positions.length / 3;
  const out = new Float64Array(count * 3);
  for (let n = 0; n < count; n++)
    for (let k = 0; k < 4; k++) {
      const weight = surface.weights[n * 4 + k];
      if (weight === 0) continue;
      const joint = surface.joints[n * 4 + k];
      const at = (player.controlIndex.get(controls[joint]) as number) * 16;
      const [x, y, z] = surface.positions.subarray(n * 3, n * 3 + 3);
      const local = [0, 1, 2].map((r) =>
        [x, y, z].reduce((sum, value, c) => sum + inverses[joint * 16 + c * 4 + r] * value, inverses[joint * 16 + 12 + r]),
      );
      for (let r = 0; r < 3; r++)
        out[n * 3 + r] += weight * local.reduce((sum, value, c) => sum + player.worlds[at + c * 4 + r] * value, player.worlds[at + 12 + r]);
    }
  return out;
}

const longest = (positions: ArrayLike<number>, index: ArrayLike<number>): number => {
  let most = 0;
  for (let t = 0; t < index.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [index[t + k] * 3, index[t + ((k + 1) % 3)] * 3];
      most = Math.max(
        most,
        Math.hypot(positions[a] - positions[b], positions[a + 1] - positions[b + 1], positions[a + 2] - positions[b + 2]),
      );
    }
  return most;
};

describe("the otter's skin", () => {
  test("is one closed surface, low in polygons, whose weights sum to 1", async () => {
    const { rig } = await demoShots[0].make();
    const [fur] = otterBody(rig).surfaces;
    expect(openEdges(fur.index)).toBe(0);
    expect(volume(fur.positions, fur.index)).toBeGreaterThan(0.02);
    expect(fur.index.length / 3).toBeLessThan(10_000);
    for (let n = 0; n < fur.weights.length; n += 4)
      expect(fur.weights[n] + fur.weights[n + 1] + fur.weights[n + 2] + fur.weights[n + 3]).toBeCloseTo(1, 5);
    // In one piece: every vertex is reached from the first.
    const beside = new Map<number, number[]>();
    for (let t = 0; t < fur.index.length; t += 3)
      for (let k = 0; k < 3; k++) beside.set(fur.index[t + k], [...(beside.get(fur.index[t + k]) ?? []), fur.index[t + ((k + 1) % 3)]]);
    const reached = new Set([0]);
    for (const open = [0]; open.length > 0; )
      for (const next of beside.get(open.pop() as number) ?? [])
        if (!reached.has(next)) {
          reached.add(next);
          open.push(next);
        }
    expect(reached.size).toBe(fur.positions.length / 3);
  });

  test.each(demoShots.map(({ name, make }) => [name, make] as const))(
    "has no step at a joint in any pose of %s: no edge grows past three times the longest one",
    async (_name, make) => {
      const shot = await make();
      const body = otterBody(shot.rig);
      const [fur] = body.surfaces;
      const bound = longest(fur.positions, fur.index);
      for (let frame = shot.range.start; frame <= shot.range.end; frame += 6)
        expect(longest(posed(body, fur, shot, frame), fur.index)).toBeLessThan(bound * 3);
    },
  );
});

describe("a body for a rig that has none", () => {
  const { rig } = captureShot();
  const body = bodyOf(rig);

  test("closes around every chain, reaches the joints, and binds each vertex to controls that are there", () => {
    for (const surface of body.surfaces) {
      expect(openEdges(surface.index)).toBe(0);
      expect(Math.max(...surface.joints)).toBeLessThan(rig.controls.length);
    }
    const [low, high] = [Infinity, -Infinity].map((start, side) =>
      body.surfaces.reduce(
        (most, { positions }) =>
          positions.reduce((so, value, i) => (i % 3 !== 1 ? so : side === 0 ? Math.min(so, value) : Math.max(so, value)), most),
        start,
      ),
    );
    const worlds = restWorlds(rig);
    const heights = rig.controls.map((_, i) => worlds[i * 16 + 13]);
    expect(low).toBeLessThan(Math.min(...heights));
    expect(high).toBeGreaterThan(Math.max(...heights));
  });

  test("tells sides apart by form and pattern: left limbs are banded and cuffed, right ones are of one tone", () => {
    const tones = (side: RegExp) => {
      const found = new Set<string>();
      for (const { positions, joints, colours } of body.surfaces)
        for (let n = 0; n < positions.length / 3; n++)
          if (side.test(rig.controls[joints[n * 4]].name)) found.add([0, 1, 2].map((k) => colours[n * 3 + k].toFixed(2)).join());
      return found.size;
    };
    expect(tones(/^RightForeArm$/)).toBe(1);
    expect(tones(/^LeftForeArm$/)).toBeGreaterThan(1);
  });

  test("a rig out of all proportion is drawn coarser", () => {
    const controls = [
      makeControl("a", { tip: [0, 1e6, 0] }),
      makeControl("Hand", { parent: "a", rest: [1e-4, 0, 0] }),
      makeControl("b", { rest: [3e5, 0, 2] }),
    ];
    const { surfaces } = bodyOf({ id: "r", name: "r", controls, figure: null });
    expect(surfaces.length).toBeGreaterThan(0);
    // On cells fit for a fingertip of this hand it would have thousands of millions of corners.
    for (const { positions } of surfaces) expect(positions.length / 3).toBeLessThan(1000);
  });

  test("three thousand joints beside one another are drawn over the three hundred largest, on a coarse grid", () => {
    const controls = Array.from({ length: 3000 }, (_, i) =>
      makeControl(`j${i}`, i === 0 ? {} : { parent: "j0", rest: [Math.sin(i), Math.cos(i * 1.7), Math.sin(i * 3.1)] }),
    );
    const { surfaces } = bodyOf({ id: "r", name: "r", controls, figure: null });
    expect(surfaces[0].index.length).toBeGreaterThan(100);
    // Fifty-one cells long at the most, however many volumes there are; as many vertices as a ball on such a grid has, threefold.
    expect(surfaces[0].positions.length / 3).toBeLessThan(3 * Math.PI * 51 ** 2);
    expect(new Set(surfaces[0].joints).size).toBeLessThanOrEqual(300);
  });

  test("is drawn for any rig: one control, a chain without names, scenery only", () => {
    const one = makeControl("a");
    const chain = Array.from({ length: 4 }, (_, n) => makeControl(`n${n}`, { parent: n === 0 ? null : `n${n - 1}`, rest: [0, 1, 0] }));
    for (const controls of [[one], chain, [makeControl("shed", { role: "set" })]]) {
      const rigOf: Rig = { id: "r", name: "r", controls, figure: null };
      const { surfaces } = bodyOf(rigOf);
      expect(surfaces.length).toBeGreaterThan(0);
      for (const { positions } of surfaces) expect(positions.every(Number.isFinite)).toBe(true);
    }
  });
});

test("colours are read as sRGB (IEC 61966-2-1: mid grey #bcbcbc is half as light as white)", () => {
  expect(linearColour("#bcbcbc")[0]).toBeCloseTo(0.5029, 3);
  expect(linearColour("#ffffff")).toEqual([1, 1, 1]);
});
