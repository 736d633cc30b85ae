import { z } from "zod";
import { KneaderError } from "../errors.ts";
import { makeControl, type Rig } from "../model/rig.ts";

/*
 * What goes over the wire between a capture device and the application (docs/capture.md): text messages in JSON, and a
 * binary message for each frame. Both sides check what they are sent.
 */

/** How many channels and controls a performer may have. */
const MOST_CONTROLS = 500;
const MOST_CHANNELS = 4500;

const share = z.number().min(0).max(50).default(0);

/** What the stand-in is asked to perform, and what is wrong with its line: shares in percent of its packets. */
export const startMessage = z.object({
  type: z.literal("start"),
  /** The same for a line that was lost and is found again: the device's clock goes on. */
  session: z.string().min(1).max(64),
  performance: z.string().max(100).default("walk"),
  /** Frames a second. */
  rate: z.number().min(1).max(240).default(120),
  seed: z.number().int().min(0).max(1e9).default(1),
  /** Degrees of jitter, and degrees an hour-glass slowly runs off in a minute. */
  noise: z.number().min(0).max(90).default(0),
  drift: z.number().min(0).max(90).default(0),
  dropped: share,
  late: share,
  doubled: share,
  swapped: share,
});
export type StartMessage = z.infer<typeof startMessage>;

const controlHeader = z.object({
  id: z
    .string()
    .min(1)
    .max(200)
    .regex(/^[^.]*$/),
  name: z.string().max(200),
  parent: z.string().nullable(),
  rest: z.tuple([z.number(), z.number(), z.number()]),
  restTurn: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  order: z.enum(["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"]),
  channels: z.array(z.string().max(100)).max(40),
  partner: z.string().nullable(),
});

/** The first message of a device: who performs, and what each number of a frame is. */
export const headerMessage = z
  .object({
    type: z.literal("header"),
    version: z.literal(1),
    name: z.string().max(200),
    rate: z.number().min(1).max(1000),
    controls: z.array(controlHeader).min(1).max(MOST_CONTROLS),
  })
  .refine(({ controls }) => controls.reduce((sum, { channels }) => sum + channels.length, 0) <= MOST_CHANNELS, "too many channels")
  .refine(({ controls }) => new Set(controls.map(({ id }) => id)).size === controls.length, "two controls have one id")
  .refine(({ controls }) => controls.every(({ parent }, n) => parent === null || controls.slice(0, n).some(({ id }) => id === parent)), {
    message: "a control hangs on one that does not come before it",
  });
export type HeaderMessage = z.infer<typeof headerMessage>;

/** Something the device says in words. */
export const problemMessage = z.object({ type: z.literal("problem"), detail: z.string().max(1000) });

/** The performer of a header as a rig. */
export function rigOf({ name, controls }: HeaderMessage): Rig {
  return { id: "capture", name, figure: null, controls: controls.map((control) => makeControl(control.id, control)) };
}

/** The channel keys of a header, in the order of a frame's numbers. */
export const keysOfHeader = ({ controls }: HeaderMessage): string[] =>
  controls.flatMap(({ id, channels }) => channels.map((channel) => `${id}.${channel}`));

/** A frame: its number, the device's clock in seconds, and a value for each channel of the header. */
export interface CaptureFrame {
  readonly sequence: number;
  readonly clock: number;
  readonly values: Float32Array;
}

/** "KNC1" */
const MAGIC = 0x31434e4b;
const HEAD = 16;

/** A frame as its binary message: magic, sequence (both 32 bits), clock (64), then 32-bit floats; the low byte first. */
export function encodeFrame({ sequence, clock, values }: CaptureFrame): Uint8Array {
  const bytes = new Uint8Array(HEAD + 4 * values.length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, sequence, true);
  view.setFloat64(8, clock, true);
  for (let n = 0; n < values.length; n++) view.setFloat32(HEAD + 4 * n, values[n], true);
  return bytes;
}

/** Read a binary message of a device with so many channels. Errors: `bad-capture`, with what is wrong. */
export function decodeFrame(bytes: Uint8Array, channels: number): CaptureFrame {
  const wanted = HEAD + 4 * channels;
  if (bytes.byteLength !== wanted)
    throw new KneaderError("bad-capture", `A frame of ${bytes.byteLength} bytes came where ${wanted} belong.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint32(0, true) !== MAGIC) throw new KneaderError("bad-capture", "A message came that is no frame.");
  const sequence = view.getUint32(4, true);
  const clock = view.getFloat64(8, true);
  if (!(clock >= 0 && clock < 1e9)) throw new KneaderError("bad-capture", `Frame ${sequence} has no time.`);
  const values = new Float32Array(channels);
  for (let n = 0; n < channels; n++) {
    values[n] = view.getFloat32(HEAD + 4 * n, true);
    if (!Number.isFinite(values[n])) throw new KneaderError("bad-capture", `Frame ${sequence} has a value that is no number.`);
  }
  return { sequence, clock, values };
}

/** Read a text message of a device. Errors: `bad-capture`. */
export function readText(text: string): HeaderMessage | z.infer<typeof problemMessage> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new KneaderError("bad-capture", "A message came that is no JSON.");
  }
  const read = z.union([headerMessage, problemMessage]).safeParse(json);
  if (!read.success)
    throw new KneaderError("bad-capture", `A message came that is neither header nor problem: ${read.error.issues[0].message}.`);
  return read.data;
}
