import helmet from "@fastify/helmet";
import serveStatic from "@fastify/static";
import fastify, { type FastifyInstance } from "fastify";

/** The server of the built application: files, safe headers, and one page for every route of it. */
export async function buildServer(dist: string): Promise<FastifyInstance> {
  const server = fastify({ bodyLimit: 1024 * 1024 });
  await server.register(helmet, {
    // Plain http on this machine: nothing may be turned into https.
    strictTransportSecurity: false,
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        imgSrc: ["'self'", "data:", "blob:"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        fontSrc: ["'self'", "data:"],
        workerSrc: ["'self'", "blob:"],
        connectSrc: ["'self'", "blob:"],
        upgradeInsecureRequests: null,
      },
    },
  });
  await server.register(serveStatic, { root: dist, wildcard: false, maxAge: "1h", immutable: false });
  server.get("/api/health", () => ({ ok: true }));
  server.setNotFoundHandler((request, reply) => {
    const wantsPage = request.method === "GET" && !request.url.startsWith("/api/") && !/\.[a-z0-9]+$/i.test(request.url.split("?")[0]);
    if (wantsPage) return reply.type("text/html").header("cache-control", "no-cache").sendFile("index.html");
    return reply
      .code(404)
      .type("application/problem+json")
      .send({ type: "about:blank", title: "Not found", status: 404, detail: `Nothing is at ${request.url}.` });
  });
  return server;
}
