import { curveFrom, type Shot, Tangent } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { columns } from "../src/bench/rack/plot/columns.ts";
import { curveSpacing, isStepped, placeSpacing } from "../src/bench/rack/spacing/spacingView.ts";

const walk = async () => (await demoShots[0].make()) as Shot;

test("a control's steps add up to no less than its way from start to end", async () => {
  const shot = await walk();
  const spacing = placeSpacing(shot, "ferryman");
  expect(spacing).toMatchObject({ title: "Ferryman", start: 1, unit: "mm" });
  expect(spacing?.steps).toHaveLength(12);
  // The figure goes 240 mm along the jetty in twelve even steps.
  for (const step of spacing?.steps ?? []) expect(step).toBeCloseTo(20, 0);
  expect(placeSpacing(shot, "nobody")).toBeNull();
});

test("a planted foot hardly moves, the other one does", async () => {
  const shot = await walk();
  const [left, right] = ["foot-left", "foot-right"].map((id) => placeSpacing(shot, id)?.steps as Float64Array);
  expect(Math.max(...left.slice(2, 8))).toBeLessThan(2);
  expect(Math.max(...right)).toBeGreaterThan(30);
});

test("a curve's steps are its change from frame to frame, in its own unit", async () => {
  const shot = { ...(await walk()), range: { start: 1, end: 11 } };
  const line = curveFrom(
    [
      [1, 0],
      [11, -50],
    ],
    Tangent.linear,
  );
  const turn = curveSpacing(shot, "hips.rotateX", line);
  expect([turn.title, turn.unit]).toEqual(["Hips rotate X", "°"]);
  for (const step of turn.steps) expect(step).toBeCloseTo(5, 9);
  expect(curveSpacing(shot, "hips.moveX", line).steps[0]).toBeCloseTo(5000, 6);
  expect(curveSpacing({ ...shot, unitMetres: null }, "hips.moveX", line)).toMatchObject({ unit: "units" });
});

describe("columns of pixels", () => {
  const spacing = { title: "", start: 1, unit: "" as const, steps: Float64Array.of(1, 4, 2, 8) };

  test("each shows the fastest frame within it; outside there is nothing", () => {
    const { heights, most } = columns({ values: spacing.steps, start: spacing.start }, { start: 0, end: 6, width: 60 });
    expect(most).toBe(8);
    expect(heights[5]).toBe(-1);
    expect([heights[15], heights[25], heights[35], heights[45]]).toEqual([0.125, 0.5, 0.25, 1]);
    expect(heights[58]).toBe(-1);
    const narrow = columns({ values: spacing.steps, start: spacing.start }, { start: 1, end: 5, width: 2 }).heights;
    expect([...narrow]).toEqual([0.5, 1]);
  });

  test("a still thing is a line on the floor", () => {
    const still = columns({ values: new Float64Array(4), start: 1 }, { start: 1, end: 5, width: 8 });
    expect([...still.heights].every((h) => h === 0)).toBe(true);
  });
});

test("stepped poses are told from motion that is still now and then", () => {
  const of = (steps: number[]) => isStepped({ title: "", start: 1, steps: Float64Array.from(steps), unit: "mm" });
  expect(of([0, 0, 0, 0, 9, 0, 0, 0, 0, 7])).toBe(true);
  expect(of([0, 0, 1, 2, 3, 2, 1, 0, 0, 0])).toBe(false);
  expect(of([0, 0, 0, 0])).toBe(false);
});
