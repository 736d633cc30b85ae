import * as fc from "fast-check";
import type { Shot } from "@kneader/core";
import { demo, edited, opened, census, load } from "./help/records.ts";

test("the first save of a shot writes its curves in one go, and its record; an edit writes what is new and removes what is not named", async () => {
  const world = opened();
  const { door, tab } = world.tab();
  const handle = await door.adopt(demo);
  await handle.save(demo);
  expect(tab.written).toBe(2);
  await handle.save(edited(demo, 1));
  expect(tab.written).toBe(5);
  expect(await load(world)).toEqual(edited(demo, 1));
  const { orphans, holes } = await census(world.browser);
  expect([orphans, holes]).toEqual([[], []]);
});

test("curves that undo brings back after they were removed are written again", async () => {
  const world = opened();
  const handle = await world.tab().door.adopt(demo);
  await handle.save(demo);
  await handle.save(edited(demo, 1));
  await handle.save(demo);
  expect(await load(world)).toEqual(demo);
});

test("wherever a tab is killed, the shot opens, as it was at the last save that ended or began; 200 places", async () => {
  const random = fc.sample(fc.tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 60 })), { numRuns: 200, seed: 5 });
  for (const [edits, place] of random) {
    let kill = () => undefined as unknown;
    const world = opened((write) => {
      if (write === place) kill();
    });
    const first = world.tab();
    kill = first.die;
    let ended = 0;
    const work = (async () => {
      const handle = await first.door.adopt(demo);
      let shot = demo;
      for (let n = 1; n <= edits; n++) {
        shot = edited(shot, n);
        await handle.save(shot);
        ended = n;
      }
    })();
    await Promise.race([work, new Promise((resolve) => setTimeout(resolve, 30))]);
    first.die();
    const found = await load(world);
    const { holes } = await census(world.browser);
    expect(holes).toEqual([]);
    if (found === null) expect(ended).toBe(0);
    else expect([ended, ended + 1]).toContain(Number(found.name.slice(5)));
    // The next tab may work on it at once, and sweeps what the dead one left behind.
    const next = world.tab(() => undefined);
    for (const [id, keys] of await next.records.idsOfCurves()) await next.door.whenFree(id, () => next.records.sweep(id, keys));
    const { orphans } = await census(world.browser);
    expect(orphans).toEqual([]);
    expect(
      (
        await next.door.open(
          demo.id,
          async () => demo,
          () => undefined,
        )
      )?.handle.writable,
    ).toBe(true);
  }
}, 60_000);

test("with failing writes and a full disk among them nothing is lost, a save that went well stays, and nothing is left behind", async () => {
  await fc.assert(
    fc.asyncProperty(fc.integer({ min: 0, max: 1e6 }), fc.double({ min: 0.02, max: 0.4 }), async (seed, share) => {
      let state = seed + 1;
      const world = opened(() => {
        state = (state * 48271) % 2147483647;
        if (state / 2147483647 < share) throw new DOMException("The quota has been exceeded.", "QuotaExceededError");
      });
      const handle = await world.tab().door.adopt(demo);
      let [shot, kept] = [demo, null as Shot | null];
      for (let n = 1; n <= 15; n++) {
        shot = edited(shot, n);
        const now = shot;
        await handle.save(now).then(
          () => (kept = now),
          (error: DOMException) => expect(error.name).toBe("QuotaExceededError"),
        );
        if (kept) expect((await load(world))?.name).toBe(kept.name);
        expect((await census(world.browser)).holes).toEqual([]);
      }
      if (kept) expect(await load(world)).toEqual(kept);
      const { orphans, stored } = await census(world.browser);
      // A curve that could not be removed waits for the next save; it never piles up.
      expect(orphans.length).toBeLessThan(stored.size * 0.25 + 3);
    }),
    { numRuns: 12, seed: 9 },
  );
}, 60_000);

test("after failures only what is missing is written: one save that works writes curves once and its record", async () => {
  let fail = true;
  const writes: number[] = [];
  const world = opened((write) => {
    writes.push(write);
    if (fail) throw new Error("no");
  });
  const { door } = world.tab();
  const handle = await door.adopt(demo);
  for (let n = 0; n < 5; n++) await expect(handle.save(demo)).rejects.toThrow("no");
  expect((await census(world.browser)).stored.size).toBe(0);
  fail = false;
  writes.length = 0;
  await handle.save(demo);
  const { orphans, stored, named } = await census(world.browser);
  expect([orphans.length, stored.size]).toEqual([0, named.size]);
});
