import { type Curve, keysOf } from "../packages/core/src/curve/curve.ts";
import { curveFromKeys } from "../packages/core/src/curve/make.ts";
import type { Shot } from "../packages/core/src/model/shot.ts";
import { checkSettings, operations } from "../packages/core/src/operations/catalogue.ts";
import { noContext, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { costs } from "../packages/core/src/tune/costs/costs.ts";
import { judgedBy, motionOf, strainsOf } from "../packages/core/src/tune/judged.ts";
import { Chance } from "../packages/core/test/help/chance.ts";
import { demoShots } from "../packages/demo/src/index.ts";
import { atMost, medians, type Row } from "./measure.ts";

const demo = async (id: string) => {
  const found = demoShots.find((shot) => shot.id === id);
  if (!found) throw new Error(`no demo shot ${id}`);
  return found.make();
};

/** Keys of hips, legs and arms moved by up to three degrees by chance. */
function damaged(shot: Shot): Shot {
  const chance = new Chance(5);
  const hurt = (curve: Curve) =>
    curveFromKeys(
      keysOf(curve).map((key) => ({ ...key, value: key.value + chance.between(-3, 3) })),
      curve,
    );
  const isHurt = (key: string) => /^(hips|thigh|shin|foot|toes|shoulder|upper-arm|forearm|hand)/.test(key) && key.includes("rotate");
  const base = Object.fromEntries(Object.entries(shot.base).map(([key, curve]) => [key, isHurt(key) ? hurt(curve) : curve]));
  return { ...shot, base };
}

/** What it costs to let the machine move keys, with a picture of every step. */
export async function benchTuning(): Promise<Row[]> {
  const walk = damaged(await demo("demo-half-a-walk"));
  const capture = await demo("demo-captured-signal");
  const told = (steps: number) => checkSettings(operations.tune, { costs: { jerk: 1, feet: 1 }, closeness: 2, steps }) as never;
  let pictures = 0;
  const context = {
    ...noContext,
    show: (sofar: () => unknown) => {
      sofar();
      pictures++;
    },
  };
  const steps = 20;
  const judged = judgedBy(capture, costs, 1, 120);
  const times = await medians({
    walk: () => operations.tune.run(walk, WHOLE_FIGURE, told(300), noContext),
    walkSteps: () => operations.tune.run(walk, WHOLE_FIGURE, told(steps), context),
    captureSteps: () => operations.tune.run(capture, WHOLE_FIGURE, told(steps), context),
    strain: () => strainsOf(judged, motionOf(capture, judged.subject)),
  });
  if (pictures === 0) throw new Error("nothing was shown");
  return [
    atMost("Half a walk damaged by 3°, tuned to its end: jerk and sliding feet, 208 keys that move", times.walk, 5000),
    atMost("A step of it with its picture: strain, drift, the leash kept", times.walkSteps / steps, 100),
    atMost("The same on a capture: 5 040 keys, 120 frames", times.captureSteps / steps, 100),
    { work: "The strain of that capture by all costs at every frame", ms: times.strain },
  ];
}
