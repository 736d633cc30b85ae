import * as fc from "fast-check";
import { BASE, type Curve, curveFrom, KneaderError, type Shot, setKey, withLayerCurves } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { ShotDoor, type ShotHandle } from "../src/storage/shotDoor.ts";
import { isUndecodable, type ShotRecord, ShotRecords } from "../src/storage/shotRecords.ts";
import { BrowserLocks, browserStores, type Fault, Tab } from "./help/browser.ts";

const demo = demoShots[1].make() as Shot;
const none = async () => null;

/** The shot with one more edit, which can be told from all others. */
function edited(shot: Shot, n: number): Shot {
  const keys = Object.keys(shot.base);
  const key = keys[n % keys.length];
  return withLayerCurves({ ...shot, name: `Edit ${n}` }, BASE, { ...shot.base, [key]: setKey(shot.base[key], (n % 40) + 1, n) });
}

function opened(fault?: Fault) {
  const browser = browserStores();
  const locks = new BrowserLocks();
  const tabs: Tab[] = [];
  const tab = (own: Fault | undefined = fault) => {
    const one = new Tab(browser, own);
    tabs.push(one);
    const records = new ShotRecords(one.stores);
    const die = () => {
      one.kill();
      locks.drop(one);
    };
    return { tab: one, records, door: new ShotDoor(records, locks.of(one)), die };
  };
  return { browser, locks, tab };
}

/** Every curve that is in the browser's storage and every one that a record names. */
async function census(browser: ReturnType<typeof browserStores>) {
  const stored = new Set(await browser.curves.keys());
  const named = new Set<string>();
  for (const id of await browser.shots.keys())
    for (const key of (await browser.shots.getItem<ShotRecord>(id))?.curveKeys ?? []) named.add(key);
  return { stored, named, orphans: [...stored].filter((key) => !named.has(key)), holes: [...named].filter((key) => !stored.has(key)) };
}

async function load(world: ReturnType<typeof opened>, id = demo.id): Promise<Shot | null> {
  return (await new ShotRecords(world.browser).load(id))?.shot ?? null;
}

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
    await Promise.race([work, new Promise((resolve) => setTimeout(resolve, 60))]);
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

describe("tabs", () => {
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
      await new Promise((resolve) => setTimeout(resolve, 20));
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
});

describe("records", () => {
  const record = (shot: unknown, more: object = {}) => ({
    id: "r",
    name: "R",
    version: 1,
    savedAt: 1,
    deletedAt: null,
    bytes: 0,
    curveKeys: [],
    shot,
    ...more,
  });
  const { base: _, ...rest } = demo;

  test.each<[string, unknown]>([
    ["no range", { ...rest, base: {}, range: undefined }],
    ["no rate", { ...rest, base: {}, rate: undefined }],
    ["controls that are nothing", { ...rest, base: {}, rig: { ...demo.rig, controls: [null] } }],
    [
      "a control without channels",
      { ...rest, base: {}, rig: { ...demo.rig, controls: [{ ...demo.rig.controls[0], channels: undefined }] } },
    ],
    ["passes of another shape", { ...rest, base: {}, passes: [7] }],
    ["a curve that is not listed", { ...rest, base: { "hips.moveX": "r/9" } }],
    [
      "a circle of follows",
      {
        ...rest,
        base: {},
        follows: ["hips", "chest"].map((id, n, both) => ({
          id,
          control: id,
          target: both[1 - n],
          position: true,
          rotation: true,
          strength: "r/1",
          offset: new Array(16).fill(0),
          on: true,
        })),
      },
    ],
  ])("with %s cannot be decoded, and that is said", async (_name, shot) => {
    const world = opened();
    await world.browser.shots.setItem("r", record(shot));
    const failed = await world
      .tab()
      .records.load("r")
      .catch((error: unknown) => error);
    expect(isUndecodable(failed)).toBe(true);
  });

  test("a store that fails just now is no reason to set a record aside", async () => {
    const world = opened();
    const { door, tab } = world.tab();
    const handle = await door.adopt(demo);
    await handle.save(demo);
    handle.release();
    const broken = new ShotRecords({
      ...tab.stores,
      curves: { ...tab.stores.curves, getItem: () => Promise.reject(new Error("The database connection is closing.")) },
    });
    const failed = await broken.load(demo.id).catch((error: unknown) => error);
    expect([isUndecodable(failed), (failed as Error).message]).toEqual([false, "The database connection is closing."]);
  });

  test("what older records do not have is filled in", async () => {
    const world = opened();
    const { versions: _v, sets: _s, poseMarks: _p, locked: _l, cyclic: _c, ...older } = { ...rest, base: {} };
    await world.browser.shots.setItem("r", record(older));
    expect((await world.tab().records.load("r"))?.shot).toMatchObject({ versions: [], sets: [], poseMarks: [], locked: [], cyclic: false });
  });

  test("curves keep their identity when read, so that nothing is written anew by an edit elsewhere", async () => {
    const world = opened();
    const { door, tab } = world.tab();
    const handle = await door.adopt(demo);
    await handle.save(demo);
    handle.release();
    const again = (await door.open(demo.id, none, () => undefined)) as { shot: Shot; handle: ShotHandle };
    const before = tab.written;
    const one: Curve = curveFrom([[1, 5]]);
    await again.handle.save(withLayerCurves(again.shot, BASE, { ...again.shot.base, "hips.rotateX": one }));
    // The new curve, the record, and the removal of the curve it replaced.
    expect(tab.written - before).toBe(3);
  });
});
