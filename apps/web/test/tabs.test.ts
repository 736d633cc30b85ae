import * as fc from "fast-check";
import { KneaderError, type Shot } from "@kneader/core";
import type { ShotHandle } from "../src/storage/shotDoor.ts";
import { demo, none, edited, opened, census, load } from "./help/records.ts";

const open = async (at: ReturnType<ReturnType<typeof opened>["tab"]>, onFree: (found: unknown) => void = () => undefined) =>
  (await at.door.open(demo.id, async () => demo, onFree)) as { shot: Shot; handle: ShotHandle };

test("a shot that was just taken in is this tab's from the first moment", async () => {
  const world = opened();
  const [a, b] = [world.tab(), world.tab()];
  const handle = await a.door.adopt(demo);
  expect((await open(b)).handle.writable).toBe(false);
  await handle.save(demo);
  await expect((await open(b)).handle.save(demo)).rejects.toThrow(/open in another tab/);
});

test("deleting, renaming and putting back ask for the shot: another tab that has it is named, and nothing happens", async () => {
  const world = opened();
  const [a, b] = [world.tab(), world.tab()];
  const { handle } = await open(a);
  await handle.save(edited(demo, 1));
  await expect(b.door.alone(demo.id, "Hop aboard", () => b.records.markDeleted(demo.id, true))).rejects.toThrow(
    /"Hop aboard" is open in another tab/,
  );
  await handle.save(edited(demo, 2));
  expect((await load(world))?.name).toBe("Edit 2");
  expect(await b.door.whenFree(demo.id, () => b.records.purge(demo.id))).toBe(false);
});

test("a tab that lets go for any reason leaves the shot free: deleted, not there, not to be decoded", async () => {
  const world = opened();
  const a = world.tab();
  const { handle } = await open(a);
  await handle.save(edited(demo, 1));
  await a.door.alone(demo.id, "", () => a.records.markDeleted(demo.id, true));
  handle.release();
  expect(await a.door.open("nobody", none, () => undefined)).toBeNull();
  await world.browser.shots.setItem("torn", {
    id: "torn",
    name: "Torn",
    version: 1,
    curveKeys: [],
    shot: { rig: { controls: [null] }, base: {}, passes: [] },
  });
  await expect(a.door.open("torn", none, () => undefined)).rejects.toThrow(/damaged|should be/);
  for (const id of [demo.id, "nobody", "torn"]) expect(world.locks.isHeld(`kneader-shot-${id}`)).toBe(false);
  // And the deleted shot is brought back and worked on by the same tab.
  await a.door.alone(demo.id, "", () => a.records.markDeleted(demo.id, false));
  const again = await open(a);
  expect([again.handle.writable, again.shot.name]).toEqual([true, "Edit 1"]);
});

test("what a tab saved after another purged it is whole: its curves are not taken for kept", async () => {
  const world = opened();
  const [a, b] = [world.tab(), world.tab()];
  const first = await open(a);
  await first.handle.save(edited(demo, 1));
  first.handle.release();
  await b.door.alone(demo.id, "", () => b.records.markDeleted(demo.id, true));
  await b.door.whenFree(demo.id, () => b.records.purge(demo.id));
  const again = await open(a);
  expect(again.shot).toEqual(demo);
  await again.handle.save(edited(demo, 3));
  expect(await load(world)).toEqual(edited(demo, 3));
  expect((await census(world.browser)).holes).toEqual([]);
});

test("any order of opening, editing, closing, killing and deleting in two tabs: every save that went well is there, no record names what is gone", async () => {
  const step = fc.record({
    tab: fc.integer({ min: 0, max: 1 }),
    what: fc.constantFrom("open", "edit", "close", "delete", "undelete", "kill"),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 24 }), async (steps) => {
      const world = opened();
      const tabs = [world.tab(), world.tab()];
      const mine: ({ shot: Shot; handle: ShotHandle } | null)[] = [null, null];
      let expected: Shot | null = null;
      let deleted = false;
      let n = 0;
      for (const { tab, what } of steps) {
        const at = tabs[tab];
        const has = mine[tab];
        if (what === "open" && !has)
          mine[tab] = await at.door.open(
            demo.id,
            async () => demo,
            (found) => (mine[tab] = found),
          );
        if (what === "edit" && has) {
          const next = edited(has.shot, ++n);
          const saved = await has.handle.save(next).then(
            () => true,
            (error: unknown) => {
              expect(error).toBeInstanceOf(KneaderError);
              return false;
            },
          );
          expect(saved).toBe(has.handle.writable);
          if (saved) [mine[tab], expected, deleted] = [{ ...has, shot: next }, next, false];
        }
        if (what === "close" && has) {
          has.handle.release();
          mine[tab] = null;
        }
        if (what === "delete" || what === "undelete") {
          const done = await at.door
            .alone(demo.id, "", () => at.records.markDeleted(demo.id, what === "delete"))
            .then(
              () => true,
              () => false,
            );
          if (done && expected) deleted = what === "delete";
          if (done && what === "delete" && has) {
            has.handle.release();
            mine[tab] = null;
          }
        }
        if (what === "kill") {
          at.die();
          tabs[tab] = world.tab();
          mine[tab] = null;
        }
        for (let turn = 0; turn < 6; turn++) await new Promise<void>((resolve) => setImmediate(resolve));
        expect((await census(world.browser)).holes).toEqual([]);
        expect((await load(world))?.name ?? null).toBe(deleted ? null : ((expected as Shot | null)?.name ?? null));
        // Never do two tabs have it for work.
        expect(mine.filter((one) => one?.handle.writable).length).toBeLessThan(2);
      }
    }),
    { numRuns: 80, seed: 21 },
  );
}, 60_000);

test("a tab that may only read takes over what the other saved last once that is closed or killed", async () => {
  for (const end of ["close", "kill"] as const) {
    const world = opened();
    const [a, b] = [world.tab(), world.tab()];
    const first = await open(a);
    let freed: { shot: Shot; handle: ShotHandle } | null = null;
    await open(b, (found) => {
      freed = found as typeof freed;
    });
    await first.handle.save(edited(demo, 7));
    if (end === "close") first.handle.release();
    else a.die();
    for (let n = 0; n < 200 && freed === null; n++) await new Promise((resolve) => setTimeout(resolve, 10));
    expect([(freed as unknown as { shot: Shot }).shot.name, (freed as unknown as { handle: ShotHandle }).handle.writable]).toEqual([
      "Edit 7",
      true,
    ]);
  }
});

test("reading while another tab saves finds a whole shot, and never sets it aside", async () => {
  const world = opened();
  const [a, b] = [world.tab(), world.tab()];
  const { handle } = await open(a);
  await handle.save(demo);
  let shot = demo;
  const saving = (async () => {
    for (let n = 1; n <= 30; n++) {
      shot = edited(shot, n);
      await handle.save(shot);
    }
  })();
  for (let n = 0; n < 15; n++) expect((await b.records.load(demo.id))?.shot.rig).toEqual(demo.rig);
  await saving;
});
