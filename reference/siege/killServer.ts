import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { end, serve } from "./servers.ts";
import { ShelfWriters } from "./shelfWriters.ts";
import { between, type Outcome, type Trial, wait } from "./trial.ts";

/** A killed server's folder is waited for up to ten seconds: several go at once. */
const AT_ONCE = 4;
const PORT = 4820;

/** The server is killed while three write to its shelf, and started again. */
export const killServer: Trial = {
  id: "server",
  title: "The server killed while three write to its shelf",
  async run(times, say): Promise<Outcome> {
    const faults: string[] = [];
    let acknowledged = 0;
    let done = 0;
    const one = async (lane: number) => {
      const shelf = mkdtempSync(join(tmpdir(), "kneader-siege-"));
      const port = PORT + lane;
      const address = `http://127.0.0.1:${port}`;
      const writers = new ShelfWriters();
      while (done < times) {
        const n = ++done;
        const server = await serve(port, { shelf });
        faults.push(...(await writers.check(address)).map((fault) => `kill ${n - AT_ONCE}: ${fault}`));
        const writing = writers.write(3, () => address);
        await wait(between(50, 1500));
        await end(server, "SIGKILL");
        writers.stop();
        await writing;
        say(`${n} of ${times}, ${writers.acknowledged} changes acknowledged on one of ${AT_ONCE} shelves`);
      }
      const server = await serve(port, { shelf });
      faults.push(...(await writers.check(address)));
      await end(server, "SIGTERM");
      acknowledged += writers.acknowledged;
      rmSync(shelf, { recursive: true });
    };
    await Promise.all(Array.from({ length: AT_ONCE }, (_, lane) => one(lane)));
    return { times: done, kept: `${acknowledged} changes that were acknowledged`, faults };
  },
};
