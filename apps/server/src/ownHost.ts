import type { FastifyInstance } from "fastify";

/** Names by which this machine calls itself. */
const LOOPBACK = /^(localhost|[a-z0-9-]+\.localhost|127(\.\d{1,3}){3}|\[::1\])(:\d{1,5})?$/i;

function isOwn(host: string | undefined): boolean {
  return host !== undefined && LOOPBACK.test(host);
}

/**
 * Answers only to who asks for this machine by a loopback name: a page from elsewhere whose name was made to point
 * here is no page of ours. Open beyond this machine, whatever name it is asked by must be that of the page too.
 */
export function answerOwnHostOnly(server: FastifyInstance, open = false): void {
  server.addHook("onRequest", async (request, reply) => {
    const { host, origin } = request.headers;
    const from = origin === undefined || origin === "null" ? undefined : origin.replace(/^https?:\/\//i, "");
    // Browsers say where a request comes from even where they leave out the page: another page may lead here, and no more.
    const isForeign = request.url.startsWith("/api/") && /^(cross-site|same-site)$/.test(String(request.headers["sec-fetch-site"] ?? ""));
    if (!isForeign && isOwn(host) && (from === undefined || isOwn(from))) return;
    // Open beyond this machine it is asked by other names; a page from elsewhere is still none of ours.
    if (!isForeign && open && host !== undefined && (from === undefined || from === host)) return;
    // A connection that asked to become something else is nobody's any more once it is refused.
    if (request.headers.upgrade !== undefined) reply.raw.once("finish", () => request.raw.socket.destroySoon());
    await reply
      .code(421)
      .type("application/problem+json")
      .send({
        type: "about:blank",
        title: "Not for this server",
        status: 421,
        detail: `Kneader answers on this machine only, as localhost or 127.0.0.1; it was asked ${isForeign ? "by another page" : `as ${String(from ?? host ?? "nobody").slice(0, 100)}`}.`,
      });
  });
}
