import { between, wait } from "./trial.ts";

/** What is known of a file of the shelf: what was last acknowledged, and what was sent since without an answer. */
interface Known {
  readonly name: string;
  /** The number of the state that stands there; null: thrown away. */
  state: number | null;
  etag: string;
  unanswered: (number | null)[];
}

/** A recipe as a file, of a length that is not written in one go; its state is in its notes. */
const recipe = (name: string, state: number) =>
  JSON.stringify({
    format: "kneader-recipe",
    version: 1,
    name,
    notes: `${state} `.repeat(200),
    steps: [{ operation: "simplify", settings: {} }],
  });
const stateOf = (text: string) => Number.parseInt(JSON.parse(text).notes, 10);

/**
 * Writers at a shelf that put new files there, write over them and throw them away, each in its own time, and know of
 * every file what was acknowledged.
 */
export class ShelfWriters {
  /** Acknowledged changes. */
  acknowledged = 0;
  private readonly files = new Map<string, Known>();
  /** States sent as new files to which no answer came: they may be there or not. */
  private readonly strays = new Set<number>();
  private made = 0;
  private isStopped = false;

  /** Write with so many hands until `stop`; `address` may change meanwhile. */
  async write(hands: number, address: () => string): Promise<void> {
    this.isStopped = false;
    const hand = async () => {
      while (!this.isStopped) {
        await this.change(address()).catch(() => wait(20));
        await wait(between(0, 10));
      }
    };
    await Promise.all(Array.from({ length: hands }, hand));
  }

  stop(): void {
    this.isStopped = true;
  }

  private change(address: string): Promise<void> {
    const ids = [...this.files].filter(([, { state, unanswered }]) => state !== null && unanswered.length === 0).map(([id]) => id);
    const dice = Math.random();
    if (ids.length < 5 || (dice < 0.3 && ids.length < 40)) return this.create(address);
    return this.replace(address, ids[Math.floor(Math.random() * ids.length)], dice < 0.85 ? ++this.made : null);
  }

  private async create(address: string): Promise<void> {
    const state = ++this.made;
    const name = `Recipe ${state}`;
    this.strays.add(state);
    const answer = await send(`${address}/api/shelf`, "POST", recipe(name, state));
    // Refused is answered too: nothing of it may be there.
    this.strays.delete(state);
    if (answer.status !== 201) throw new Error(`${answer.status}`);
    const { id } = (await answer.json()) as { id: string };
    this.files.set(id, { name, state, etag: answer.headers.get("etag") ?? "", unanswered: [] });
    this.acknowledged++;
  }

  private async replace(address: string, id: string, state: number | null): Promise<void> {
    const file = this.files.get(id) as Known;
    file.unanswered.push(state);
    const body = state === null ? null : recipe(file.name, state);
    const answer = await send(`${address}/api/shelf/${id}`, body === null ? "DELETE" : "PUT", body, file.etag);
    file.unanswered.pop();
    if (!answer.ok) throw new Error(`${answer.status}`);
    file.state = state;
    file.etag = answer.headers.get("etag") ?? "";
    this.acknowledged++;
  }

  /** Look for everything that was acknowledged: what is missing or other, a sentence each. What was never answered is settled. */
  async check(address: string): Promise<string[]> {
    const faults: string[] = [];
    for (const [id, file] of this.files) {
      const { state, etag } = await look(address, id);
      if (![file.state, ...file.unanswered].includes(state))
        faults.push(`${file.name} is ${state ?? "gone"}, acknowledged was ${file.state ?? "gone"}`);
      this.files.set(id, { ...file, state, etag, unanswered: [] });
    }
    const { recipes } = (await (await ask(`${address}/api/shelf`)).json()) as { recipes: Entry[] };
    for (const { id, card, broken } of recipes) {
      if (broken) faults.push(`${card.name} is broken: ${broken}`);
      if (this.files.get(id)?.state) continue;
      const { state, etag } = await look(address, id);
      if (state !== null && !this.strays.has(state)) faults.push(`${card.name} is there and nobody put it there`);
      this.files.set(id, { name: card.name, state, etag, unanswered: [] });
    }
    this.strays.clear();
    return faults;
  }
}

interface Entry {
  readonly id: string;
  readonly card: { readonly name: string };
  readonly broken: string | null;
}

/** Ask, and again when it was asked too often. */
async function ask(url: string): Promise<Response> {
  for (;;) {
    const answer = await fetch(url);
    if (answer.status !== 429) return answer;
    await wait(500);
  }
}

async function look(address: string, id: string): Promise<{ state: number | null; etag: string }> {
  const answer = await ask(`${address}/api/shelf/${id}`);
  const text = await answer.text();
  return { state: answer.status === 404 ? null : stateOf(text), etag: answer.headers.get("etag") ?? "" };
}

const send = (url: string, method: string, body: string | null, etag?: string) =>
  fetch(url, {
    method,
    ...(body === null ? {} : { body }),
    headers: {
      "x-kneader-shelf": "unlocked",
      ...(body === null ? {} : { "content-type": "application/json" }),
      ...(etag ? { "if-match": etag } : {}),
    },
  });
