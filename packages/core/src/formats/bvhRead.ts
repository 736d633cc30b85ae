import { constantCurve, linearCurve, linearFrame } from "../curve/make.ts";
import type { Curve } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import { type RotationOrder, rotationOrders } from "../maths/rotation.ts";
import { findPartners } from "../figure/partners.ts";
import { channelKey, type Control, makeControl } from "../model/rig.ts";
import { rateFromFps } from "../model/rate.ts";
import { emptyShot } from "../model/shotFields.ts";
import { type ByteReader, ascii, isSpace, LONGEST_WORD, lineOf, readNumber, readRow, readWord, skipSpace } from "./bytes.ts";
import type { Imported, ShotFile } from "./format.ts";
import { freshId } from "../model/freshId.ts";
import { MOST_CONTROLS } from "./limits.ts";
import { uniqueIds } from "./uniqueIds.ts";

const channelNames: ReadonlyMap<string, string> = new Map([
  ["xposition", "moveX"],
  ["yposition", "moveY"],
  ["zposition", "moveZ"],
  ["xrotation", "rotateX"],
  ["yrotation", "rotateY"],
  ["zrotation", "rotateZ"],
]);

interface Column {
  key: string;
}

/**
 * Read a BVH file (Biovision hierarchy, a format in general use): one control a joint, a linear key a
 * frame; a channel that never changes gets a single key. Rotations keep the file's order.
 */
export function readBvh({ bytes, name }: ShotFile): Imported {
  const reader: ByteReader = { bytes, at: 0 };
  const notes: string[] = [];
  const { controls, columns } = readHierarchy(reader);
  const { frames, frameTime } = readMotionHeader(reader);
  const table = readFrames(reader, columns.length, frames, notes);
  const count = columns.length === 0 ? 0 : table[0].length;
  const frame = linearFrame(Float64Array.from({ length: count }, (_, i) => i + 1));
  const base: Record<string, Curve> = {};
  let still = 0;
  columns.forEach((column, c) => {
    const values = table[c];
    if (isConstant(values)) {
      base[column.key] = constantCurve(values[0], 1);
      still++;
    } else base[column.key] = linearCurve(frame, values);
  });
  if (still > 0) notes.push(`${still} of ${columns.length} channels never change; each has one key.`);
  const shot = emptyShot({
    id: freshId("shot"),
    name,
    rig: { id: freshId("rig"), name, controls: findPartners(controls), figure: null },
    rate: rateFromFps(1 / frameTime),
    range: { start: 1, end: Math.max(1, count) },
    base,
  });
  return { shot, notes };
}

function isConstant(values: Float64Array): boolean {
  for (let i = 1; i < values.length; i++) if (values[i] !== values[0]) return false;
  return true;
}

function fail(reader: ByteReader, problem: string): never {
  throw new KneaderError("bvh-syntax", `Line ${lineOf(reader.bytes, reader.at)}: ${problem}`, "Export the file again.");
}

function expectWord(reader: ByteReader, word: string): void {
  const found = readWord(reader);
  if (found.toUpperCase() !== word)
    fail(reader, found === "" ? `the file ends where "${word}" should stand.` : `"${word}" expected, "${found.slice(0, 24)}" found.`);
}

function readThree(reader: ByteReader): [number, number, number] {
  const three: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < 3; i++) {
    skipSpace(reader);
    three[i] = readNumber(reader);
    if (Number.isNaN(three[i])) fail(reader, "an OFFSET needs three numbers.");
  }
  return three;
}

function restOfLine(reader: ByteReader): string {
  const start = reader.at;
  while (reader.at < reader.bytes.length && reader.bytes[reader.at] !== 10) reader.at++;
  return ascii(reader.bytes, start, Math.min(reader.at, start + LONGEST_WORD)).trim();
}

function readHierarchy(reader: ByteReader): { controls: Control[]; columns: Column[] } {
  const first = readWord(reader);
  if (first.replace(/^[^A-Za-z]+/, "").toUpperCase() !== "HIERARCHY")
    throw new KneaderError("bvh-syntax", 'Line 1: a BVH file begins with "HIERARCHY"; this one does not.', "Is it really a BVH file?");
  const controls: Control[] = [];
  const columns: Column[] = [];
  const unique = uniqueIds();
  const stack: { id: string | null; index: number }[] = [];
  let word = readWord(reader);
  while (word !== "" && word.toUpperCase() !== "MOTION") {
    const kind = word.toUpperCase();
    if (kind === "ROOT" || kind === "JOINT") {
      const jointName = restOfLine(reader) || `joint ${controls.length + 1}`;
      expectWord(reader, "{");
      const id = unique(jointName);
      if (controls.length >= MOST_CONTROLS) fail(reader, `there are more than ${MOST_CONTROLS} joints.`);
      const parent = stack.length > 0 ? stack[stack.length - 1].id : null;
      controls.push(makeControl(id, { name: jointName, parent, order: "ZXY", channels: [] }));
      stack.push({ id, index: controls.length - 1 });
    } else if (kind === "END") {
      restOfLine(reader);
      expectWord(reader, "{");
      stack.push({ id: null, index: stack.length > 0 ? stack[stack.length - 1].index : -1 });
    } else if (kind === "OFFSET") {
      const offset = readThree(reader);
      const top = stack[stack.length - 1];
      if (!top || top.index < 0) fail(reader, "OFFSET stands outside a joint.");
      const control = controls[top.index];
      controls[top.index] = top.id === null ? { ...control, tip: offset } : { ...control, rest: offset };
    } else if (kind === "CHANNELS") {
      readChannels(reader, stack, controls, columns);
    } else if (kind === "}") {
      if (stack.pop() === undefined) fail(reader, 'a "}" too many.');
    } else if (reader.at >= reader.bytes.length)
      fail(reader, `the file ends in the middle of the hierarchy, after "${word.slice(0, 24)}".`);
    else fail(reader, `"${word.slice(0, 24)}" is not a word of a BVH hierarchy.`);
    word = readWord(reader);
  }
  if (word === "") fail(reader, 'the file ends before "MOTION".');
  if (stack.length > 0) fail(reader, `"MOTION" stands before joint "${stack[stack.length - 1].id ?? "End Site"}" is closed.`);
  if (controls.length === 0) fail(reader, "the hierarchy has no joint.");
  return { controls, columns };
}

function readChannels(
  reader: ByteReader,
  stack: readonly { id: string | null; index: number }[],
  controls: Control[],
  columns: Column[],
): void {
  const top = stack[stack.length - 1];
  if (!top || top.id === null) fail(reader, "CHANNELS stands outside a joint.");
  const count = Number(readWord(reader));
  if (!(count >= 0 && count <= 6)) fail(reader, "CHANNELS needs a count from 0 to 6.");
  const channels: string[] = [];
  for (let i = 0; i < count; i++) {
    const word = readWord(reader);
    const channel = channelNames.get(word.toLowerCase());
    if (!channel) fail(reader, `"${word.slice(0, 24)}" is not a BVH channel.`);
    if (channels.includes(channel)) fail(reader, `channel "${word}" stands twice in one joint.`);
    channels.push(channel);
    columns.push({ key: channelKey(top.id, channel) });
  }
  const turns = channels.filter((c) => c.startsWith("rotate")).map((c) => c.at(-1));
  const order = [...new Set([...turns, "X", "Y", "Z"])].join("") as RotationOrder;
  controls[top.index] = { ...controls[top.index], channels, order: rotationOrders.includes(order) ? order : "ZXY" };
}

function readMotionHeader(reader: ByteReader): { frames: number; frameTime: number } {
  expectWord(reader, "FRAMES:");
  const frames = Number(readWord(reader));
  if (!Number.isInteger(frames) || frames < 0) fail(reader, '"Frames:" needs a whole number.');
  if (frames === 0) fail(reader, "the file says that it has 0 frames; there is nothing to play.");
  expectWord(reader, "FRAME");
  expectWord(reader, "TIME:");
  const frameTime = Number(readWord(reader));
  if (!(frameTime > 0 && frameTime < 1e4)) fail(reader, '"Frame Time:" needs a number of seconds above 0.');
  return { frames, frameTime };
}

function readFrames(reader: ByteReader, width: number, declared: number, notes: string[]): Float64Array[] {
  const { bytes } = reader;
  // A number takes two bytes at least, so a wrong header cannot ask for more memory than the file has.
  const capacity = width === 0 ? 0 : Math.min(declared, Math.ceil((bytes.length - reader.at) / (2 * width)) + 1);
  const columns = Array.from({ length: width }, () => new Float64Array(capacity));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let row = 0;
  for (; row < capacity; row++) {
    skipSpace(reader);
    if (reader.at >= bytes.length) break;
    const read = readRow(reader, view, columns, row);
    if (read < width) badNumber(reader, row, read, width);
    while (reader.at < bytes.length && bytes[reader.at] !== 10 && isSpace(bytes[reader.at])) reader.at++;
    if (reader.at < bytes.length && !isSpace(bytes[reader.at]))
      throw new KneaderError(
        "bvh-numbers",
        `Line ${lineOf(bytes, reader.at)}: frame ${row + 1} has more than the ${width} numbers it should have.`,
      );
  }
  if (row < declared)
    throw new KneaderError(
      "bvh-numbers",
      `The file says that it has ${declared} frames but ends after ${row}, at line ${lineOf(bytes, bytes.length)}.`,
      "It was probably cut off; export or copy it again.",
    );
  skipSpace(reader);
  if (reader.at < bytes.length) notes.push(`The file has more lines than the ${declared} frames it declares; the rest was left out.`);
  return columns;
}

function badNumber(reader: ByteReader, row: number, column: number, width: number): never {
  const { bytes } = reader;
  const line = lineOf(bytes, reader.at);
  const byte = bytes[reader.at];
  if (byte === undefined || byte === 10 || byte === 13)
    throw new KneaderError(
      "bvh-numbers",
      `Line ${line}: frame ${row + 1} has ${column} numbers; this hierarchy needs ${width}.`,
      "The file was probably cut off or made for another skeleton.",
    );
  const word = readWord({ bytes, at: reader.at }).slice(0, 24);
  throw new KneaderError("bvh-numbers", `Line ${line}: frame ${row + 1}, number ${column + 1} is "${word}", which is not a number.`);
}
