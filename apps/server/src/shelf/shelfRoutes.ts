import { createHash } from "node:crypto";
import rateLimit from "@fastify/rate-limit";
import type { FastifyInstance, FastifyReply, FastifyRequest } from "fastify";
import { PROBLEM, Problem } from "./problem.ts";
import { LARGEST, type Listed, type ShelfFolder } from "./shelfFolder.ts";
import { TokenGate } from "./tokenGate.ts";

/** Who may read and change the shelf. */
export interface Access {
  /** Asked for from beyond this machine, and then from everybody; null: this machine alone, and nothing is asked. */
  readonly token: string | null;
}

/** So many requests a client may make in ten seconds. */
const QUICKEST = 400;
/** What a page of ours sends with every change; a form of another page cannot. */
const UNLOCKED = "x-kneader-shelf";

/** The shared shelf at `/api/shelf`: list, read, write, move, throw away. Errors are problem+json (RFC 9457). */
export async function shelfRoutes(server: FastifyInstance, { shelf, token }: { shelf: ShelfFolder } & Access): Promise<void> {
  const gate = token === null ? null : new TokenGate(token);
  await server.register(rateLimit, {
    max: QUICKEST,
    timeWindow: 10_000,
    errorResponseBuilder: (_request, { after }) => new Problem(429, "Too many requests", `Ask again in ${after}.`),
  });
  server.addContentTypeParser("application/json", { parseAs: "buffer", bodyLimit: LARGEST }, (_request, body, done) => done(null, body));
  server.setErrorHandler((error: Error & { statusCode?: number }, _request, reply) => answer(reply, problemOf(error)));
  server.addHook("onRequest", async (request) => {
    gate?.check(request.headers.authorization, request.ip);
    if (request.method !== "GET" && request.headers[UNLOCKED] !== "unlocked")
      throw new Problem(403, "The shelf is locked", "Unlock it in the pantry before changing it.");
  });

  server.get("/", async (request, reply) => {
    const list = await shelf.list();
    const body = JSON.stringify({
      readers: token === null ? "this machine" : "those with the token",
      readOnly: shelf.readOnly,
      actions: list.filter(({ kind }) => kind === "action"),
      recipes: list.filter(({ kind }) => kind === "recipe"),
    });
    const etag = `"${createHash("sha256").update(body).digest("base64url").slice(0, 32)}"`;
    void reply.header("etag", etag).header("cache-control", "no-cache");
    if (request.headers["if-none-match"] === etag) return reply.code(304).send();
    return reply.type("application/json").send(body);
  });
  server.get<WithId>("/:id", async ({ params }, reply) => {
    const { bytes, etag } = await shelf.read(params.id);
    return reply.header("etag", etag).header("cache-control", "no-cache").type("application/json").send(Buffer.from(bytes));
  });
  server.post("/", async (request, reply) => told(reply.code(201), await shelf.create(sent(request))));
  server.put<WithId>("/:id", async (request, reply) =>
    told(reply, await shelf.replace(request.params.id, sent(request), request.headers["if-match"])),
  );
  server.delete<WithId>("/:id", async (request, reply) => {
    await shelf.remove(request.params.id, request.headers["if-match"]);
    return reply.code(204).send();
  });
}

interface WithId {
  Params: { id: string };
}

const told = (reply: FastifyReply, listed: Listed) => reply.header("etag", listed.etag).send(listed);

function sent({ body }: FastifyRequest): Uint8Array {
  if (body instanceof Uint8Array && body.length > 0) return body;
  throw new Problem(415, "Send an action or a recipe", "The body must be its file, as application/json.");
}

function problemOf(error: Error & { statusCode?: number; code?: string }): Problem {
  if (error instanceof Problem) return error;
  if (error.statusCode === 413) return new Problem(413, "Too large", `A file may have ${LARGEST / 1024 / 1024} MB.`);
  if (error.statusCode && error.statusCode < 500) return new Problem(error.statusCode, "Not understood", error.message);
  if (error.code === "ENOSPC")
    return new Problem(507, "The disk is full", "Nothing was changed: there is no room on the disk of the shelf.");
  if (error.code === "EACCES" || error.code === "EROFS" || error.code === "EPERM")
    return new Problem(403, "The folder cannot be written", "Nothing was changed: the server may not write into the folder of the shelf.");
  if (error.code === "ENOTDIR" || error.code === "ENOENT")
    return new Problem(503, "The folder is gone", "Nothing was changed: the folder of the shelf is not there, or is no folder any more.");
  console.error(error);
  return new Problem(500, "The shelf failed", "Nothing was changed. The server has written down what happened.");
}

function answer(reply: FastifyReply, problem: Problem): FastifyReply {
  return reply.code(problem.status).type(PROBLEM).send(problem.body());
}
