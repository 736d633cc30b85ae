import { type FitInput, type FitResult, fitSteps, inPieces } from "@kneader/core";
import { FitPool, helpersOn } from "../src/workers/fitPool.ts";
import { threadWorker } from "./help/threadWorker.ts";

const inputs = (seed: number): FitInput[] => [
  { samples: Float64Array.from({ length: 80 }, (_, i) => Math.sin(i / 5 + seed)), tolerance: 0.01 },
];
const options = { broken: false };
const here = (seed: number): Promise<FitResult> => inPieces(fitSteps(inputs(seed), options), () => undefined);
const watch = (signal = new AbortController().signal) => ({ signal, progress: () => undefined });
const tick = (ms = 1) => new Promise((resolve) => setTimeout(resolve, ms));

/** Helpers that fit, and what they are at; `fate` says how the nth behaves. */
function helpers(fate: (n: number) => "fits" | "waits" | "breaks" = () => "fits") {
  const made: ReturnType<typeof threadWorker>[] = [];
  const cancelled: number[] = [];
  let [now, most] = [0, 0];
  const start = () => {
    const behaviour = fate(made.length);
    let stop: (why: Error) => void = () => undefined;
    const api = {
      async fit(_number: number, given: readonly FitInput[], how: typeof options) {
        now++;
        most = Math.max(most, now);
        await tick(3);
        now--;
        if (behaviour === "fits") return inPieces(fitSteps(given, how), () => undefined);
        if (behaviour === "breaks") one.raise({ message: "out of memory" });
        return new Promise((_, reject) => {
          stop = reject;
        });
      },
      cancel(number: number) {
        cancelled.push(number);
        stop(new Error("cancelled"));
      },
    };
    const one = threadWorker(api);
    made.push(one);
    return one.worker;
  };
  return { start, made, cancelled, most: () => most };
}

test("fits go on at a time, on as many helpers as there may be, and come back as they are made here", async () => {
  const { start, made, most } = helpers();
  const pool = new FitPool(start, { size: 2, worth: 0 });
  const fits = await Promise.all(Array.from({ length: 7 }, (_, n) => pool.fit(inputs(n), options, watch())));
  for (const [n, fit] of fits.entries()) expect(fit).toEqual(await here(n));
  expect([made.length, most()]).toEqual([2, 2]);
  for (const { worker } of made) worker.terminate();
});

test("what is wanted no more is refused at once, the helper is told, and goes on with what waits", async () => {
  const { start, cancelled, made } = helpers((n) => (n === 0 ? "waits" : "fits"));
  const pool = new FitPool(start, { size: 1, worth: 0 });
  const stop = new AbortController();
  const first = pool.fit(inputs(1), options, watch(stop.signal));
  const second = pool.fit(inputs(2), options, watch(stop.signal));
  await tick(10);
  stop.abort();
  await expect(first).rejects.toThrow();
  await expect(second).rejects.toThrow();
  await tick(10);
  expect(cancelled).toEqual([1]);
  for (const { worker } of made) worker.terminate();
});

test("a helper that breaks down: its fit is refused, another takes its place; after a few none is tried", async () => {
  const { start, made } = helpers((n) => (n === 0 ? "breaks" : "fits"));
  const pool = new FitPool(start, { size: 1, worth: 0 });
  const [broken, whole] = await Promise.allSettled([1, 2].map((n) => pool.fit(inputs(n), options, watch())));
  expect([broken.status, whole.status]).toEqual(["rejected", "fulfilled"]);
  expect(made.map(({ isEnded }) => isEnded())).toEqual([true, false]);
  for (const { worker } of made) worker.terminate();

  const bad = helpers(() => "breaks");
  const none = new FitPool(bad.start, { size: 2, worth: 0 });
  const all = await Promise.allSettled(Array.from({ length: 8 }, (_, n) => none.fit(inputs(n), options, watch())));
  expect(all.every(({ status }) => status === "rejected")).toBe(true);
  expect(bad.made.length).toBeLessThan(6);
});

test("one processor has no helpers, two have them for long work alone, more have them soon and leave one for the page", () => {
  expect(helpersOn(1)).toBeNull();
  expect(helpersOn(2)?.size).toBe(2);
  expect(helpersOn(2)?.worth).toBeGreaterThan(300_000);
  expect(helpersOn(4)).toEqual({ size: 3, worth: 20_000 });
  expect(helpersOn(64)?.size).toBe(6);
});
