import type { Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { Cancelled } from "../src/workers/operationsLink.ts";
import { WriterLink } from "../src/workers/writerLink.ts";
import { threadWorker } from "./help/threadWorker.ts";

const shot = demoShots[1].make() as Shot;
const waiting = () => {
  const wanted = new AbortController();
  return { stop: () => wanted.abort(), signal: wanted.signal, progress: () => undefined };
};

/** Workers one after the other, each as it is told. */
function link(...apis: (object | null)[]) {
  const started: ReturnType<typeof threadWorker>[] = [];
  const made = new WriterLink(() => {
    started.push(threadWorker(apis[started.length]));
    return started[started.length - 1].worker;
  });
  return { made, started };
}
const ok = { write: async (format: string) => ({ ok: { bytes: new TextEncoder().encode(format), notes: [] } }) };
const silent = { write: () => new Promise(() => undefined) };

test("one worker writes one file after the other; what a format refuses is said, and it goes on", async () => {
  const refuses = { write: async (format: string) => (format === "bvh" ? { failed: "Too long." } : ok.write(format)) };
  const { made, started } = link(refuses);
  for (const format of ["csv", "glb"]) {
    const { bytes } = await made.write(format, shot, {}, waiting());
    expect(new TextDecoder().decode(bytes)).toBe(format);
  }
  await expect(made.write("bvh", shot, {}, waiting())).rejects.toThrow("Too long.");
  expect((await made.write("json", shot, {}, waiting())).notes).toEqual([]);
  expect([started.length, started[0].isEnded()]).toEqual([1, false]);
  started[0].worker.terminate();
});

test("stopped, its worker is ended and the next file has a new one; stopping what is done ends nothing", async () => {
  const { made, started } = link(silent, ok);
  const first = waiting();
  const work = made.write("csv", shot, {}, first);
  first.stop();
  await expect(work).rejects.toBeInstanceOf(Cancelled);
  expect(started[0].isEnded()).toBe(true);
  const second = waiting();
  await made.write("csv", shot, {}, second);
  second.stop();
  expect([started.length, started[1].isEnded()]).toEqual([2, false]);
  await expect(made.write("csv", shot, {}, second)).rejects.toBeInstanceOf(Cancelled);
  started[1].worker.terminate();
});

test("a worker that breaks down, or cannot be loaded, is said in a sentence, and the next try has another", async () => {
  const { made, started } = link(silent, null, ok);
  for (const [n, message, says] of [
    [0, "out of memory", /The file was not written: out of memory\. Try it again\./],
    [1, "", /its worker could not be loaded/],
  ] as const) {
    const work = made.write("csv", shot, {}, waiting());
    started[n].raise({ message });
    await expect(work).rejects.toThrow(says);
  }
  await made.write("csv", shot, {}, waiting());
  started[2].worker.terminate();
});
