import { curveFrom, type Shot, setKey } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { CurveSync } from "../src/workers/curveSync.ts";

const shot = demoShots[1].make() as Shot;
/** What a message to a worker does to a shot. */
const post = <T>(value: T): T => structuredClone(value);

test("a shot crosses whole the first time, and only its changed curves later", () => {
  const [page, worker] = [new CurveSync("page"), new CurveSync("worker")];
  const first = page.pack(shot);
  expect(first.fresh).toHaveLength(Object.keys(shot.base).length);
  expect(worker.unpack(post(first))).toEqual(shot);

  const edited = { ...shot, base: { ...shot.base, "hips.rotateX": setKey(shot.base["hips.rotateX"], 3, 9) } };
  const second = page.pack(edited);
  expect(second.fresh).toHaveLength(1);
  expect(worker.unpack(post(second))).toEqual(edited);
});

test("what comes back unchanged is the very same curve", () => {
  const [page, worker] = [new CurveSync("page"), new CurveSync("worker")];
  const there = worker.unpack(post(page.pack(shot)));
  const made = { ...there, base: { ...there.base, "hips.rotateX": curveFrom([[1, 2]]) } };
  const back = page.unpack(post(worker.pack(made)));
  expect(back.base["hips.rotateY"]).toBe(shot.base["hips.rotateY"]);
  expect(back.base["hips.rotateX"]).toEqual(curveFrom([[1, 2]]));
  // The page knows the worker's curve from now on and need not send it.
  expect(page.pack(back).fresh).toEqual([]);
});

test("forgotten curves are sent again", () => {
  const [page, worker] = [new CurveSync("page"), new CurveSync("worker")];
  worker.unpack(post(page.pack(shot)));
  const gone = page.unused([]);
  expect(gone).toHaveLength(Object.keys(shot.base).length);
  page.forget(gone);
  worker.forget(gone);
  const again = page.pack(shot);
  expect(again.fresh).toHaveLength(Object.keys(shot.base).length);
  expect(worker.unpack(post(again))).toEqual(shot);
});

test("a curve that one side forgot while it still has it is sent anew by either", () => {
  const [page, worker] = [new CurveSync("page"), new CurveSync("worker")];
  const there = worker.unpack(post(page.pack(shot)));
  const gone = page.unused([]);
  page.forget(gone);
  worker.forget(gone);
  expect([page.size, worker.size]).toEqual([0, 0]);
  // The worker kept the shot itself, and answers with curves of it.
  expect(page.unpack(post(worker.pack(there)))).toEqual(shot);
});

test("a curve the other side does not know is an error, not a hole", () => {
  const [page, worker] = [new CurveSync("page"), new CurveSync("worker")];
  const packed = page.pack(shot);
  expect(() => worker.unpack(post({ ...packed, fresh: [] }))).toThrow(/not known on this side/);
});

test("what an answer has in common with the shot it answers stays at home, and comes back as the very same", () => {
  const [page, worker] = [new CurveSync("page"), new CurveSync("worker")];
  const there = worker.unpack(post(page.pack(shot)));
  const made = { ...there, name: "Another", base: { ...there.base, "hips.rotateX": curveFrom([[1, 2]]) } };
  const answer = worker.pack(made, there);
  expect(Object.keys(answer.shot as object).sort()).toEqual(["base", "name"]);
  const back = page.unpack(post(answer), shot);
  expect(back).toEqual(made);
  expect(back.rig).toBe(shot.rig);
  expect(back.passes).toBe(shot.passes);
  expect(back.base["hips.rotateY"]).toBe(shot.base["hips.rotateY"]);
  // Who has no such shot is told, and gets none with holes.
  expect(() => page.unpack(post(answer))).toThrow(/is not known on this side/);
  // Nothing changed at all: the shot itself.
  expect(page.unpack(post(worker.pack(there, there)), shot)).toBe(shot);
});
