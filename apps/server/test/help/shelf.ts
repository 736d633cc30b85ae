import { type Action, captureClip, emptyShot, makeControl, setKey, writeAction } from "@kneader/core";
import type { LightMyRequestResponse } from "fastify";

/** An action of one key, to be put on a shelf. */
export function actionNamed(name: string, value = 1, inFolder = "Walks"): Action {
  const rig = { id: "r", name: "R", figure: null, controls: [makeControl("hips")] };
  const none = { times: new Float64Array(0), values: new Float64Array(0) };
  const base = {
    "hips.moveX": setKey(
      {
        ...none,
        slopeIn: none.times,
        slopeOut: none.times,
        weightIn: none.times,
        weightOut: none.times,
        kindIn: new Uint8Array(0),
        kindOut: new Uint8Array(0),
        runIn: { kind: "hold", rounds: 0 },
        runOut: { kind: "hold", rounds: 0 },
      },
      0,
      value,
    ),
  };
  const shot = emptyShot({ id: "s", name: "S", rig, range: { start: 0, end: 10 }, base });
  return {
    card: { id: "x", name, notes: "", tags: [], folder: inFolder, savedAt: 0 },
    clip: captureClip(shot, ["hips.moveX"], { start: 0, end: 0 }),
  };
}

/** What a page of ours sends with every change. */
export const unlocked = { "x-kneader-shelf": "unlocked", "content-type": "application/json" };
export const bytesOf = (action: Action) => Buffer.from(writeAction(action));

/** An answer must be a problem of this status that says this. */
export const refused = (answer: LightMyRequestResponse, status: number, detail: RegExp) => {
  expect(answer.statusCode).toBe(status);
  expect(answer.headers["content-type"]).toMatch(/application\/problem\+json/);
  expect(answer.json()).toMatchObject({ status, detail: expect.stringMatching(detail) });
};
