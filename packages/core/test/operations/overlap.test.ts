import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import type { Shot } from "../../src/model/shot.ts";
import { operationById } from "../../src/operations/catalogue.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { waitingOnBoard } from "../../../demo/src/shots/waitingOnBoard.ts";
import { run } from "../help/promises.ts";

const TAIL = ["tail-1", "tail-2", "tail-3", "tail-4"];
const AT_MOST = 75;
/** Degrees a frame at 24 frames a second: 720° a second. */
const A_FRAME = 30;

/** The first settings, as the card opens with them. */
const first = (shot: Shot, controls: readonly string[]) =>
  operationById("overlap").situation?.({
    shot,
    scope: { ...WHOLE_FIGURE, controls },
    frame: 1,
    copiedPose: null,
    copiedKeys: null,
    poseShare: 0.5,
  }) as { stiffness: number; damping: number; loop: boolean };

/** How far each link is turned from where the motion has it, frame by frame, in degrees. */
function turnsOf(before: Shot, after: Shot, links: readonly string[]): number[][] {
  const [a, b] = [makePlayer(before), makePlayer(after)];
  return links.map((id) => {
    const i = 4 * (a.controlIndex.get(id) as number);
    const turns: number[] = [];
    for (let frame = before.range.start; frame <= before.range.end; frame++) {
      a.pose(frame);
      b.pose(frame);
      turns.push(quatAngle(a.turns, i, b.turns, i));
    }
    return turns;
  });
}

/** The greatest angle any whole curve goes through. */
function windings(shot: Shot, links: readonly string[]): number {
  const player = makePlayer(shot);
  let most = 0;
  for (const id of links)
    for (const channel of ["rotateX", "rotateY", "rotateZ"]) {
      const at = player.channelIndex.get(`${id}.${channel}`) as number;
      const values: number[] = [];
      for (let frame = shot.range.start; frame <= shot.range.end; frame++) {
        player.readValues(frame);
        values.push(player.values[at]);
      }
      most = Math.max(most, Math.max(...values) - Math.min(...values));
    }
  return most;
}

describe("overlap with its first settings", () => {
  test("the stepped, far leaping hop: the tail neither winds round nor jumps, and what was held back is said", async () => {
    for (const make of [hopAboard, async () => (await run("convert-blocking", await hopAboard(), { to: "curves" })).shot]) {
      const shot = await make();
      const settings = { ...first(shot, ["tail-1"]), hand: false };
      const { shot: after, report } = await run("overlap", shot, settings, { controls: ["tail-1"] });
      const turns = turnsOf(shot, after, TAIL);
      expect(Math.max(...turns.flat())).toBeLessThanOrEqual(AT_MOST + 0.1);
      expect(Math.max(...turns.flat())).toBeGreaterThan(5);
      for (const link of turns)
        for (let n = 1; n < link.length; n++) expect(Math.abs(link[n] - link[n - 1])).toBeLessThanOrEqual(A_FRAME + 0.1);
      expect(windings(after, TAIL)).toBeLessThan(360);
      if (Math.max(...turns.flat()) > AT_MOST - 0.5)
        expect(report.notes.join(" ")).toMatch(/is thrown hard at frame \d+ and is held at 75°/);
    }
  });

  test("settings follow the chain: a long tail swings slowly, a short tassel quickly; stepped poses are damped, a cycle is one", async () => {
    const hop = await hopAboard();
    const tail = first(hop, ["tail-1"]);
    const tassel = first(hop, ["tassel-1"]);
    expect(tassel.stiffness).toBeGreaterThan(tail.stiffness);
    expect(tail.damping).toBe(60);
    expect(first(await waitingOnBoard(), ["tail-1"]).damping).toBe(30);
    expect(first({ ...hop, cyclic: true }, ["tail-1"]).loop).toBe(true);
  });

  test("on a calm idle nothing is held back: the bounds change nothing", async () => {
    const shot = await waitingOnBoard();
    const { report } = await run("overlap", shot, { ...first(shot, ["tail-1"]), hand: false }, { controls: ["tail-1"] });
    expect(report.notes.join(" ")).not.toMatch(/held at/);
  });
});
