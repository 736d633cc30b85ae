import * as fc from "fast-check";
import { makeKey, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { invertAffine, multiplyAffine } from "../../src/maths/matrix.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { findPartners } from "../../src/figure/partners.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { checkPasses } from "../../src/passes/checkPasses.ts";
import { STEPPING_RIDES } from "../../src/passes/stepping.ts";
import { straightWarp, WARP_FRAME, warpOver } from "../../src/passes/warp.ts";
import { shotFromJson, shotToJson } from "../../src/formats/schema.ts";
import { control, movingShot, passOf, smallShot } from "../help/shots.ts";

const stepped = (settings: Record<string, unknown>, more: Partial<Pass> = {}): Pass => ({
  ...makePass("steps", "Steps", "stepping"),
  settings,
  ...more,
});
const warped = (pairs: [number, number][], more: Partial<Pass> = {}): Pass => ({
  ...makePass("warp", "Warp", "warp", { [WARP_FRAME]: curveFrom(pairs, Tangent.linear) }),
  ...more,
});

function valuesAt(shot: Shot, frame: number): Float64Array {
  const player = makePlayer(shot);
  player.readValues(frame);
  return player.values.slice();
}

describe("stepping", () => {
  test.each([
    [[1], [1, 2, 3, 4, 5, 6, 7, 8]],
    [[2], [1, 1, 3, 3, 5, 5, 7, 7]],
    [
      [2, 2, 3],
      [1, 1, 3, 3, 5, 5, 5, 8],
    ],
    [[4], [1, 1, 1, 1, 5, 5, 5, 5]],
  ])("pattern %p shows frames %p", (pattern, shown) => {
    const shot = movingShot({ passes: [stepped({ pattern })] });
    shown.forEach((frame, n) => {
      expect(valuesAt(shot, 1 + n)).toEqual(valuesAt(movingShot(), frame));
      expect(valuesAt(shot, 1.75 + n)).toEqual(valuesAt(movingShot(), frame));
    });
  });

  test("chosen frames are held until the next one; before the first the motion runs", () => {
    const shot = movingShot({ passes: [stepped({ frames: [13, 5, 25] })] });
    for (const [frame, shown] of [
      [3, 3],
      [5, 5],
      [12.5, 5],
      [13, 13],
      [24, 13],
      [40, 25],
    ])
      expect(valuesAt(shot, frame)).toEqual(valuesAt(movingShot(), shown));
  });

  test("only members are held, a control's three angles together, and only in the range", () => {
    const pass = stepped({ pattern: [4] }, { members: ["spine.rotateY"], range: { start: 9, end: 20, easeIn: 0, easeOut: 0 } });
    const player = makePlayer(movingShot({ passes: [pass] }));
    const plain = movingShot().base;
    const read = (key: string, frame: number) => {
      player.readValues(frame);
      return player.values[player.channelIndex.get(key) as number];
    };
    expect(read("spine.rotateX", 11)).toBe(sampleCurve(plain["spine.rotateX"], 9));
    expect(read("spine.rotateX", 7)).toBe(sampleCurve(plain["spine.rotateX"], 7));
    expect(read("spine.rotateX", 21)).toBe(sampleCurve(plain["spine.rotateX"], 21));
    expect(read("arm-left.rotateZ", 11)).toBe(sampleCurve(plain["arm-left.rotateZ"], 11));
  });

  test("passes below are held with the base, passes above keep moving", () => {
    const lean = {
      "spine.rotateX": curveFrom(
        [
          [1, 0],
          [49, 48],
        ],
        Tangent.linear,
      ),
    };
    const below = movingShot({ passes: [passOf("adds", lean), stepped({ pattern: [4] })] });
    const above = movingShot({ passes: [stepped({ pattern: [4] }), passOf("adds", lean)] });
    const at = makePlayer(below).channelIndex.get("spine.rotateX") as number;
    const base = movingShot().base["spine.rotateX"];
    expect(valuesAt(below, 8)[at]).toBeCloseTo(sampleCurve(base, 5) + 4, 12);
    expect(valuesAt(above, 8)[at]).toBeCloseTo(sampleCurve(base, 5) + 7, 12);
  });

  test("off, at weight 0, and switched on and off again, the shot below plays bit for bit", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 1, maxLength: 4 }),
        fc.double({ min: -5, max: 60, noNaN: true }),
        (pattern, frame) => {
          const plain = movingShot();
          const off = { ...plain, passes: [stepped({ pattern }, { on: false })] };
          const silent = { ...plain, passes: [stepped({ pattern }, { weight: constantCurve(0) })] };
          expect(valuesAt(off, frame)).toEqual(valuesAt(plain, frame));
          expect(valuesAt(silent, frame)).toEqual(valuesAt(plain, frame));
        },
      ),
    );
  });
});

describe("riding along with the camera", () => {
  const rig = {
    id: "rig-filmed",
    name: "Filmed",
    figure: null,
    controls: findPartners([
      control("root", null, [0, 1, 0]),
      control("hand", "root", [0.4, 0, 0]),
      control("camera", null, [0, 1, 5], { role: "camera", part: "" }),
    ]),
  };
  const base = {
    "root.moveX": curveFrom([
      [1, 0],
      [49, 4],
    ]),
    "hand.rotateZ": curveFrom([
      [1, 0],
      [25, 90],
      [49, 0],
    ]),
    "camera.moveX": curveFrom(
      [
        [1, 0],
        [49, 3],
      ],
      Tangent.linear,
    ),
    "camera.rotateY": curveFrom(
      [
        [1, 0],
        [49, 20],
      ],
      Tangent.linear,
    ),
  };
  const filmed = (more: Partial<Shot>) => smallShot(base, { rig, ...more });
  const rides = { control: "root", camera: "camera" };
  /** Where a control is as the camera sees it. */
  const seen = (shot: Shot, id: string, frame: number) => {
    const player = makePlayer(shot);
    player.pose(frame);
    const back = new Float64Array(16);
    const out = new Float64Array(16);
    invertAffine(back, 0, player.worlds, 16 * (player.controlIndex.get("camera") as number));
    multiplyAffine(out, 0, back, 0, player.worlds, 16 * (player.controlIndex.get(id) as number));
    return [...out];
  };
  const apart = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i])));

  test("on twos and threes the root does not move in the picture while a frame is held; without, it does", () => {
    for (const pattern of [[2], [3], [2, 3]]) {
      const shot = filmed({ passes: [stepped({ pattern, rides })] });
      const loose = filmed({ passes: [stepped({ pattern })] });
      let start = 1;
      for (let n = 0; start < 45; n++) {
        const held = pattern[n % pattern.length];
        for (let t = start + 0.5; t < start + held; t += 0.5) {
          expect(apart(seen(shot, "root", t), seen(shot, "root", start))).toBeLessThan(1e-12);
          expect(apart(seen(shot, "hand", t), seen(shot, "hand", start))).toBeLessThan(1e-12);
          expect(apart(seen(loose, "root", t), seen(loose, "root", start))).toBeGreaterThan(1e-3);
        }
        // On a frame that is shown, it is where it is without stepping.
        expect(apart(seen(shot, "root", start), seen(filmed({}), "root", start))).toBeLessThan(1e-12);
        start += held;
      }
    }
  });

  test("it is switched on and off along the shot by its own keys", () => {
    const on = curveFrom(
      [
        [1, 1],
        [21, 0],
        [31, 1],
      ],
      Tangent.stepped,
    );
    const shot = filmed({ passes: [stepped({ pattern: [2], rides }, { curves: { [STEPPING_RIDES]: on } })] });
    const jitter = (frame: number) => apart(seen(shot, "root", frame + 1), seen(shot, "root", frame));
    expect(jitter(11)).toBeLessThan(1e-12);
    expect(jitter(25)).toBeGreaterThan(1e-3);
    expect(jitter(35)).toBeLessThan(1e-12);
  });

  test("a camera that moves with the control cannot carry it, and nothing happens", () => {
    const shot = filmed({ passes: [stepped({ pattern: [2], rides: { control: "root", camera: "hand" } })] });
    expect(seen(shot, "root", 8)).toEqual(seen(filmed({ passes: [stepped({ pattern: [2] })] }), "root", 8));
  });
});

describe("time-warp", () => {
  test("plays the frame its curve says, and every frame outside its ends as it was", () => {
    const shot = movingShot({
      passes: [
        warped([
          [9, 9],
          [17, 25],
          [33, 33],
        ]),
      ],
    });
    for (const [frame, played] of [
      [4, 4],
      [9, 9],
      [13, 17],
      [17, 25],
      [25, 29],
      [33, 33],
      [40.5, 40.5],
    ])
      expect(valuesAt(shot, frame)).toEqual(valuesAt(movingShot(), played));
  });

  test("at half weight it goes half the way in time; a straight one changes nothing bit for bit", () => {
    const half = movingShot({
      passes: [
        warped(
          [
            [1, 1],
            [11, 21],
            [49, 49],
          ],
          { weight: constantCurve(0.5) },
        ),
      ],
    });
    expect(valuesAt(half, 11)).toEqual(valuesAt(movingShot(), 16));
    const straight = movingShot({ passes: [{ ...warped([]), curves: { [WARP_FRAME]: straightWarp({ start: 1, end: 49 }) } }] });
    for (let frame = 1; frame <= 49; frame++) expect(valuesAt(straight, frame)).toEqual(valuesAt(movingShot(), frame));
  });

  test("one upon the other, each reads what the one below plays", () => {
    const shot = movingShot({
      passes: [
        warped([
          [1, 1],
          [25, 37],
          [49, 49],
        ]),
        stepped({ pattern: [4] }),
      ],
    });
    // Frame 15 is held from 13, which plays 1 + 12 · 36/24 = 19.
    expect(valuesAt(shot, 15)).toEqual(valuesAt(movingShot(), 19));
  });

  test("edits are pinned at the ends, and one that runs backward is refused with its place", () => {
    const before = movingShot({
      passes: [
        warped([
          [1, 1],
          [25, 30],
          [49, 49],
        ]),
      ],
    });
    const edited = (curve: [number, number][]) => ({ ...before, passes: [warped(curve)] });
    const kept = checkPasses(
      before,
      edited([
        [1, 4],
        [25, 30],
        [45, 49],
      ]),
    );
    expect([...kept.passes[0].curves[WARP_FRAME].values]).toEqual([1, 30, 45]);
    expect(() =>
      checkPasses(
        before,
        edited([
          [1, 1],
          [25, 30],
          [30, 20],
          [49, 49],
        ]),
      ),
    ).toThrow(/backward between frames 25 and 30/);
    const bulging = curveFromKeys([
      { ...makeKey(1, 1, Tangent.free), slopeOut: -2 },
      { ...makeKey(49, 49, Tangent.free), slopeIn: 1 },
    ]);
    expect(() => checkPasses(before, { ...before, passes: [{ ...warped([]), curves: { [WARP_FRAME]: bulging } }] })).toThrow(/backward/);
    expect(() => checkPasses(before, { ...before, passes: [{ ...warped([]), curves: {} }] })).toThrow(/a key at each end/);
    expect(checkPasses(before, before)).toBe(before);
  });

  test("stretched to another range it keeps its shape", () => {
    const curve = curveFrom([
      [1, 1],
      [25, 37],
      [49, 49],
    ]);
    const wide = warpOver(curve, { start: 11, end: 107 });
    for (let x = 0; x <= 1; x += 0.05)
      expect((sampleCurve(wide, 11 + 96 * x) - 11) / 96).toBeCloseTo((sampleCurve(curve, 1 + 48 * x) - 1) / 48, 9);
  });
});

test("time passes are kept in files; wrong settings and older files are read for what they are", () => {
  const shot = movingShot({
    passes: [
      warped(
        [
          [1, 1],
          [49, 49],
        ],
        { members: ["spine.rotateX"] },
      ),
      stepped({ pattern: [2, 3] }),
    ],
  });
  const json = JSON.parse(JSON.stringify(shotToJson(shot)));
  const read = shotFromJson(json);
  expect(read.passes.map(({ settings, members }) => [settings, members])).toEqual([
    [{}, ["spine.rotateX"]],
    [{ pattern: [2, 3] }, null],
  ]);
  for (let frame = 1; frame < 49; frame += 1.5) expect(valuesAt(read, frame)).toEqual(valuesAt(shot, frame));
  json.shot.passes[1].settings = { pattern: [0] };
  expect(() => shotFromJson(json)).toThrow(/passes\.1\.settings\.pattern\.0/);
  for (const pass of json.shot.passes) {
    delete pass.settings;
    delete pass.members;
  }
  expect(shotFromJson(json).passes[1].settings).toEqual({});
});
