import { fromByteArray } from "base64-js";
import type { Control } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import type { Exported } from "./format.ts";
import { MotionWriter } from "./gltfMotion.ts";
import { encodeText } from "./utf8.ts";
import { countedWord } from "../words.ts";

/** A control as a node; what glTF has no word for stands in its extras. */
function nodeOf(control: Control, controls: readonly Control[], scale: readonly number[] | undefined): Record<string, unknown> {
  const children = controls.flatMap((other, k) => (other.parent === control.id ? [k] : []));
  const { id, order, role, part, partner, channels, tip } = control;
  return {
    name: control.name,
    translation: [...control.rest],
    rotation: [...control.restTurn],
    ...(scale?.some((value) => value !== 1) ? { scale } : {}),
    ...(children.length > 0 ? { children } : {}),
    extras: { kneader: { id, order, role, part, partner, channels, tip } },
  };
}

/** What the reader is told that the file does not hold. */
function notesOf({ tally, sampled }: MotionWriter): string[] {
  const notes: string[] = [];
  if (tally.exact > 0) notes.push(`${countedWord(tally.exact, "track")} written key for key.`);
  if (tally.sampled > 0)
    notes.push(
      `${countedWord(tally.sampled, "track")} sampled at every frame: glTF keeps rotations as quaternions and has no passes, follows, weighted handles or loops.`,
    );
  if (sampled.sheared.size > 0)
    notes.push(
      `${sampled.sheared.size} controls follow across scaled parents, which shears them; glTF keeps no shear, and the nearest turn is written.`,
    );
  return notes;
}

/**
 * Write the skeleton and its motion as glTF 2.0: a .glb, or a .gltf with its data inside. Move and scale
 * curves whose keys agree are written as STEP, LINEAR or CUBICSPLINE without loss, and stepped rotations
 * as STEP; everything else (other rotations above all, which glTF keeps as quaternions) is sampled at
 * every frame.
 */
export function writeGltf(shot: Shot, binary: boolean): Exported {
  const { controls, figure } = shot.rig;
  const motion = new MotionWriter(shot);
  controls.forEach((control, node) => {
    motion.write(control, node);
  });
  const bytes = motion.file.bytes();
  const uri = `data:application/octet-stream;base64,${binary ? "" : fromByteArray(bytes)}`;
  const { rate, range, unitMetres, set } = shot;
  const json = {
    asset: { version: "2.0", generator: "Kneader" },
    scene: 0,
    scenes: [{ name: shot.name, nodes: controls.flatMap((control, i) => (control.parent === null ? [i] : [])) }],
    nodes: controls.map((control) => nodeOf(control, controls, motion.still.get(control.id))),
    extras: { kneader: { rate, range, firstFrame: motion.origin, unitMetres, figure, set } },
    ...(motion.channels.length > 0
      ? {
          animations: [{ name: shot.name, channels: motion.channels, samplers: motion.samplers }],
          accessors: motion.file.accessors,
          bufferViews: motion.file.views,
          buffers: [binary ? { byteLength: bytes.length } : { byteLength: bytes.length, uri }],
        }
      : {}),
  };
  return { bytes: binary ? toGlb(json, bytes) : encodeText(JSON.stringify(json)), notes: notesOf(motion) };
}

/** The binary container: a header, a JSON chunk padded with blanks, a binary chunk padded with zeros. */
function toGlb(json: unknown, bytes: Uint8Array): Uint8Array {
  const text = encodeText(JSON.stringify(json));
  const textLength = Math.ceil(text.length / 4) * 4;
  const dataLength = Math.ceil(bytes.length / 4) * 4;
  const total = 12 + 8 + textLength + (dataLength > 0 ? 8 + dataLength : 0);
  const out = new Uint8Array(total);
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, total, true);
  view.setUint32(12, textLength, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.fill(32, 20, 20 + textLength);
  out.set(text, 20);
  if (dataLength > 0) {
    view.setUint32(20 + textLength, dataLength, true);
    view.setUint32(24 + textLength, 0x004e4942, true);
    out.set(bytes, 28 + textLength);
  }
  return out;
}
