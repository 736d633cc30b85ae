import websocket from "@fastify/websocket";
import {
  encodeFrame,
  makePerformer,
  type Performer,
  sayError,
  sayIssue,
  sentAt,
  type Shot,
  type StartMessage,
  startMessage,
} from "@kneader/core";
import { demoShots, wholeWalk } from "@kneader/demo";
import type { FastifyInstance } from "fastify";

/** The socket of a line, as far as it is used here. */
interface Line {
  readonly readyState: number;
  readonly bufferedAmount: number;
  send(data: string | Uint8Array): void;
  close(code?: number, reason?: string): void;
  terminate(): void;
  ping(): void;
  on(event: "message", heard: (data: Buffer, isBinary: boolean) => void): void;
  on(event: "close" | "error" | "pong", heard: () => void): void;
}

const OPEN = 1;
/** A message asked for is at most so long (bytes); a line that does not read is closed at so much unread. */
const LONGEST = 4096;
const UNREAD = 4 * 1024 * 1024;
/** So often a line may ask for another performance. */
const STARTS = 200;
/** Lines at once, and how long (milliseconds) the clock of one that was lost goes on. */
const LINES = 8;
const REMEMBERED = 30_000;
/** How often (milliseconds) a line is asked whether it is still there; and how long it may stay without a performance. */
const PINGED = 10_000;
const IDLE = 60_000;
/** How often (milliseconds) what is due is sent. */
const BEAT = 4;

const WALK = "walk";

/** The performances there are: shots of the demo, by short names. */
const performances: Readonly<Record<string, string>> = {
  hop: "demo-hop-aboard",
  lantern: "demo-hand-over",
  waiting: "demo-waiting",
};

/** How patient the device is, in milliseconds. */
export interface Patience {
  readonly pinged?: number;
  readonly idle?: number;
}

/** A stand-in for a capture device: a performer who does the same each time, over a line as bad as is asked for. */
export async function captureRoute(server: FastifyInstance, { pinged = PINGED, idle = IDLE }: Patience = {}): Promise<void> {
  await server.register(websocket, { options: { maxPayload: LONGEST } });
  const sessions = new Map<string, { began: number; last: number }>();
  let lines = 0;
  server.get("/", { websocket: true }, (socket) => {
    const line = socket as unknown as Line;
    if (lines >= LINES) return line.close(1013, "Too many are listening.");
    lines++;
    let stop: (() => void) | null = null;
    let starts = 0;
    let isThere = true;
    let idleSince = performance.now();
    // Lines that are lost, or want nothing, do not hold the device.
    const watch = setInterval(() => {
      if (stop !== null) idleSince = performance.now();
      if (!isThere) return line.terminate();
      if (performance.now() - idleSince > idle) return line.close(1001, "Nothing was asked for.");
      isThere = false;
      line.ping();
    }, pinged);
    line.on("pong", () => {
      isThere = true;
    });
    const problem = (detail: string) => {
      if (line.readyState === OPEN) line.send(JSON.stringify({ type: "problem", detail }));
    };
    line.on("message", (data, isBinary) => {
      if (++starts > STARTS) return line.close(1008, "Too much is asked.");
      try {
        if (isBinary) throw new Error("Only words are understood here.");
        const asked = startMessage.safeParse(JSON.parse(data.toString()));
        if (!asked.success) throw new Error(`What is asked for is not understood: ${sayIssue(asked.error)}.`);
        stop?.();
        stop = null;
        const mine = starts;
        void perform(line, asked.data, sessions).then(
          (ended) => {
            // Asked for something else meanwhile, or gone: only the last one performs.
            if (mine === starts && line.readyState === OPEN) stop = ended;
            else ended();
          },
          (error: unknown) => problem(sayError(error)),
        );
      } catch (error) {
        problem(error instanceof SyntaxError ? "A message came that is no JSON." : sayError(error));
      }
    });
    line.on("close", () => {
      lines--;
      clearInterval(watch);
      stop?.();
    });
    line.on("error", () => line.close());
  });
}

const made = new Map<string, Promise<Shot>>();

/** The shot that is performed, made once. Errors: there is none of that name. */
function performedShot(name: string): Promise<Shot> {
  const demo = name === WALK ? { make: wholeWalk } : demoShots.find(({ id }) => id === performances[name]);
  if (!demo) throw new Error(`There is no performance "${name}". There are: ${[WALK, ...Object.keys(performances)].join(", ")}.`);
  const shot = made.get(name) ?? Promise.resolve(demo.make());
  made.set(name, shot);
  return shot;
}

/** Send the header, and from then on each frame when it is due; answers how to stop. */
async function perform(line: Line, asked: StartMessage, sessions: Map<string, { began: number; last: number }>): Promise<() => void> {
  const performer: Performer = makePerformer(await performedShot(asked.performance), asked);
  const now = performance.now();
  for (const [id, { last }] of sessions) if (now - last > REMEMBERED) sessions.delete(id);
  // A line that was lost is found again where the performance is by then.
  const session = sessions.get(asked.session) ?? { began: now, last: now };
  sessions.set(asked.session, session);
  line.send(JSON.stringify(performer.header));
  let next = Math.ceil(((now - session.began) / 1000) * asked.rate);
  const timer = setInterval(() => {
    if (line.readyState !== OPEN) return clearInterval(timer);
    if (line.bufferedAmount > UNREAD) return line.close(1008, "What is sent is not read.");
    session.last = performance.now();
    const due = ((session.last - session.began) / 1000) * asked.rate;
    for (; next <= due; next++) for (const sequence of sentAt(asked, next)) line.send(encodeFrame(performer.frame(sequence)));
  }, BEAT);
  return () => clearInterval(timer);
}
