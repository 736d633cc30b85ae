import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { end, serve } from "./servers.ts";
import { ShelfWriters } from "./shelfWriters.ts";
import { between, type Outcome, type Trial, wait } from "./trial.ts";

const PORTS = [4830, 4831] as const;
/** Longer than a server that says nothing is waited for. */
const ASLEEP = 13_000;
/** Every so many rounds one server falls asleep instead of ending. */
const SLEEPS = 50;
/** Every so many rounds they take turns, and all is looked for again. */
const CHECKS = 5;

/**
 * Three write without a pause while two servers take turns at one folder: one ends, or is put to sleep, and the other takes
 * over; a server that wakes up again must not change anything.
 */
export const twoServers: Trial = {
  id: "two-servers",
  title: "Three write while two servers take turns at one folder",
  async run(times, say): Promise<Outcome> {
    const faults: string[] = [];
    const shelf = mkdtempSync(join(tmpdir(), "kneader-siege-"));
    const writers = new ShelfWriters();
    let turn = 0;
    const address = (who = turn) => `http://127.0.0.1:${PORTS[who % 2]}`;
    let server = await serve(PORTS[0], { shelf });
    let sleeper: typeof server | null = null;
    for (let n = 1; n <= times; n++) {
      const writing = writers.write(3, () => address(sleeper && Math.random() < 0.5 ? turn + 1 : turn));
      await wait(between(10, 120));
      if (n % SLEEPS === 0) {
        server.kill("SIGSTOP");
        await wait(ASLEEP);
        const before = server;
        server = await serve(PORTS[++turn % 2], { shelf });
        sleeper = before;
        sleeper.kill("SIGCONT");
        await wait(3_000);
      } else if (n % CHECKS === 0) {
        if (sleeper) await end(sleeper, "SIGTERM");
        sleeper = null;
        await end(server, "SIGTERM");
        server = await serve(PORTS[++turn % 2], { shelf });
      }
      writers.stop();
      await writing;
      if (n % CHECKS === 0) faults.push(...(await writers.check(address())).map((fault) => `round ${n}: ${fault}`));
      if (n % 20 === 0) say(`${n} of ${times}, ${writers.acknowledged} changes acknowledged`);
    }
    const refused = await serve(PORTS[(turn + 1) % 2], { shelf }).then(
      () => false,
      (error: Error) => /shared by another server/.test(error.message),
    );
    if (!refused) faults.push("a second server started on a folder that is taken");
    if (sleeper) await end(sleeper, "SIGTERM");
    await end(server, "SIGTERM");
    rmSync(shelf, { recursive: true });
    return { times, kept: `${writers.acknowledged} changes that were acknowledged`, faults };
  },
};
