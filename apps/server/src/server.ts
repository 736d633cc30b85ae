import { readdirSync } from "node:fs";
import compress from "@fastify/compress";
import helmet from "@fastify/helmet";
import serveStatic from "@fastify/static";
import fastify, { type FastifyInstance, type FastifyReply } from "fastify";
import { captureRoute } from "./capture/captureRoute.ts";
import { answerOwnHostOnly } from "./ownHost.ts";
import { PROBLEM } from "./shelf/problem.ts";
import type { ShelfFolder } from "./shelf/shelfFolder.ts";
import { type Access, shelfRoutes } from "./shelf/shelfRoutes.ts";

/** A shelf that the server shares. */
export interface Sharing extends Access {
  readonly shelf: ShelfFolder;
  /** It answers beyond this machine. */
  readonly open: boolean;
}

/** The server of the built application: files, safe headers, and one page for every route of it. */
export async function buildServer(dist: string, sharing?: Sharing): Promise<FastifyInstance> {
  const server = fastify({
    bodyLimit: 1024 * 1024,
    // Connections that are opened and left are closed.
    connectionTimeout: 30_000,
    requestTimeout: 15_000,
    keepAliveTimeout: 10_000,
    http: { headersTimeout: 10_000 },
    // An address that cannot be read.
    frameworkErrors: (error, _request, reply) => problem(reply, error.statusCode ?? 400, "Not understood", "The address cannot be read."),
  });
  server.setErrorHandler((error: Error & { statusCode?: number }, _request, reply) => {
    const status = error.statusCode ?? 500;
    if (status >= 500) console.error(error);
    return problem(
      reply,
      status,
      status >= 500 ? "The server failed" : "Not understood",
      status >= 500 ? "The server has written down what happened." : error.message,
    );
  });
  answerOwnHostOnly(server, sharing?.open ?? false);
  await server.register(compress, { encodings: ["br", "gzip"], threshold: 1024 });
  await server.register(helmet, {
    // Plain http on this machine: nothing may be turned into https.
    strictTransportSecurity: false,
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        imgSrc: ["'self'", "data:", "blob:"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        fontSrc: ["'self'", "data:"],
        // Meshes that are packed in files are unpacked by WebAssembly of the application's own.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        workerSrc: ["'self'", "blob:"],
        // Files with their data inside are read by the loader as addresses of their own; they lead nowhere.
        connectSrc: ["'self'", "blob:", "data:"],
        upgradeInsecureRequests: null,
      },
    },
  });
  await server.register(serveStatic, {
    root: dist,
    wildcard: false,
    // The build has compressed its files already.
    preCompressed: true,
    cacheControl: false,
    setHeaders: (reply, path) => void reply.header("cache-control", cacheFor(path.slice(dist.length))),
  });
  server.get("/api/health", () => ({ ok: true }));
  // The stand-in for a device is for this machine: it asks nobody for a token.
  if (!sharing?.open) await server.register(captureRoute, { prefix: "/api/capture" });
  if (sharing) await server.register(shelfRoutes, { ...sharing, prefix: "/api/shelf" });
  const pages = new Set(readdirSync(dist).filter((name) => name.endsWith(".html")));
  server.setNotFoundHandler((request, reply) => {
    const wantsPage = request.method === "GET" && !request.url.startsWith("/api/") && !/\.[a-z0-9]+$/i.test(request.url.split("?")[0]);
    if (wantsPage) return reply.type("text/html").sendFile(pageFor(request.url, pages));
    return problem(reply, 404, "Not found", `Nothing is at ${request.url}.`);
  });
  return server;
}

/** What went wrong, as RFC 9457 has it. */
function problem(reply: FastifyReply, status: number, title: string, detail: string): FastifyReply {
  return reply.code(status).type(PROBLEM).send({ type: "about:blank", title, status, detail });
}

/** The file that names all a page needs; index.html where there is none of its own. */
function pageFor(url: string, pages: ReadonlySet<string>): string {
  const [, first] = /^\/([a-z]+)(?:\/[^/]*)?\/?$/.exec(url.split("?")[0]) ?? [];
  return pages.has(`${first}.html`) ? `${first}.html` : "index.html";
}

/** Names of built files say what is in them, so they are kept for ever; the page that names them is asked for each time. */
function cacheFor(path: string): string {
  if (/^[\\/]assets[\\/]/.test(path)) return "public, max-age=31536000, immutable";
  // The page may stand there compressed as well.
  return /\.html(\.br|\.gz)?$/.test(path) ? "no-cache" : "public, max-age=3600";
}
