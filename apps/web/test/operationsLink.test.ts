import { mapCurves, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { OperationsLink } from "../src/workers/operationsLink.ts";
import { CurveSync, type PackedShot } from "../src/workers/curveSync.ts";
import { threadWorker } from "./help/threadWorker.ts";

const shot = demoShots[1].make() as Shot;
const report = { summary: "done", keysBefore: 0, keysAfter: 0, curvesChanged: 0, drift: null, worstCurve: null, warnings: [], notes: [] };

/** Which work was opened by any worker. */
const opened: number[] = [];
/** How many curves a worker knew each time it was told to forget some. */
const kept: number[] = [];

/** A worker in this thread that does as it is told: answers with the shot or with new curves, never answers, or breaks down. */
function fakeWorker(behaviour: "answers" | "makes" | "silent" | "unloadable" | "breaks") {
  const sync = new CurveSync("worker");
  const work = new Map<number, Shot>();
  const api = {
    open(id: number, _operation: string, packed: PackedShot) {
      opened.push(id);
      work.set(id, sync.unpack(packed));
    },
    close(id: number) {
      work.delete(id);
    },
    async step(id: number) {
      if (behaviour === "silent") return new Promise(() => undefined);
      if (behaviour === "breaks") {
        setTimeout(() => raise({ message: "out of memory" }), 5);
        return new Promise(() => undefined);
      }
      const given = work.get(id) as Shot;
      const made = behaviour === "makes" ? mapCurves(given, (curve) => ({ ...curve })) : given;
      return { ok: { shot: sync.pack(made), report } };
    },
    cancel: () => undefined,
    ping: () => (behaviour === "silent" ? new Promise(() => undefined) : true),
    forget: (numbers: number[]) => {
      sync.forget(numbers);
      kept.push(sync.size);
    },
  };
  const { worker, raise } = threadWorker(behaviour === "unloadable" ? null : api);
  if (behaviour === "unloadable") setTimeout(() => raise({ message: "" }), 5);
  return worker;
}

const link = (...workers: Parameters<typeof fakeWorker>[0][]) => {
  let n = 0;
  const started: Worker[] = [];
  const made = new OperationsLink(() => {
    const worker = fakeWorker(workers[Math.min(n++, workers.length - 1)]);
    started.push(worker);
    return worker;
  });
  return {
    made,
    started,
    stop: () => {
      for (const worker of started) worker.terminate();
    },
  };
};

test("a worker that answers is kept, and everything unchanged comes back as the very same", async () => {
  const { made, started, stop } = link("answers");
  for (let n = 0; n < 3; n++) {
    const { shot: back } = await made.run("simplify", shot, WHOLE_FIGURE, {}).done;
    expect(back).toBe(shot);
  }
  expect(started).toHaveLength(1);
  stop();
});

test("previews without end leave no curves behind, and what is worked on is never sent twice", async () => {
  const { made, stop } = link("makes");
  const each = Object.keys(shot.base).length;
  opened.length = kept.length = 0;
  const work = made.open("simplify", shot);
  for (let n = 0; n < Math.ceil(9000 / each); n++) {
    const { shot: back } = await work.step(WHOLE_FIGURE, { rotation: n }).done;
    expect(Object.keys(back.base)).toEqual(Object.keys(shot.base));
  }
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(opened).toHaveLength(1);
  // The shot itself and the last result are still known; all others went, more than once.
  expect(kept.length).toBeGreaterThan(1);
  for (const size of kept) expect(size).toBeLessThanOrEqual(2 * each);
  stop();
});

test.each(["unloadable", "breaks"] as const)("one that is %s is replaced, and the work is done by the next", async (how) => {
  const { made, started, stop } = link(how, "answers");
  expect((await made.run("simplify", shot, WHOLE_FIGURE, {}).done).shot).toBe(shot);
  expect(started).toHaveLength(2);
  stop();
});

test("one that always breaks is said, and the next request starts afresh", async () => {
  const { made, stop } = link("breaks", "breaks", "answers");
  await expect(made.run("simplify", shot, WHOLE_FIGURE, {}).done).rejects.toThrow(
    /stopped by itself: the worker broke down \(out of memory\)\. Nothing was changed/,
  );
  expect((await made.run("simplify", shot, WHOLE_FIGURE, {}).done).shot).toBe(shot);
  stop();
});

test("one that never answers is noticed", async () => {
  jest.useFakeTimers({ doNotFake: ["setImmediate", "nextTick", "queueMicrotask"] });
  const { made, started, stop } = link("silent", "answers");
  const { done } = made.run("simplify", shot, WHOLE_FIGURE, {});
  await jest.advanceTimersByTimeAsync(20_000);
  jest.useRealTimers();
  expect((await done).shot).toBe(shot);
  expect(started).toHaveLength(2);
  stop();
});

test("work that goes on hands its shot over once, and again only to a new worker", async () => {
  const { made, stop } = link("answers");
  opened.length = 0;
  const work = made.open("simplify", shot);
  for (const rotation of [1, 2, 3]) expect((await work.step(WHOLE_FIGURE, { rotation }).done).shot).toBe(shot);
  expect(opened).toHaveLength(1);
  work.close();
  await made.run("simplify", shot, WHOLE_FIGURE, {}).done;
  expect(opened).toHaveLength(2);
  stop();

  const broken = link("breaks", "answers");
  opened.length = 0;
  expect((await broken.made.open("simplify", shot).step(WHOLE_FIGURE, {}).done).shot).toBe(shot);
  expect(opened).toHaveLength(2);
  broken.stop();
});
