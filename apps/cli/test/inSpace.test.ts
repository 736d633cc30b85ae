import { execFile } from "node:child_process";
import { mkdtemp, readFile, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { makePlayer, readShot } from "@kneader/core";

const root = join(__dirname, "../../..");
const capture = join(root, "packages/core/test/fixtures/cmu-01-01.bvh");
/** Feet, hands (their fingers are joints of their own here) and head. */
const ENDS = ["LeftToeBase", "RightToeBase", "Head", "LFingers", "LThumb", "RFingers", "RThumb"];

test("the whole open capture, simplified in space from the command line: every end within 1 % of the height at every frame", async () => {
  const folder = await mkdtemp(join(tmpdir(), "kneader-space-"));
  try {
    const before = (await readShot(await readFile(capture), "cmu-01-01.bvh")).shot;
    const was = makePlayer(before);
    was.pose(2);
    const heights = before.rig.controls.map((_, i) => was.worlds[i * 16 + 13]);
    const distance = 0.01 * (Math.max(...heights) - Math.min(...heights));
    const out = join(folder, "out.json");
    const settings = ["measure=space", `space=${distance}`, "together=curve"].flatMap((set) => ["--set", set]);
    // In a process of its own: this is also how an animator's machine runs it over night.
    const run = [join(root, "apps/cli/dist/kneader.js"), "apply", "simplify", capture, out, ...settings];
    const { stdout } = await promisify(execFile)(process.execPath, run);
    const { report } = JSON.parse(stdout);
    // Half a degree on each curve leaves 13 651.
    expect(report.keysAfter).toBeLessThan(14000);
    expect(report.notes.join()).toMatch(/LeftToeBase, .* stay within/);

    const is = makePlayer((await readShot(await readFile(out), "out.json")).shot);
    let worst = 0;
    for (let frame = before.range.start; frame <= before.range.end; frame++) {
      was.pose(frame);
      is.pose(frame);
      for (const end of ENDS) {
        const o = (was.controlIndex.get(end) as number) * 16 + 12;
        const [x, y, z] = [0, 1, 2].map((k) => was.worlds[o + k] - is.worlds[o + k]);
        worst = Math.max(worst, x * x + y * y + z * z);
      }
    }
    expect(Math.sqrt(worst)).toBeLessThanOrEqual(distance);
    expect(Math.sqrt(worst)).toBeGreaterThan(0.5 * distance);
  } finally {
    await rm(folder, { recursive: true });
  }
}, 120_000);
