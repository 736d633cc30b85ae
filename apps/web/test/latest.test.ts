import { Latest } from "../src/bench/latest.ts";

test("what was asked about last is kept, what nobody asked about any more is let go of", () => {
  const things = Array.from({ length: 5 }, (_, n) => ({ n }));
  const latest = new Latest<object, string>(3);
  for (const thing of things.slice(0, 3)) latest.set(thing, `value ${thing.n}`);
  // Asking makes it one of the latest again.
  expect(latest.get(things[0])).toBe("value 0");
  latest.set(things[3], "value 3");
  expect(things.map((thing) => latest.get(thing))).toEqual(["value 0", undefined, "value 2", "value 3", undefined]);
  latest.set(things[2], "another");
  latest.set(things[4], "value 4");
  expect(things.map((thing) => latest.get(thing))).toEqual([undefined, undefined, "another", "value 3", "value 4"]);
});
