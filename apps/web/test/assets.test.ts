import type { Shot, ShotAsset } from "@kneader/core";
import { Assets } from "../src/storage/assets.ts";
import { memoryStore } from "../src/storage/stores.ts";
import { demo, opened } from "./help/records.ts";

const bytes = Uint8Array.of(1, 2, 3);
const named = (hash: string): ShotAsset => ({
  hash,
  name: "heron.glb",
  bytes: 3,
  isDrawn: true,
  animation: 0,
  animationName: "Wade",
  firstFrame: 1,
  nodes: {},
  shapes: {},
});
const hash = "a".repeat(64);
const other = "b".repeat(64);
const drawn = (id: string, asset = hash): Shot => ({ ...demo, id, asset: named(asset) });
const LONG_AGO = 20 * 60 * 1000;

test("a file is kept once, however often it is handed over, and read back as it was", async () => {
  const store = memoryStore();
  let writes = 0;
  const counted = { ...store, setItem: (key: string, value: unknown) => store.setItem(key, value).finally(() => writes++) };
  const assets = new Assets(counted);
  await assets.keep(hash, bytes);
  await assets.keep(hash, bytes);
  expect(writes).toBe(1);
  // Another tab has nothing in memory.
  expect(await new Assets(store).get(hash)).toEqual(bytes);
  expect(await new Assets(store).get(other)).toBeNull();
});

test("what cannot be kept is at hand in this tab all the same, and the reason is told", async () => {
  const full = { ...memoryStore(), setItem: () => Promise.reject(new DOMException("full", "QuotaExceededError")) };
  const assets = new Assets(full);
  await expect(assets.keep(hash, bytes)).rejects.toThrow("full");
  expect(await assets.get(hash)).toEqual(bytes);
});

describe("sweeping", () => {
  test("leaves what any shot names, also one that can be brought back or was set aside, and what was only just kept", async () => {
    const world = opened();
    const { door, records } = world.tab();
    for (const shot of [drawn("one"), drawn("copy"), drawn("deleted", other), drawn("aside", "c".repeat(64))]) {
      const handle = await door.adopt(shot);
      await handle.save(shot);
      handle.release();
    }
    await records.markDeleted("deleted", true);
    await records.setAside("aside", "cannot be read");
    const store = memoryStore();
    const assets = new Assets(store);
    for (const one of [hash, other, "c".repeat(64), "d".repeat(64)]) await assets.keep(one, bytes);
    const names = await records.namedAssets();
    expect([...names].sort()).toEqual([hash, other, "c".repeat(64)]);
    expect(await assets.sweep(names)).toBe(0);
    expect(await assets.sweep(names, Date.now() + LONG_AGO)).toBe(1);
    expect((await store.keys()).sort()).toEqual([hash, other, "c".repeat(64)]);
  });

  test("of two shots that share a file the last to go takes it along", async () => {
    const world = opened();
    const { door, records } = world.tab();
    for (const id of ["one", "copy"]) {
      const handle = await door.adopt(drawn(id));
      await handle.save(drawn(id));
      handle.release();
    }
    const store = memoryStore();
    await new Assets(store).keep(hash, bytes);
    const later = Date.now() + LONG_AGO;
    const gone = async (id: string) => {
      await records.markDeleted(id, true);
      await records.purge(id);
      return new Assets(store).sweep(await records.namedAssets(), later);
    };
    expect(await gone("one")).toBe(0);
    expect(await gone("copy")).toBe(1);
    expect(await new Assets(store).get(hash)).toBeNull();
  });
});

test("a shot read back names its file as it did", async () => {
  const world = opened();
  const { door, records } = world.tab();
  const handle = await door.adopt(drawn("one"));
  await handle.save(drawn("one"));
  expect((await records.load("one"))?.shot.asset).toEqual(named(hash));
});
