import { capturedSignal } from "../../../demo/src/shots/capturedSignal.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { waitingOnBoard } from "../../../demo/src/shots/waitingOnBoard.ts";
import { type Curve, keysOf } from "../../src/curve/curve.ts";
import { curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sizeOf } from "../../src/figure/sides.ts";
import type { Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { costs } from "../../src/tune/costs/costs.ts";
import { judgedBy, motionOf, strainsOf } from "../../src/tune/judged.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/promises.ts";

/*
 * Each cost is lower for the better of two motions, the worse made from it by a damage that is stated here and was not
 * looked at when the costs were made. Judged by what is found in the better one: contacts, ranges, paces.
 */

type Damage = (shot: Shot, chance: Chance, amount: number) => Shot;

const changeKeys = (shot: Shot, wanted: RegExp, change: (value: number, time: number, key: string) => number): Shot => ({
  ...shot,
  base: Object.fromEntries(
    Object.entries(shot.base).map(([key, curve]): [string, Curve] => [
      key,
      wanted.test(key)
        ? curveFromKeys(
            keysOf(curve).map((one) => ({ ...one, value: change(one.value, one.time, key) })),
            curve,
          )
        : curve,
    ]),
  ),
});

const damages: Readonly<Record<string, Damage>> = {
  /** Limbs and trunk tremble: every frame a little off by chance, in a pass on top. */
  jitter(shot, chance, amount) {
    const wanted = /^(hips|chest|thigh|shin|foot|upper-arm|forearm|hand|head|tail-.)[-\w]*\.rotate/;
    const frames = Array.from({ length: shot.range.end - shot.range.start + 1 }, (_, n) => shot.range.start + n);
    const curves = Object.keys(shot.base)
      .filter((key) => wanted.test(key))
      .map((key) => [key, curveFrom(frames.map((frame) => [frame, chance.between(-amount, amount)]))] as const);
    return { ...shot, passes: [...shot.passes, makePass("tremble", "Tremble", "adds", Object.fromEntries(curves))] };
  },
  /** The whole figure slides sideways over the ground, there and back. */
  slide: (shot, chance, amount) => {
    const pace = chance.between(0.25, 0.5);
    return changeKeys(
      shot,
      /^(ferryman|hips)\.move[XZ]/,
      (value, time) => value + 0.012 * amount * sizeOf(shot.rig) * Math.sin(pace * time),
    );
  },
  /** The figure tips over: its hips go out to one side, and its trunk leans on from there. */
  lean(shot, chance, amount) {
    const way = chance.next() < 0.5 ? -1 : 1;
    const out = changeKeys(shot, /^hips\.move[XZ]/, (value) => value + way * (0.07 + 0.03 * amount) * sizeOf(shot.rig));
    return changeKeys(out, /^(belly|chest)\.rotateZ/, (value) => value - way * 8 * amount);
  },
  /** One joint's key jumps out by far. */
  snap: (shot, chance, amount) => {
    const keyed = ["forearm-left", "forearm-right", "upper-arm-right", "shin-left", "head"].filter(
      (id) => (shot.base[`${id}.rotateX`]?.times.length ?? 0) > 2,
    );
    const joint = chance.of(keyed);
    const { times } = shot.base[`${joint}.rotateX`];
    const at = times[1 + chance.below(times.length - 2)];
    return changeKeys(shot, new RegExp(`^${joint}\\.rotate[XYZ]`), (value, time) => (time === at ? value + 15 + 10 * amount : value));
  },
};

/** The damage that each cost is there to notice. */
const noticed: readonly (readonly [string, keyof typeof damages])[] = [
  ["jerk", "jitter"],
  ["arc", "jitter"],
  ["effort", "jitter"],
  ["spacing", "jitter"],
  ["feet", "slide"],
  ["balance", "lean"],
  ["joints", "snap"],
];

const motions = [
  halfAWalk,
  capturedSignal,
  waitingOnBoard,
  async () => (await run("convert-blocking", await hopAboard(), { to: "curves" })).shot,
];

function worth(better: Shot, shot: Shot, cost: string): number {
  const { start, end } = better.range;
  const judged = judgedBy(
    better,
    costs.filter(({ id }) => id === cost),
    start,
    end - start + 1,
  );
  return strainsOf(judged, motionOf(shot, judged.subject))[0]?.value ?? Number.NaN;
}

test.each(noticed)("%s is lower before 20 damages by %s", async (cost, damage) => {
  const chance = new Chance(cost.length * 7 + damage.length);
  const all = await Promise.all(motions.map((make) => make()));
  // A jump is out of balance as it begins and ends, and means to be.
  const shots = damage === "lean" ? all.slice(0, 3) : all;
  const undamaged = shots.map((shot) => worth(shot, shot, cost));
  for (let n = 0; n < 20; n++) {
    const better = shots[n % shots.length];
    const worse = damages[damage](better, chance, 1 + (n % 5) / 2);
    expect(worth(better, worse, cost)).toBeGreaterThan(undamaged[n % shots.length]);
  }
});

test("an open loop is worse than a closed one, and its way over the ground does not count", async () => {
  const walk = await halfAWalk();
  const { shot: closed } = await run("other-half", walk);
  const open = changeKeys(closed, /^(chest|upper-arm-left)\.rotateX/, (value, time) => (time === closed.range.end ? value + 12 : value));
  expect(worth(closed, open, "loop")).toBeGreaterThan(2 * worth(closed, closed, "loop"));
  const further = changeKeys(closed, /^ferryman\.moveZ/, (value, time) => value + 0.05 * time);
  expect(worth(closed, further, "loop")).toBeCloseTo(worth(closed, closed, "loop"), 6);
});

test("what is wrong at a frame is said in words, with the part and how much", async () => {
  const walk = await halfAWalk();
  const { start, end } = walk.range;
  const judged = judgedBy(walk, costs, start, end - start + 1);
  const slid = motionOf(damages.slide(walk, new Chance(3), 3), judged.subject);
  const say = (id: string, frame: number) => judged.judges[judged.costs.findIndex((cost) => cost.id === id)].say(slid, frame);
  const said = Array.from({ length: end - start + 1 }, (_, f) => say("feet", f));
  expect(said.join("\n")).toMatch(/^(Foot|Toes) (left|right) slides \d+ mm$/m);
  expect(say("jerk", 5)).toMatch(/ is jerked by [\d.]+ mm a frame, each frame$/);
  expect(say("arc", 5)).toMatch(/ is [\d.]+ mm beside its arc$/);
  expect(say("spacing", 5)).toMatch(/ steps [\d.]+ mm (more|less) than around it$/);
  expect(say("balance", 5)).toMatch(/its weight is \d+ mm beside its feet|it stands in balance/);
});
