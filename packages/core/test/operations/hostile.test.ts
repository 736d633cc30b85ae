import { formats, readShot } from "../../src/formats/formats.ts";
import { KneaderError } from "../../src/errors.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, operationById } from "../../src/operations/catalogue.ts";
import { type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { Chance } from "../help/chance.ts";
import { fuzzOperations } from "../help/fuzzOperations.ts";
import { run } from "../help/run.ts";
import { movingShot } from "../help/shots.ts";

test("300 runs of operations with hostile scopes and settings: done, or refused in a sentence (npm run fuzz makes 2 000)", async () => {
  const { faults, done, refused } = await fuzzOperations(0, 300);
  expect(faults).toEqual([]);
  // Some of the operations need what a shot seldom has, such as a played action.
  expect(done).toBeGreaterThan(20);
  expect(refused).toBeGreaterThan(60);
}, 120_000);

test("scopes that name what is not there, in every operation: done without it, or refused in a sentence", async () => {
  const shot = movingShot();
  const scopes: Partial<Scope>[] = [
    ...["nope.rotateX", "", "spine", "spine.nothing", "spine.rotateX.x"].flatMap((key) => [
      { channels: [key] },
      { keys: { [key]: [1, 3.3] } },
    ]),
    { controls: ["nope"] },
    { layer: "nope" },
    { range: { start: 5, end: 2 } },
  ];
  for (const operation of catalogue)
    for (const scope of scopes) {
      const at = { shot, scope: { ...WHOLE_FIGURE, ...scope }, frame: 5, copiedPose: null, copiedKeys: null, poseShare: 0.5 };
      try {
        await run(operation, shot, operation.situation?.(at) ?? {}, scope);
      } catch (error) {
        if (!(error instanceof KneaderError))
          throw new Error(`${operation.id} with ${JSON.stringify(scope)}: ${String((error as Error).stack)}`);
      }
    }
}, 60_000);

/** Every format writes a shot, and reads it back. */
async function exports(shot: Shot): Promise<void> {
  for (const format of formats) {
    const { bytes } = await format.write(shot, { asset: null, body: null });
    await readShot(bytes, `shot${format.extension}`);
  }
}

test("what an operation accepts can be exported and read back: long holds, large values by many steps", async () => {
  const shot = await handOverTheLantern();
  const hold = operationById("insert-hold");
  await expect(run(hold, shot, { at: 5, frames: 100_000 })).rejects.toMatchObject({
    message: expect.stringMatching(/^Insert a hold: The shot has 51 controls over 100\d{3} frames/),
    remedy: "Choose fewer frames.",
  });
  await exports((await run(hold, shot, { at: 5, frames: 1_000 })).shot);
  await exports((await run(hold, movingShot(), { at: 5, frames: 20_000 })).shot);
  let large = shot;
  let refused = 0;
  for (let n = 0; n < 12; n++)
    try {
      large = (await run(operationById("scale-values"), large, { factor: 1000 })).shot;
    } catch (error) {
      refused++;
      expect((error as Error).message).toMatch(/beyond|between/);
    }
  expect(refused).toBeGreaterThan(0);
  await exports(large);
}, 120_000);

test("chains of ten legal steps by chance: each done in seconds or refused in a sentence, and what is made can be exported", async () => {
  const chance = new Chance(91);
  const able = catalogue.filter(({ id, makes }) => !makes && !["tune", "run-recipe", "record"].includes(id));
  for (let chain = 0; chain < 6; chain++) {
    let shot = movingShot();
    for (let n = 0; n < 10; n++) {
      const operation = chance.of(able);
      const at = { shot, scope: WHOLE_FIGURE, frame: 5, copiedPose: null, copiedKeys: null, poseShare: 0.5 };
      const began = performance.now();
      try {
        shot = (await run(operation, shot, operation.situation?.(at) ?? {})).shot;
      } catch (error) {
        expect(error).toBeInstanceOf(KneaderError);
      }
      expect([operation.id, performance.now() - began < 20_000]).toEqual([operation.id, true]);
    }
    await exports(shot);
  }
}, 120_000);
