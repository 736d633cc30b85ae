import type { Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { lengthScale, scaledLength } from "../src/bench/work/lengthScale.ts";

const { rig } = demoShots[1].make() as Shot;
/** The rig grown so many times. */
const grown = (times: number): Shot["rig"] => ({
  ...rig,
  controls: rig.controls.map((control) => ({ ...control, rest: control.rest.map((at) => at * times) as unknown as typeof control.rest })),
});

test("four millimetres are four millimetres in scenes of metres and of centimetres", () => {
  expect(lengthScale({ rig, unitMetres: 1 })).toBe(1);
  expect(scaledLength(0.004, lengthScale({ rig, unitMetres: 1 }))).toBe(0.004);
  expect(scaledLength(0.004, lengthScale({ rig, unitMetres: 0.01 }))).toBe(0.4);
});

test("where a shot knows no unit a length is the same share of the figure, whatever its size, and a round number", () => {
  const scale = (times: number) => lengthScale({ rig: grown(times), unitMetres: null });
  const one = scale(100) / 100;
  for (const times of [1e-3, 0.02, 7, 40, 5000]) {
    expect(scale(times)).toBeCloseTo(one * times, 9 - Math.ceil(Math.log10(times)));
    const length = scaledLength(0.004, scale(times));
    expect(length / (0.004 * scale(times))).toBeGreaterThan(0.66);
    expect(length / (0.004 * scale(times))).toBeLessThan(1.34);
    expect(String(Number(length.toExponential().split("e")[0])).length).toBe(1);
  }
  // Of usual size, as one that is told in metres and does not say so, nothing changes.
  expect(scale(1 / one)).toBe(1);
});
