import { layoutOf, placeAt as placeInWorld, worldAt } from "../figure/rigLayout.ts";
import { turnFromAffine } from "../maths/decompose.ts";
import { scaleOf } from "../figure/localValues.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { DEG, eulerFromQuat, matrixFromQuat, nearestEuler, quatMultiply } from "../maths/rotation.ts";
import type { Control } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { framesPerSecond } from "../model/rate.ts";
import { TOLD } from "./sampled.ts";
import { sayBaked } from "./sayBaked.ts";
import { encodeText } from "./utf8.ts";
import type { Exported, WriteChoices } from "./format.ts";

/** Further apart than this, as a share of the figure, an offset is not one and the same. */
const SAME = 1e-9;

/** Places (from the joint above, in its turn) and turns of joints that know no scale, frame by frame. */
interface Joints {
  readonly start: number;
  readonly frames: number;
  /** Three numbers a control a frame. */
  readonly places: Float64Array;
  /** Degrees, three numbers a control a frame, each near those of the frame before. */
  readonly angles: Float64Array;
}

/**
 * A format without scale can still put every joint where it is: the place in the joint above is measured in the world,
 * scale and all, and turned back by that joint's turn.
 */
function sampleJoints(shot: Shot, progress: WriteChoices["progress"]): Joints {
  const player = makePlayer(shot);
  const controls = shot.rig.controls;
  const start = Math.floor(shot.range.start);
  const frames = Math.ceil(shot.range.end) - start + 1;
  const places = new Float64Array(frames * controls.length * 3);
  const angles = new Float64Array(frames * controls.length * 3);
  const turns = new Float64Array(controls.length * 4);
  const local = new Float64Array(4);
  const matrix = new Float64Array(9);
  const euler = [0, 0, 0];
  const { parents } = layoutOf(shot.rig);
  for (let n = 0; n < frames; n++) {
    if (n % TOLD === 0) progress?.(n / frames);
    player.pose(start + n);
    const at = player.worlds;
    for (const [i, control] of controls.entries()) {
      turnFromAffine(turns, i * 4, at, worldAt(i), signsOf(scaleOf(player, control.id)));
      const p = parents[i];
      const o = (n * controls.length + i) * 3;
      if (p < 0) {
        for (let k = 0; k < 3; k++) places[o + k] = at[placeInWorld(i) + k];
        for (let k = 0; k < 4; k++) local[k] = turns[i * 4 + k];
      } else {
        const back = [-turns[p * 4], -turns[p * 4 + 1], -turns[p * 4 + 2], turns[p * 4 + 3]];
        matrixFromQuat(matrix, 0, 3, back, 0);
        const way = [0, 1, 2].map((k) => at[placeInWorld(i) + k] - at[placeInWorld(p) + k]);
        for (let k = 0; k < 3; k++) places[o + k] = matrix[k] * way[0] + matrix[3 + k] * way[1] + matrix[6 + k] * way[2];
        quatMultiply(local, 0, back, 0, turns, i * 4);
      }
      eulerFromQuat(euler, 0, local, 0, control.order);
      const before = n === 0 ? [0, 0, 0] : angles.subarray(o - controls.length * 3, o - controls.length * 3 + 3);
      const found = nearestEuler(
        euler.map((angle) => angle / DEG),
        [...before],
        control.order,
      );
      for (let k = 0; k < 3; k++) angles[o + k] = found[k];
    }
  }
  return { start, frames, places, angles };
}

/** A mirrored control is written with the turn its channels say; a mirroring that stands above it is not. */
function signsOf(scale: ArrayLike<number>): number[] {
  return Array.from(scale, (value) => (value < 0 ? -1 : 1));
}

/** Write a shot as BVH: joints with their offsets, one line of numbers a frame, passes and constraints baked. */
export function writeBvh(shot: Shot, { progress }: WriteChoices = {}): Exported {
  const controls = shot.rig.controls;
  const { frames, places, angles } = sampleJoints(shot, progress);
  const index = new Map(controls.map((control, i) => [control.id, i]));
  const tops = controls.filter((control) => control.parent === null);
  const notes = ["Motion is written as one sample a frame; keys, tangents and passes are not kept."];
  const scaled = controls.filter((control) =>
    control.channels.some((channel) => channel.startsWith("scale") && `${control.id}.${channel}` in shot.base),
  );
  if (scaled.length > 0)
    notes.push(
      `BVH has no scale: ${scaled.length} ${scaled.length === 1 ? "control lost its own" : "controls lost theirs"}; every joint still stands where it stood.`,
    );
  if (
    scaled.some((control) =>
      ["X", "Y", "Z"].some((axis) => (shot.base[`${control.id}.scale${axis}`]?.values ?? []).some((value) => value < 0)),
    )
  )
    notes.push("Mirrored (negative) scale is lost: what hangs on such a control keeps its places but may be turned otherwise.");
  const ties = ledControls(shot);
  const led = controls.filter(({ id }) => ties.has(id));
  if (led.length > 0) notes.push(sayBaked(led));
  if (tops.length > 1) notes.push(`BVH has one root: ${tops.length} top controls were put under a joint named "World".`);
  const below = new Map<string, Control[]>();
  for (const control of controls) if (control.parent !== null) below.set(control.parent, [...(below.get(control.parent) ?? []), control]);
  const placeAt = (i: number, n: number) => places.subarray((n * controls.length + i) * 3, (n * controls.length + i) * 3 + 3);
  const offsets = controls.map((control, i): ArrayLike<number> => {
    if (control.parent === null || control.channels.some((channel) => channel.startsWith("move"))) return control.rest;
    const first = placeAt(i, 0);
    const size = Math.hypot(...first, 1e-12);
    for (let n = 1; n < frames; n++) if (placeAt(i, n).some((at, k) => Math.abs(at - first[k]) > SAME * size)) return control.rest;
    // An offset that is the resting one but for rounding is the resting one.
    return first.every((at, k) => Math.abs(at - control.rest[k]) <= SAME * size) ? control.rest : first;
  });
  const moves = controls.map((control, i) => {
    if (control.parent === null || control.channels.some((channel) => channel.startsWith("move"))) return true;
    const size = Math.hypot(...placeAt(i, 0), 1e-12);
    return Array.from({ length: frames }, (_, n) => n).some((n) =>
      placeAt(i, n).some((at, k) => Math.abs(at - offsets[i][k]) > SAME * size),
    );
  });
  const listed: number[] = [];
  const lines: string[] = ["HIERARCHY"];
  const write = (control: Control, depth: number): void => {
    const i = index.get(control.id) as number;
    const pad = "\t".repeat(depth);
    listed.push(i);
    const positions = moves[i] ? "Xposition Yposition Zposition " : "";
    const turns = [...control.order].map((axis) => `${axis}rotation`).join(" ");
    lines.push(`${pad}${depth === 0 ? "ROOT" : "JOINT"} ${jointName(control.name)}`, `${pad}{`);
    lines.push(`${pad}\tOFFSET ${Array.from(offsets[i]).join(" ")}`, `${pad}\tCHANNELS ${positions ? 6 : 3} ${positions}${turns}`);
    const children = below.get(control.id) ?? [];
    for (const child of children) write(child, depth + 1);
    if (children.length === 0)
      lines.push(`${pad}\tEnd Site`, `${pad}\t{`, `${pad}\t\tOFFSET ${(control.tip ?? [0, 0, 0]).join(" ")}`, `${pad}\t}`);
    lines.push(`${pad}}`);
  };
  if (tops.length > 1) {
    lines.push("ROOT World", "{", "\tOFFSET 0 0 0", "\tCHANNELS 0");
    for (const top of tops) write(top, 1);
    lines.push("}");
  } else for (const top of tops) write(top, 0);

  lines.push("MOTION", `Frames: ${frames}`, `Frame Time: ${1 / framesPerSecond(shot.rate)}`);
  for (let n = 0; n < frames; n++) {
    const row: number[] = [];
    for (const i of listed) {
      if (moves[i]) for (let k = 0; k < 3; k++) row.push(placeAt(i, n)[k] - offsets[i][k]);
      const o = (n * controls.length + i) * 3;
      for (const axis of controls[i].order) row.push(angles[o + "XYZ".indexOf(axis)]);
    }
    lines.push(row.map((value) => String(tidy(value))).join(" "));
  }
  return { bytes: encodeText(`${lines.join("\n")}\n`), notes };
}

/** Blanks part words in BVH, so names may not hold any. */
function jointName(name: string): string {
  return name.trim().replace(/[\s{}]+/g, "_") || "joint";
}

/** Ten decimals: far below anything that can be seen, and no 17-digit tails in the file. */
function tidy(value: number): number {
  return Math.abs(value) < 1e5 ? Math.round(value * 1e10) / 1e10 || 0 : value;
}
