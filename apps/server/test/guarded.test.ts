import { mkdirSync, mkdtempSync, readdirSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Action } from "@kneader/core";
import type { FastifyInstance } from "fastify";
import { buildServer } from "../src/server.ts";
import { tidyBin } from "../src/shelf/bin.ts";
import { takeFolder } from "../src/shelf/folderLock.ts";
import { ShelfFolder } from "../src/shelf/shelfFolder.ts";
import { writeWhole } from "../src/shelf/writeWhole.ts";
import { actionNamed, bytesOf, refused, unlocked } from "./help/shelf.ts";

/** The shared shelf is guarded: against guessing, links, other pages, a full disk, and a second server. */

jest.setTimeout(30_000);
jest.mock("../src/shelf/writeWhole.ts", () => {
  const actual = jest.requireActual("../src/shelf/writeWhole.ts");
  return { ...actual, writeWhole: jest.fn(actual.writeWhole) };
});

const TOKEN = "a-lantern-in-the-fog";
let dist = "";
let folder = "";
let shelf: ShelfFolder;
let server: FastifyInstance;

const serve = ({ token = null as string | null, open = false } = {}) => buildServer(dist, { shelf, token, open });
const post = (action: Action) => server.inject({ method: "POST", url: "/api/shelf", headers: unlocked, payload: bytesOf(action) });
const put = (id: string, action: Action, seen: string) =>
  server.inject({ method: "PUT", url: `/api/shelf/${id}`, headers: { ...unlocked, "if-match": seen }, payload: bytesOf(action) });

beforeEach(async () => {
  dist = mkdtempSync(join(tmpdir(), "kneader-dist-"));
  writeFileSync(join(dist, "index.html"), "<!doctype html>");
  folder = mkdtempSync(join(tmpdir(), "kneader-guarded-"));
  shelf = new ShelfFolder(folder);
  server = await serve();
});
afterEach(async () => {
  await server.close();
  for (const one of [dist, folder]) rmSync(one, { recursive: true, force: true });
});

test("wrong tokens are not heard any more after ten, whoever else is served", async () => {
  const open = await serve({ token: TOKEN, open: true });
  const ask = (token: string | null, remoteAddress = "10.0.0.9") =>
    open.inject({
      url: "/api/shelf",
      remoteAddress,
      headers: { host: "studio.example", ...(token ? { authorization: `Bearer ${token}` } : {}) },
    });
  const answers: number[] = [];
  for (let n = 0; n < 450; n++) answers.push((await ask(`guess-number-${n}`, `10.0.${n % 3}.9`)).statusCode);
  expect(answers.filter((status) => status === 401)).toHaveLength(30);
  refused(await ask(TOKEN), 429, /Ask again in \d+ seconds/);
  expect((await ask(TOKEN, "10.0.7.7")).statusCode).toBe(200);
  // Asking without any guesses nothing.
  for (let n = 0; n < 30; n++) refused(await ask(null, "10.0.8.8"), 401, /token/);
  expect((await ask(TOKEN, "10.0.8.8")).statusCode).toBe(200);
  await open.close();
});

test("folders that are links, long names in any script, and what comes from other pages", async () => {
  const elsewhere = mkdtempSync(join(tmpdir(), "kneader-elsewhere-"));
  symlinkSync(elsewhere, join(folder, "Outside"));
  for (const into of ["Outside", "Outside/deep"]) refused(await post(actionNamed("Hop", 1, into)), 403, /a link to another place/);
  expect(readdirSync(elsewhere)).toEqual([]);
  rmSync(elsewhere, { recursive: true });
  for (const name of ["灯".repeat(80), "🦦".repeat(80), "é".repeat(200), " ".repeat(80)]) {
    const answer = await post(actionNamed(name, 1, `${name}/${name}`));
    expect(answer.statusCode).toBe(201);
    const { id, etag } = answer.json();
    expect((await put(id, actionNamed(name, 2, `${name}/${name}`), etag)).statusCode).toBe(200);
  }
  const asked = (site: string, url = "/api/shelf") => server.inject({ url, headers: { "sec-fetch-site": site } });
  for (const site of ["cross-site", "same-site"]) refused(await asked(site), 421, /by another page/);
  for (const site of ["same-origin", "none"]) expect((await asked(site)).statusCode).toBe(200);
  // Many of them use up nobody's rate; a link to a page may come from anywhere.
  for (let n = 0; n < 500; n++) await asked("cross-site");
  expect((await asked("same-origin")).statusCode).toBe(200);
  expect((await asked("cross-site", "/")).statusCode).toBe(200);
});

test("what is old, or too much, leaves the bin; on a full disk all of it does, and the change is made", async () => {
  const bin = join(folder, ".bin");
  mkdirSync(bin, { recursive: true });
  const day = 24 * 60 * 60 * 1000;
  for (const [name, age] of [
    ["old", 90],
    ["young", 3],
  ] as const)
    writeFileSync(join(bin, `${Date.now() - age * day}-${name}.json`), name.repeat(10));
  const { id, etag } = (await post(actionNamed("Hop"))).json();
  expect((await put(id, actionNamed("Hop", 2), etag)).statusCode).toBe(200);
  expect(
    readdirSync(bin)
      .map((name) => name.replace(/^\d+-/, "").replace(/^[\w-]{8}-/, ""))
      .sort(),
  ).toEqual(["Hop.json", "young.json"]);
  await tidyBin(bin, Date.now(), 60);
  expect(readdirSync(bin)).toEqual([]);
  writeFileSync(join(bin, "1-full.json"), "x");
  const isFull = () => jest.mocked(writeWhole).mockRejectedValueOnce(Object.assign(new Error("no space"), { code: "ENOSPC" }));
  isFull();
  expect((await post(actionNamed("Leap"))).statusCode).toBe(201);
  expect(readdirSync(bin)).toEqual([]);
  // With nothing to let go it is said.
  isFull();
  refused(await post(actionNamed("Bound")), 507, /no room/);
});

test("an address that cannot be read is a problem in words", async () => {
  for (const url of ["/%", "/%E0%A4%A", "/api/shelf/%"]) refused(await server.inject({ url }), 400, /cannot be read|not understood/i);
});

test("a folder is one server's alone: a second one does not start, and takes over when the first has let go", async () => {
  const letGo = await takeFolder(folder, () => undefined);
  jest.spyOn(global, "setTimeout").mockImplementation(((run: () => void) => setImmediate(run)) as never);
  await expect(takeFolder(folder, () => undefined)).rejects.toThrow(
    new RegExp(`shared by another server already \\(process ${process.pid} on `),
  );
  jest.restoreAllMocks();
  await letGo();
  await (await takeFolder(folder, () => undefined))();
  // Taken over while it slept, it changes nothing any more.
  shelf.giveUp();
  refused(await post(actionNamed("Hop")), 503, /another server/);
  expect((await server.inject({ url: "/api/shelf" })).statusCode).toBe(200);
});
