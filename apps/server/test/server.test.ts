import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
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
  writeFileSync(join(folder, "assets/main.js"), "export {};");
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
});

test("other methods are refused", async () => {
  expect((await server.inject({ method: "POST", url: "/" })).statusCode).toBe(404);
});
