import { timingSafeEqual } from "node:crypto";
import { Problem } from "./problem.ts";

/** So often an address may be wrong in so long (milliseconds) before nothing more is heard from it; and all addresses together. */
const WRONG = 10;
const WRONG_OF_ALL = 200;
const FOR = 60_000;

/** Lets in who has the token; who guesses is soon not heard any more. */
export class TokenGate {
  private readonly token: Buffer;
  private readonly now: () => number;
  private wrong = new Map<string, number>();
  private since = 0;

  constructor(token: string, now: () => number = Date.now) {
    this.token = Buffer.from(token);
    this.now = now;
  }

  /** Errors: `Problem` 401 for another token or none, 429 for who was wrong too often. */
  check(header: string | undefined, address: string): void {
    const now = this.now();
    if (now - this.since > FOR) {
      this.wrong = new Map();
      this.since = now;
    }
    const times = this.wrong.get(address) ?? 0;
    const all = [...this.wrong.values()].reduce((sum, one) => sum + one, 0);
    const given = Buffer.from(header?.replace(/^Bearer /, "") ?? "");
    const isRight = given.length === this.token.length && timingSafeEqual(given, this.token);
    // Who asks without any guesses nothing; who was wrong too often is not told any more when it is right.
    if (header !== undefined && (times >= WRONG || (!isRight && all >= WRONG_OF_ALL)))
      throw new Problem(429, "Too many wrong tokens", `Ask again in ${Math.ceil((this.since + FOR - now) / 1000)} seconds.`);
    if (isRight) return;
    if (header !== undefined) this.wrong.set(address, times + 1);
    throw new Problem(401, "A token is needed", "This shelf is open beyond its machine: give the token it was started with.");
  }
}
