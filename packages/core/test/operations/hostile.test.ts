import { fuzzOperations } from "../help/fuzzOperations.ts";

test("300 runs of operations with hostile scopes and settings: done, or refused in a sentence (npm run fuzz makes 2 000)", async () => {
  const { faults, done, refused } = await fuzzOperations(0, 300);
  expect(faults).toEqual([]);
  // Some of the operations need what a shot seldom has, such as a played action.
  expect(done).toBeGreaterThan(20);
  expect(refused).toBeGreaterThan(60);
}, 120_000);
