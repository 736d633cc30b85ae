import { readFileSync } from "node:fs";
import { join } from "node:path";
import {
  type Action,
  captureClip,
  emptyShot,
  fitClip,
  makePlayer,
  noContext,
  operations,
  readShot,
  runOperation,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { ferrymanRig } from "../src/rig.ts";
import { standingFerryman } from "../src/standing.ts";

/** Open motion capture; where it comes from stands beside it. */
const bytes = new Uint8Array(readFileSync(join(__dirname, "../../core/test/fixtures/cmu-01-01.bvh")));

async function capturedAction(start: number, end: number): Promise<{ action: Action; shot: Shot }> {
  const { shot } = await readShot(bytes, "cmu-01-01.bvh");
  const clip = captureClip(shot, Object.keys(shot.base), { start, end });
  return { shot, action: { card: { id: "a", name: "Climb", notes: "", tags: [], folder: "", savedAt: 0 }, clip } };
}

const lay = (shot: Shot, settings: object) =>
  runOperation(operations.layAction, shot, WHOLE_FIGURE, operations.layAction.settings.parse(settings) as never, noContext);

function worldsAt(shot: Shot): (id: string, frame: number) => number[] {
  const player = makePlayer(shot);
  return (id, frame) => {
    player.pose(frame);
    const at = 16 * (player.controlIndex.get(id) as number) + 12;
    return [...player.worlds.subarray(at, at + 3)];
  };
}

const limbs = [
  ["upper-arm-left", "forearm-left", "LeftArm", "LeftForeArm"],
  ["forearm-left", "hand-left", "LeftForeArm", "LeftHand"],
  ["upper-arm-right", "forearm-right", "RightArm", "RightForeArm"],
  ["forearm-right", "hand-right", "RightForeArm", "RightHand"],
  ["thigh-left", "shin-left", "LeftUpLeg", "LeftLeg"],
  ["shin-left", "foot-left", "LeftLeg", "LeftFoot"],
  ["thigh-right", "shin-right", "RightUpLeg", "RightLeg"],
  ["shin-right", "foot-right", "RightLeg", "RightFoot"],
] as const;

describe("the open capture on the otter", () => {
  test("all limbs are found, point as the actor's do at every frame, and what has no place is said", async () => {
    const { action, shot: capture } = await capturedAction(1, 2752);
    const fitted = fitClip(action.clip, ferrymanRig);
    const found = new Map(fitted.match.pairs.map(({ from, to }) => [from, to]));
    for (const [to, , from] of limbs) expect(found.get(from)).toBe(to);
    const { shot, report } = await lay(emptyShot({ id: "o", name: "Otter", rig: ferrymanRig, rate: capture.rate }), { action, at: 1 });
    const [mine, theirs] = [worldsAt(shot), worldsAt(capture)];
    for (let frame = 1; frame <= 2752; frame += 97)
      for (const [a, b, c, d] of limbs) {
        const way = (at: ReturnType<typeof worldsAt>, from: string, to: string) => {
          const [p, q] = [at(from, frame), at(to, frame)];
          const length = Math.hypot(...q.map((x, k) => x - p[k]));
          return q.map((x, k) => (x - p[k]) / length);
        };
        const [is, was] = [way(mine, a, b), way(theirs, c, d)];
        expect(Math.hypot(...is.map((x, k) => x - was[k]))).toBeLessThan(1e-6);
      }
    // Nothing is left out in silence: what is not matched is bridged, or named.
    const named = report.warnings.concat(report.notes).join(" ");
    const moved = new Set(Object.keys(action.clip.curves).map((key) => key.slice(0, key.lastIndexOf("."))));
    for (const id of moved) if (!found.has(id)) expect(named).toContain(id.slice(0, 3));
    expect(named).toMatch(/by the length of the legs/);
  });

  test("of five times the rate it has one key on each frame of the shot, where it was at that time", async () => {
    const { action } = await capturedAction(1, 101);
    const { shot, report } = await lay(emptyShot({ id: "o", name: "Otter", rig: ferrymanRig }), { action, at: 1 });
    const fitted = fitClip(action.clip, ferrymanRig).clip.curves["head.rotateX"];
    expect([...shot.base["head.rotateX"].times]).toEqual(Array.from({ length: 21 }, (_, n) => n + 1));
    expect(shot.base["head.rotateX"].values[7]).toBeCloseTo(fitted.values[35], 9);
    expect(report.notes.join(" ")).toMatch(/120 keys a second become one on each frame/);
  });

  test("planted, its feet slide under 5 mm", async () => {
    const { action } = await capturedAction(1, 400);
    const { shot, report } = await lay(standingFerryman(), { action, at: 1, plants: true });
    const planted = shot.constraints.filter(({ kind }) => kind === "plant");
    expect(planted.length).toBeGreaterThan(0);
    const at = worldsAt(shot);
    for (const { settings } of planted) {
      const { limb, contacts } = settings as { limb: string[]; contacts: { start: number; end: number }[] };
      const foot = limb[limb.length - 1];
      for (const { start, end } of contacts) {
        const begun = at(foot, start);
        for (let frame = start; frame <= end; frame++)
          expect(Math.hypot(...at(foot, frame).map((x, k) => x - begun[k]))).toBeLessThan(0.005);
      }
    }
    expect(report.notes.join(" ")).toMatch(/will slide/);
  });
});
