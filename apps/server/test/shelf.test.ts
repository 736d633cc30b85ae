import { fork } from "node:child_process";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { transformSync } from "@swc/core";
import { type Action, readAction, writeAction } from "@kneader/core";
import type { FastifyInstance } from "fastify";
import { buildServer } from "../src/server.ts";
import { LARGEST, type Listed, ShelfFolder } from "../src/shelf/shelfFolder.ts";
import { writeWhole } from "../src/shelf/writeWhole.ts";
import { isTooDeep } from "../src/shelf/nesting.ts";
import { actionNamed, bytesOf, refused, unlocked } from "./help/shelf.ts";

let dist = "";
let folder = "";
let server: FastifyInstance;
const TOKEN = "a-lantern-in-the-fog";

const list = async (to = server): Promise<Listed[]> => (await to.inject({ url: "/api/shelf" })).json().actions;
const post = (action: Action, to = server) => to.inject({ method: "POST", url: "/api/shelf", headers: unlocked, payload: bytesOf(action) });
const put = (id: string, action: Action, seen?: string) =>
  server.inject({
    method: "PUT",
    url: `/api/shelf/${id}`,
    headers: { ...unlocked, ...(seen ? { "if-match": seen } : {}) },
    payload: bytesOf(action),
  });
/** All files of the shelf by their paths, what is hidden left out. */
function filesIn(root: string, below = ""): Record<string, string> {
  return Object.fromEntries(
    readdirSync(join(root, below)).flatMap((name) => {
      if (name.startsWith(".")) return [];
      const path = join(below, name);
      return statSync(join(root, path)).isDirectory()
        ? Object.entries(filesIn(root, path))
        : [[path, readFileSync(join(root, path), "utf8")]];
    }),
  );
}

async function serve(more: { token?: string; open?: boolean; readOnly?: boolean } = {}): Promise<FastifyInstance> {
  const { token = null, open = false, readOnly = false } = more;
  return buildServer(dist, { shelf: new ShelfFolder(folder, readOnly), token, open });
}

beforeEach(async () => {
  dist = mkdtempSync(join(tmpdir(), "kneader-dist-"));
  folder = mkdtempSync(join(tmpdir(), "kneader-shelf-"));
  writeFileSync(join(dist, "index.html"), "<!doctype html><title>Kneader</title>");
  server = await serve();
});
afterEach(async () => {
  await server.close();
  for (const path of [dist, folder]) rmSync(path, { recursive: true, force: true });
});

describe("the shared shelf", () => {
  test("takes an action, lists its card, gives it back, lets it be changed, moved and thrown away", async () => {
    const made = (await post(actionNamed("Hop"))).json() as Listed;
    expect(made.card).toMatchObject({ name: "Hop", folder: "Walks", about: { frames: 0, curves: 1, moves: ["hips"] } });
    expect(await list()).toEqual([made]);
    const answer = await server.inject({ url: `/api/shelf/${made.id}` });
    expect(answer.headers.etag).toBe(made.etag);
    expect(readAction(answer.rawPayload).clip.curves["hips.moveX"].values[0]).toBe(1);
    const moved = (await put(made.id, actionNamed("Jump", 2, "Walks/High"), made.etag)).json() as Listed;
    expect(Object.keys(filesIn(folder))).toEqual([join("Walks", "High", "Jump.json")]);
    expect(moved.card).toMatchObject({ name: "Jump", folder: "Walks/High" });
    const gone = await server.inject({ method: "DELETE", url: `/api/shelf/${moved.id}`, headers: { ...unlocked, "if-match": moved.etag } });
    expect(gone.statusCode).toBe(204);
    expect(await list()).toEqual([]);
    // Both states are in the bin.
    expect(readdirSync(join(folder, ".bin"))).toHaveLength(2);
  });

  test("two of one name in a folder both stay", async () => {
    await post(actionNamed("Hop"));
    await post(actionNamed("Hop", 2));
    expect(Object.keys(filesIn(folder)).sort()).toEqual([join("Walks", "Hop 2.json"), join("Walks", "Hop.json")]);
  });

  test("a stale change is refused and says what stands there now; without saying what was seen there is none", async () => {
    const made = (await post(actionNamed("Hop"))).json() as Listed;
    const now = (await put(made.id, actionNamed("Hop", 2), made.etag)).json() as Listed;
    const stale = await put(made.id, actionNamed("Hop", 3), made.etag);
    refused(stale, 412, /changed it since you saw it/);
    expect(stale.json().etag).toBe(now.etag);
    refused(await put(made.id, actionNamed("Hop", 3)), 428, /If-Match/);
    refused(
      await server.inject({ method: "DELETE", url: `/api/shelf/${made.id}`, headers: { ...unlocked, "if-match": made.etag } }),
      412,
      /changed/,
    );
    expect(readAction((await server.inject({ url: `/api/shelf/${made.id}` })).rawPayload).clip.curves["hips.moveX"].values[0]).toBe(2);
  });

  test("says when nothing has changed, and when something has", async () => {
    const { etag } = (await server.inject({ url: "/api/shelf" })).headers;
    const again = () => server.inject({ url: "/api/shelf", headers: { "if-none-match": String(etag) } });
    expect((await again()).statusCode).toBe(304);
    await post(actionNamed("Hop"));
    expect((await again()).statusCode).toBe(200);
  });

  test("what others put there, changed or broke by hand is found, and shown as what it is", async () => {
    mkdirSync(join(folder, "By hand"), { recursive: true });
    writeFileSync(join(folder, "By hand", "good.json"), writeAction(actionNamed("Hop")));
    writeFileSync(join(folder, "By hand", "cut.json"), writeAction(actionNamed("Hop")).slice(0, 60));
    writeFileSync(join(folder, "By hand", "note.txt"), "not an action");
    symlinkSync("/etc", join(folder, "elsewhere"));
    const shelf = new ShelfFolder(folder);
    const found = await shelf.list();
    expect(found.map(({ card, broken }) => [card.folder, card.name, broken === null])).toEqual(
      expect.arrayContaining([
        ["By hand", "Hop", true],
        ["By hand", "cut", false],
      ]),
    );
    expect(found).toHaveLength(2);
    expect(found.find(({ broken }) => broken)?.broken).toMatch(/JSON cannot be read/);
    writeFileSync(join(folder, "By hand", "good.json"), writeAction(actionNamed("Skip", 5)));
    expect((await shelf.list(0)).find(({ broken }) => !broken)?.card.name).toBe("Skip");
  });

  test("locked, or the example that ships, nothing is changed", async () => {
    refused(
      await server.inject({
        method: "POST",
        url: "/api/shelf",
        headers: { "content-type": "application/json" },
        payload: bytesOf(actionNamed("Hop")),
      }),
      403,
      /Unlock it/,
    );
    const example = await serve({ readOnly: true });
    refused(await post(actionNamed("Hop"), example), 403, /example that ships/);
    await example.close();
    expect(filesIn(folder)).toEqual({});
  });

  test("a thousand files are read once: looked through again, what did not change is known", async () => {
    for (let n = 0; n < 20; n++) mkdirSync(join(folder, `Folder ${n}`));
    const bytes = writeAction(actionNamed("Hop"));
    for (let n = 0; n < 1000; n++) writeFileSync(join(folder, `Folder ${n % 20}`, `Action ${n}.json`), bytes);
    const shelf = new ShelfFolder(folder);
    const first = await shelf.list();
    expect(first).toHaveLength(1000);
    const known = new Set(first);
    writeFileSync(join(folder, "Folder 3", "Action 3.json"), writeAction(actionNamed("Hop", 2)));
    const again = await shelf.list(0);
    expect(again.filter((one) => !known.has(one))).toHaveLength(1);
  }, 30_000);
});

describe("nothing is lost", () => {
  test("in 1 000 interleavings of two writers: each change that was taken was seen before it was changed again", async () => {
    const shelf = new ShelfFolder(folder);
    const made = await shelf.create(writeAction(actionNamed("Hop", 0)));
    let taken = 0;
    let stale = 0;
    let seed = 7;
    const chance = () => {
      seed = (seed * 48271) % 2147483647;
      return seed / 2147483647;
    };
    const writer = async () => {
      for (let n = 0; n < 500; n++) {
        const { bytes, etag } = await shelf.read(made.id);
        const value = readAction(bytes).clip.curves["hips.moveX"].values[0];
        // Now and then the other comes in between.
        if (chance() < 0.5) await new Promise((resolve) => setImmediate(resolve));
        try {
          await shelf.replace(made.id, writeAction(actionNamed("Hop", value + 1)), etag);
          taken++;
        } catch (error) {
          expect((error as { status: number }).status).toBe(412);
          stale++;
        }
      }
    };
    await Promise.all([writer(), writer()]);
    expect(taken + stale).toBe(1000);
    expect(stale).toBeGreaterThan(10);
    expect(readAction((await shelf.read(made.id)).bytes).clip.curves["hips.moveX"].values[0]).toBe(taken);
  }, 60_000);

  test("killed 60 times while it writes, every file is whole", async () => {
    const path = join(folder, "Hop.json");
    // As plain JavaScript, so that each of them starts quickly.
    const plain = join(dist, "writer.mjs");
    const source = readFileSync(join(__dirname, "../src/shelf/writeWhole.ts"), "utf8");
    const loop =
      "const [path] = process.argv.slice(2); const bytes = readFileSync(path); process.send('begun'); for (;;) await writeWhole(path, bytes);";
    writeFileSync(
      plain,
      `import { readFileSync } from "node:fs";\n${transformSync(source, { jsc: { parser: { syntax: "typescript" }, target: "es2022" } }).code}\n${loop}`,
    );
    const whole = [1, 2].map((value) => Buffer.concat([bytesOf(actionNamed("Hop", value)), Buffer.alloc(200_000, " ")]));
    await writeWhole(path, whole[0]);
    for (let n = 0; n < 60; n++) {
      await new Promise<void>((resolve) => {
        const writer = fork(plain, [path], { stdio: ["ignore", "ignore", "ignore", "ipc"] });
        writer.on("message", () => setTimeout(() => writer.kill("SIGKILL"), (n % 20) * 0.7));
        writer.on("exit", () => resolve());
      });
      const read = readFileSync(path);
      expect(JSON.parse(read.toString()).format).toBe("kneader-action");
    }
    const shelf = new ShelfFolder(folder);
    expect((await shelf.list()).map(({ broken }) => broken)).toEqual([null]);
  }, 240_000);
});

describe("what is hostile is refused, and the shelf stays as it was", () => {
  const traversals = ["../../secret", "..%2f..%2fsecret", "%2e%2e%2f%2e%2e%2fetc%2fpasswd", "....//secret", "a/b", "%00", "a".repeat(5000)];

  test.each(traversals)("an id that is a path: %.40s", async (id) => {
    await post(actionNamed("Hop"));
    const before = filesIn(folder);
    for (const method of ["GET", "PUT", "DELETE"] as const) {
      const answer = await server.inject({
        method,
        url: `/api/shelf/${id}`,
        headers: { ...unlocked, "if-match": '"x"' },
        ...(method === "PUT" ? { payload: bytesOf(actionNamed("Evil")) } : {}),
      });
      expect(answer.statusCode).toBeGreaterThanOrEqual(400);
      expect(answer.body).not.toMatch(/root:|hips/);
    }
    expect(filesIn(folder)).toEqual(before);
  });

  test.each(["../../../outside", "/etc", "..", ".hidden/deep", "a/../../b", "C:\\Windows", "x\u0000y"])(
    "a folder that leads elsewhere: %s",
    async (into) => {
      await post(actionNamed("../../evil", 1, into));
      for (const path of Object.keys(filesIn(folder))) expect(path).not.toMatch(/(^|\/)\.\.(\/|$)/);
      expect(readdirSync(join(folder, "..")).some((name) => /evil|outside/.test(name))).toBe(false);
      expect(await list()).toHaveLength(1);
    },
  );

  test("foreign hosts and pages", async () => {
    for (const headers of [{ host: "evil.example" }, { host: "127.0.0.1:4173", origin: "https://evil.example" }]) {
      const answer = await server.inject({
        method: "POST",
        url: "/api/shelf",
        headers: { ...unlocked, ...headers },
        payload: bytesOf(actionNamed("Hop")),
      });
      refused(answer, 421, /this machine only/);
    }
    expect(filesIn(folder)).toEqual({});
  });

  test("bodies that are too large, cut off, of another kind, or none", async () => {
    const send = (payload: Buffer | undefined, type = "application/json") =>
      server.inject({ method: "POST", url: "/api/shelf", headers: { ...unlocked, "content-type": type }, payload });
    refused(await send(Buffer.alloc(9 * 1024 * 1024, "x")), 413, /8 MB/);
    refused(await send(bytesOf(actionNamed("Hop")).subarray(0, 50)), 422, /JSON cannot be read/);
    refused(await send(Buffer.from('{"format":"other"}')), 422, /not a kneader action/);
    refused(await send(bytesOf(actionNamed("Hop")), "text/html"), 415, /./);
    // Nested without end it is refused by a look, not read.
    for (const sign of ["[", '{"a":', '["]",'])
      refused(await send(Buffer.from(sign.repeat(Math.floor(LARGEST / sign.length) - 1))), 422, /nested deeper/);
    expect(isTooDeep(bytesOf(actionNamed('[[[["{{{'.repeat(100))))).toBe(false);
    expect(filesIn(folder)).toEqual({});
  });

  test("2 000 quick requests: most are told to wait, nothing is changed", async () => {
    await post(actionNamed("Hop"));
    const before = filesIn(folder);
    const answers = await Promise.all(
      Array.from({ length: 2000 }, (_, n) => (n % 2 ? server.inject({ url: "/api/shelf" }) : put("nobody", actionNamed("Evil"), '"x"'))),
    );
    const waiting = answers.filter(({ statusCode }) => statusCode === 429);
    expect(waiting.length).toBeGreaterThan(1500);
    refused(waiting[0], 429, /Ask again in/);
    expect(filesIn(folder)).toEqual(before);
  });

  test("open beyond the machine, everything is asked for the token, and other pages are still refused", async () => {
    const open = await serve({ token: TOKEN, open: true });
    const ask = (headers: Record<string, string>) => open.inject({ url: "/api/shelf", headers });
    refused(await ask({ host: "studio.example" }), 401, /token/);
    refused(await ask({ host: "studio.example", authorization: "Bearer wrong" }), 401, /token/);
    expect((await ask({ host: "studio.example", authorization: `Bearer ${TOKEN}` })).statusCode).toBe(200);
    refused(await ask({ host: "studio.example", origin: "https://evil.example", authorization: `Bearer ${TOKEN}` }), 421, /./);
    await open.close();
  });
});
