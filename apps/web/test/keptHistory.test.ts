import { commit, currentShot, curveFrom, type History, type Shot, startHistory, undo } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { keepHistory, keptHistory } from "../src/storage/keptHistory.ts";
import { memoryStore } from "../src/storage/stores.ts";

const historyStores = () => ({ steps: memoryStore(), sizes: memoryStore() });
const hop = demoShots[1].make() as Shot;
const lifted = (shot: Shot, value: number): Shot => ({ ...shot, base: { ...shot.base, "head.rotateX": curveFrom([[1, value]]) } });

function worked(steps: number, from: Shot = hop): History {
  let history = startHistory(from, 0);
  for (let n = 1; n <= steps; n++) history = commit(history, { name: `Step ${n}`, shot: lifted(from, n), at: n });
  return history;
}

/** A shot as it comes back from storage: equal, and nothing of it the same object. */
const again = (shot: Shot): Shot => structuredClone(shot);

describe("undo steps over a reload", () => {
  test("come back with the very shot they led to, which stays the object it is", async () => {
    const store = historyStores();
    const history = undo(worked(5));
    await keepHistory(store, hop.id, structuredClone(history));
    const shot = again(currentShot(history));
    const found = await keptHistory(store, shot);
    expect(found?.present).toBe(4);
    expect(found?.steps.map(({ name }) => name)).toEqual(history.steps.map(({ name }) => name));
    expect(currentShot(found as History)).toBe(shot);
    expect(found?.steps[5].shot.base["head.rotateX"].values[0]).toBe(5);
  });

  test("are not used for a shot that says anything else: a value, a name, a last bit", async () => {
    const store = historyStores();
    await keepHistory(store, hop.id, worked(2));
    const shot = again(lifted(hop, 2));
    expect(await keptHistory(store, shot)).not.toBeNull();
    expect(await keptHistory(store, { ...shot, name: "Other" })).toBeNull();
    expect(await keptHistory(store, lifted(shot, 2 + Number.EPSILON * 2))).toBeNull();
    expect(await keptHistory(store, { ...shot, id: "unknown" })).toBeNull();
  });

  test("are bounded in steps and in bytes; the present one always stays", async () => {
    const store = historyStores();
    await keepHistory(store, hop.id, worked(200));
    const found = await keptHistory(store, again(lifted(hop, 200)));
    expect(found?.steps.length).toBeLessThanOrEqual(60);
    expect(found?.present).toBe((found as History).steps.length - 1);
    const heavy = curveFrom(Array.from({ length: 200_000 }, (_, n) => [n, n] as [number, number]));
    const big = (n: number): Shot => ({ ...hop, base: { a: { ...heavy, values: heavy.values.map((v) => v + n) } } });
    let history = startHistory(big(0), 0);
    for (let n = 1; n < 5; n++) history = commit(history, { name: `Step ${n}`, shot: big(n), at: n });
    await keepHistory(store, hop.id, history);
    // There is room for one of these alone, and that is saved anyway.
    expect(await keptHistory(store, again(big(4)))).toBeNull();
  });

  test("say whether there is a way back", async () => {
    const stores = historyStores();
    expect(await keepHistory(stores, hop.id, worked(1))).toBe(true);
    expect(await keepHistory(stores, hop.id, undo(worked(1)))).toBe(false);
    expect(await keepHistory(stores, hop.id, worked(0))).toBe(false);
    expect(await stores.steps.keys()).toEqual([]);
  });

  test("of the shots worked on longest ago go when all together are too large; many small ones stay", async () => {
    const stores = historyStores();
    const keys = 140_000;
    const heavy = (id: string): Shot => ({ ...hop, id, base: { a: curveFrom(Array.from({ length: keys }, (_, n) => [n, n])) } });
    // Steps kept by an older version have no size: they count as large and old.
    await stores.steps.setItem("of-old", { version: 2, steps: [], present: 0 });
    for (let n = 0; n < 200; n++) await keepHistory(stores, `small-${n}`, worked(1, { ...hop, id: `small-${n}` }), n);
    expect(await stores.steps.keys()).toHaveLength(201);
    for (let n = 0; n < 20; n++) await keepHistory(stores, `big-${n}`, worked(1, heavy(`big-${n}`)), 1000 + n);
    const left = await stores.steps.keys();
    expect(left).not.toContain("of-old");
    expect(left).not.toContain("small-0");
    expect(left.filter((id) => id.startsWith("big-"))).toEqual(Array.from({ length: 19 }, (_, n) => `big-${n + 1}`));
    expect((await stores.sizes.keys()).sort()).toEqual(left.sort());
  });

  test("what is no history is passed over", async () => {
    const store = historyStores();
    for (const odd of [{}, { version: 2, steps: 7, present: 0 }, { version: 2, steps: [], present: 0 }, "history"]) {
      await store.steps.setItem(hop.id, odd);
      expect(await keptHistory(store, hop)).toBeNull();
    }
  });
});
