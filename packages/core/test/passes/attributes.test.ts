import { curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { PERCENT } from "../../src/model/rig.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { passKinds } from "../../src/passes/kinds.ts";
import { WARP_FRAME } from "../../src/passes/warp.ts";
import { operationById } from "../../src/operations/catalogue.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { passFor, played } from "../help/passes.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf } from "../help/shots.ts";

const CHANNEL = `smile${PERCENT}`;
const KEY = `spine.${CHANNEL}`;

/** A shot in which a shape goes up and down, in percent. */
function smiling(passes: readonly Pass[] = []): Shot {
  const shot = movingShot();
  const controls = shot.rig.controls.map((control) =>
    control.id === "spine" ? { ...control, channels: [...control.channels, CHANNEL] } : control,
  );
  const smile = curveFrom([
    [1, 0],
    [9, 80],
    [13, 20],
    [24, 60],
  ]);
  const laugh = {
    rate: shot.rate,
    from: 0,
    length: 12,
    whole: false,
    curves: {
      [KEY]: curveFrom([
        [0, 5],
        [6, 90],
        [12, 5],
      ]),
    },
    controls,
    figure: null,
  };
  const actions = [{ card: { id: "laugh", name: "Laugh", notes: "", tags: [], folder: "Faces", savedAt: 0 }, clip: laugh }];
  return { ...shot, rig: { ...shot.rig, controls }, base: { ...shot.base, [KEY]: smile }, passes, actions };
}

const valuesOf = (shot: Shot) => {
  const player = makePlayer(shot);
  return Array.from({ length: 30 }, (_, n) => {
    player.readValues(n + 0.5);
    return player.values[player.channelIndex.get(KEY) as number];
  });
};

const settings: Readonly<Record<string, Record<string, unknown>>> = {
  tremor: { shapes: 12, rotate: 0 },
  "follow-through": { how: "channels" },
  lag: { frames: 3 },
  stretch: { percent: 60 },
  smooth: {},
  play: { action: "laugh", to: 12 },
  stepping: {},
  flight: { flights: [{ takeOff: 5, landing: 10, frames: 12, bounceFrames: [] }] },
  field: {
    field: {
      poses: [
        { id: "a", name: "Sad", x: 0, y: 0, values: { [KEY]: 0 } },
        { id: "b", name: "Glad", x: 1, y: 0, values: { [KEY]: 80 } },
      ],
      spot: { x: 0.8, y: 0 },
    },
  },
};

test.each(passKinds.map(({ id }) => [id]))("a pass of the kind %s works on a shape's weight, and off leaves it as it was", (kind) => {
  const keyed = {
    [KEY]: curveFrom([
      [1, 10],
      [20, 35],
    ]),
  };
  const pass = kind === "adds" || kind === "replaces" ? passOf(kind, keyed) : { ...passFor(kind, settings[kind] ?? {}), members: [KEY] };
  if (kind === "warp")
    Object.assign(pass, {
      curves: {
        [WARP_FRAME]: curveFrom([
          [1, 1],
          [12, 20],
          [24, 24],
        ]),
      },
    });
  const plain = valuesOf(smiling());
  const changed = valuesOf(smiling([pass]));
  expect(changed.every(Number.isFinite)).toBe(true);
  expect(changed.some((value, n) => Math.abs(value - plain[n]) > 0.5)).toBe(true);
  expect(valuesOf(smiling([{ ...pass, on: false }]))).toEqual(plain);
});

test("tremor shakes a rig's own attributes and shapes where they are what is picked, from its first settings", async () => {
  const grip = curveFrom([
    [1, 0],
    [24, 4],
  ]);
  const shot = smiling();
  const controls = shot.rig.controls.map((one) => (one.id === "spine" ? { ...one, channels: [...one.channels, "grip"] } : one));
  const held = { ...shot, rig: { ...shot.rig, controls }, base: { ...shot.base, "spine.grip": grip } };
  const tremor = operationById("tremor");
  for (const [key, named, size] of [
    ["spine.grip", "numbers", 0.2],
    [KEY, "shapes", 5],
  ] as const) {
    const scope = { ...WHOLE_FIGURE, controls: ["spine"], channels: [key] };
    const first = tremor.situation?.({ shot: held, scope, frame: 1, copiedPose: null, copiedKeys: null, poseShare: 0.5 });
    expect(first).toEqual({ [named]: size });
    const { shot: after } = await run(tremor, held, first as object, scope);
    const [plain, shaken] = [played(held, key), played(after, key)];
    const most = Math.max(...shaken.map((value, n) => Math.abs(value - plain[n])));
    expect(most).toBeGreaterThan(size * 0.2);
    expect(most).toBeLessThan(size * 1.05);
  }
});

test("tremor shakes shapes by a size of its own: about as many percent as it says, others by none", () => {
  const shaken = (size: number) => {
    const plain = valuesOf(smiling());
    return Math.max(
      ...valuesOf(smiling([{ ...passFor("tremor", { shapes: size, rotate: 5, move: 1 }), members: [KEY] }])).map((value, n) =>
        Math.abs(value - plain[n]),
      ),
    );
  };
  expect(shaken(0)).toBe(0);
  expect(shaken(10)).toBeGreaterThan(2);
  expect(shaken(10)).toBeLessThan(10.5);
  expect(shaken(20)).toBeCloseTo(2 * shaken(10), 6);
});
