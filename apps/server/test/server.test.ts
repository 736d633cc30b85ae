import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { FastifyInstance } from "fastify";
import { buildServer } from "../src/server.ts";

let folder = "";
let server: FastifyInstance;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "kneader-dist-"));
  mkdirSync(join(folder, "assets"));
  writeFileSync(join(folder, "index.html"), "<!doctype html><title>Kneader</title>");
  writeFileSync(join(folder, "shots.html"), "<!doctype html><title>Kneader</title><link rel=modulepreload href=/assets/bench.js>");
  writeFileSync(join(folder, "assets/main.js"), "export {};");
  writeFileSync(join(folder, "assets/large.js"), "export const otter = 'ferry';\n".repeat(2000));
  for (const page of ["index.html", "shots.html"])
    for (const [end, packed] of [
      ["br", brotliCompressSync(readFileSync(join(folder, page)))],
      ["gz", gzipSync(readFileSync(join(folder, page)))],
    ] as const)
      writeFileSync(join(folder, `${page}.${end}`), packed);
  server = await buildServer(folder);
});
afterAll(async () => {
  await server.close();
  rmSync(folder, { recursive: true, force: true });
});

const get = (url: string) => server.inject({ method: "GET", url });

test.each(["/", "/shots/demo-hop-aboard", "/pantry", "/settings?from=bench"])("%s is the application's page", async (url) => {
  const answer = await get(url);
  expect(answer.statusCode).toBe(200);
  expect(answer.headers["content-type"]).toMatch(/text\/html/);
  expect(answer.body).toContain("<title>Kneader</title>");
});

test("a page with files of its own has them named from the start; others, and what only sounds alike, do not", async () => {
  for (const url of ["/shots/demo-hop-aboard", "/shots/demo-hop-aboard/", "/shots/one?frame=3"])
    expect((await get(url)).body).toContain("bench.js");
  for (const url of ["/", "/shots/one/compare", "/shotsandmore", "/pantry", "/index"]) {
    expect((await get(url)).statusCode).toBe(200);
    expect((await get(url)).body).not.toContain("bench.js");
  }
  expect((await get("/shots/one")).headers["cache-control"]).toBe("no-cache");
});

test("files are served with their kind", async () => {
  const answer = await get("/assets/main.js");
  expect(answer.statusCode).toBe(200);
  expect(answer.headers["content-type"]).toMatch(/javascript/);
});

test.each(["/assets/gone.js", "/api/nothing"])("%s is a problem, not a page", async (url) => {
  const answer = await get(url);
  expect(answer.statusCode).toBe(404);
  expect(answer.headers["content-type"]).toMatch(/application\/problem\+json/);
  expect(answer.json()).toMatchObject({ status: 404, detail: expect.stringContaining(url) });
});

test("nothing outside the built folder can be fetched", async () => {
  for (const url of ["/../package.json", "/%2e%2e/%2e%2e/etc/passwd", "/assets/..%2f..%2fsecret"]) {
    const answer = await get(url);
    expect(answer.body).not.toMatch(/root:|"name"/);
  }
});

test("pages may load nothing from elsewhere", async () => {
  const policy = String((await get("/")).headers["content-security-policy"]);
  expect(policy).toMatch(/default-src 'self'/);
  expect(policy).not.toMatch(/https?:\/\//);
  // Data inside a file are read as an address that leads nowhere.
  expect(policy).toMatch(/connect-src 'self' blob: data:/);
});

test("the page is asked for each time, built files are kept for ever", async () => {
  for (const url of ["/", "/pantry", "/index.html"]) expect((await get(url)).headers["cache-control"]).toBe("no-cache");
  expect((await get("/assets/main.js")).headers["cache-control"]).toBe("public, max-age=31536000, immutable");
  // However it is packed on its way.
  for (const packed of ["br", "gzip", "gzip, deflate, br, zstd"])
    for (const url of ["/", "/pantry", "/index.html", "/shots/one", "/shots.html"]) {
      const answer = await server.inject({ method: "GET", url, headers: { "accept-encoding": packed } });
      expect(answer.headers["content-encoding"]).toMatch(/br|gzip/);
      expect([url, packed, answer.headers["cache-control"]]).toEqual([url, packed, "no-cache"]);
    }
});

test.each([
  ["localhost:4173", undefined, 200],
  ["127.0.0.1:4173", "http://127.0.0.1:4173", 200],
  ["[::1]:4173", "http://localhost:4173", 200],
  ["evil.example", undefined, 421],
  ["localhost.evil.example:4173", undefined, 421],
  ["127.0.0.1:4173", "https://evil.example", 421],
])("asked as %s from %s it answers %d", async (host, origin, status) => {
  const answer = await server.inject({ method: "GET", url: "/", headers: { host, ...(origin ? { origin } : {}) } });
  expect(answer.statusCode).toBe(status);
  if (status === 421)
    expect(answer.json()).toMatchObject({ title: "Not for this server", detail: expect.stringContaining("this machine only") });
});

test("what is large enough is compressed, for who asks for it", async () => {
  const packed = await server.inject({ method: "GET", url: "/assets/large.js", headers: { "accept-encoding": "br, gzip" } });
  expect(packed.headers["content-encoding"]).toBe("br");
  expect(packed.rawPayload.length).toBeLessThan(2000);
  expect((await get("/assets/large.js")).headers["content-encoding"]).toBeUndefined();
});

test("a connection that is opened and left is closed", () => {
  expect(server.server.headersTimeout).toBeLessThanOrEqual(10_000);
  expect(server.server.requestTimeout).toBeLessThanOrEqual(15_000);
  expect(server.server.timeout).toBeLessThanOrEqual(30_000);
});

test("other methods are refused", async () => {
  expect((await server.inject({ method: "POST", url: "/" })).statusCode).toBe(404);
});
