import { mkdtemp, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { encodeFrame, keysOfHeader, makePerformer, readText, Receiver, type HeaderMessage, startMessage } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import fastify, { type FastifyInstance } from "fastify";
import WebSocket from "ws";
import { captureRoute } from "../src/capture/captureRoute.ts";
import { buildServer } from "../src/server.ts";

let server: FastifyInstance;
let address: string;

beforeAll(async () => {
  const dist = await mkdtemp(join(tmpdir(), "kneader-"));
  await writeFile(join(dist, "index.html"), "<!doctype html>");
  server = await buildServer(dist);
  address = (await server.listen({ port: 0, host: "127.0.0.1" })).replace("http", "ws");
});

const sockets: WebSocket[] = [];

afterAll(async () => {
  for (const socket of sockets) socket.terminate();
  await server.close();
});

interface Heard {
  readonly socket: WebSocket;
  readonly texts: string[];
  readonly frames: Uint8Array[];
}

function listen(options: WebSocket.ClientOptions = {}): Promise<Heard> {
  const socket = new WebSocket(`${address}/api/capture`, options);
  sockets.push(socket);
  const heard: Heard = { socket, texts: [], frames: [] };
  socket.on("message", (data: Buffer, isBinary) =>
    isBinary ? heard.frames.push(new Uint8Array(data)) : heard.texts.push(data.toString()),
  );
  return new Promise((done, failed) => {
    socket.once("open", () => done(heard));
    socket.once("error", failed);
  });
}

const start = (more: object = {}) => JSON.stringify({ type: "start", session: "one", rate: 120, ...more });

async function until(holds: () => boolean): Promise<void> {
  const began = Date.now();
  while (!holds()) {
    if (Date.now() - began > 8000) throw new Error("it did not come");
    await new Promise((done) => setTimeout(done, 10));
  }
}

test("a performance comes as it is, its header first and each frame when it is due", async () => {
  const heard = await listen();
  heard.socket.send(start({ performance: "hop" }));
  await until(() => heard.frames.length > 60);
  heard.socket.close();
  const header = readText(heard.texts[0]) as HeaderMessage;
  expect(header).toMatchObject({ type: "header", name: "Hop aboard", rate: 120 });
  expect(header.controls.length).toBeGreaterThanOrEqual(48);
  const receiver = new Receiver(keysOfHeader(header).length);
  for (const [n, bytes] of heard.frames.entries()) receiver.accept(bytes, n / 120);
  const performer = makePerformer(
    await (demoShots.find(({ id }) => id === "demo-hop-aboard")?.make() as never),
    startMessage.parse(JSON.parse(start())),
  );
  for (const bytes of heard.frames.slice(0, 20)) {
    const { sequence } = receiver.accept(bytes, 1) ?? { sequence: new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, true) };
    expect(Buffer.from(bytes).equals(Buffer.from(encodeFrame(performer.frame(sequence))))).toBe(true);
  }
});

test("a line that was lost is found again with the device's clock gone on", async () => {
  const first = await listen();
  first.socket.send(start({ session: "again" }));
  await until(() => first.frames.length > 30);
  const sequence = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, true);
  const last = sequence(first.frames[first.frames.length - 1]);
  first.socket.terminate();
  await new Promise((done) => setTimeout(done, 250));
  const second = await listen();
  second.socket.send(start({ session: "again" }));
  await until(() => second.frames.length > 5);
  second.socket.close();
  expect(sequence(second.frames[0])).toBeGreaterThan(last + 15);
  expect(sequence(second.frames[0])).toBeLessThan(last + 400);
});

test("asked twice at once only the last performs; who asks without end is shown the door", async () => {
  const heard = await listen();
  heard.socket.send(start({ session: "x", rate: 60 }));
  heard.socket.send(start({ session: "y", rate: 60, performance: "waiting" }));
  await until(() => heard.frames.length > 20);
  const numbers = heard.frames.map((bytes) => new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, true));
  expect(new Set(numbers).size).toBe(numbers.length);
  const closed = new Promise<number>((done) => heard.socket.once("close", done));
  for (let n = 0; n < 300; n++) heard.socket.send("{");
  expect(await closed).toBe(1008);
});

test.each([
  ["no JSON", "{", /no JSON/],
  ["something else", JSON.stringify({ type: "stop" }), /type/],
  ["more than half of it lost", start({ dropped: 90 }), /dropped/],
  ["a performance nobody knows", start({ performance: "opera" }), /no performance "opera"/],
])("%s is refused with the reason, and the line stays", async (_name, message, reason) => {
  const heard = await listen();
  heard.socket.send(message);
  await until(() => heard.texts.length > 0);
  expect(heard.texts[0]).toMatch(/"problem"/);
  expect(JSON.parse(heard.texts[0]).detail).toMatch(reason);
  heard.socket.send(start());
  await until(() => heard.frames.length > 3);
  heard.socket.close();
});

test("a message too long, bytes, and a page from elsewhere are shown the door; too many lines too", async () => {
  const long = await listen();
  const closed = new Promise<number>((done) => long.socket.once("close", done));
  long.socket.on("error", () => undefined);
  long.socket.send(" ".repeat(10_000));
  expect(await closed).toBe(1009);
  const bytes = await listen();
  bytes.socket.send(new Uint8Array(8));
  await until(() => bytes.texts.length > 0);
  expect(bytes.texts[0]).toMatch(/Only words/);
  bytes.socket.close();
  await expect(listen({ origin: "http://elsewhere.example" })).rejects.toThrow(/421/);
  const many = await Promise.all(Array.from({ length: 8 }, () => listen()));
  const ninth = await listen();
  const turned = await new Promise<number>((done) => ninth.socket.once("close", done));
  expect(turned).toBe(1013);
  for (const { socket } of many) socket.close();
});

test("lines that are gone, or want nothing, do not hold the device", async () => {
  const patient = fastify();
  await patient.register(captureRoute, { prefix: "/api/capture", pinged: 40, idle: 400 });
  const at = (await patient.listen({ port: 0, host: "127.0.0.1" })).replace("http", "ws");
  const opened = (options: WebSocket.ClientOptions) =>
    new Promise<{ socket: WebSocket; ended: () => number | null }>((done) => {
      const socket = new WebSocket(`${at}/api/capture`, options);
      let code: number | null = null;
      socket.on("close", (why) => {
        code = why;
      });
      socket.once("open", () => done({ socket, ended: () => code }));
    });
  const working = await opened({});
  working.socket.send(start());
  // All places taken, by lines that answer and ask for nothing, and by lines that are gone.
  const idle = await Promise.all([1, 2, 3].map(() => opened({})));
  const gone = await Promise.all([1, 2, 3, 4].map(() => opened({ autoPong: false })));
  await until(() => gone.every(({ ended }) => ended() === 1006));
  await until(() => idle.every(({ ended }) => ended() === 1001));
  expect(working.ended()).toBeNull();
  const late = await opened({});
  late.socket.send(start());
  await new Promise((done) => setTimeout(done, 200));
  expect(late.ended()).toBeNull();
  for (const { socket } of [working, late]) socket.terminate();
  await patient.close();
});

test("what is asked for wrongly is said in words of ours", async () => {
  const { socket, texts } = await listen();
  for (const asked of [
    { type: "start" },
    { type: "start", session: 7, rate: 120 },
    { type: "start", session: "one", rate: -3 },
    { type: "stop" },
  ])
    socket.send(JSON.stringify(asked));
  await until(() => texts.filter((text) => /problem/.test(text)).length >= 3);
  for (const text of texts.filter((one) => /problem/.test(one)))
    expect(text).not.toMatch(/expected|received|Invalid|Too small|Too big|union/i);
  socket.close();
});
