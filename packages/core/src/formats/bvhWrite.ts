import { orthonormalise } from "../figure/matrix.ts";
import { DEG, eulerFromMatrix, nearestEuler } from "../figure/rotation.ts";
import type { Control } from "../model/rig.ts";
import { framesPerSecond, type Shot } from "../model/shot.ts";
import { encodeText } from "./utf8.ts";
import type { Exported } from "./format.ts";
import { sampleShot } from "./sampled.ts";

/** Write a shot as BVH: joints with their offsets, one line of numbers a frame, passes and follows baked. */
export function writeBvh(shot: Shot): Exported {
  const sampled = sampleShot(shot);
  const controls = shot.rig.controls;
  const tops = controls.filter((control) => control.parent === null);
  const notes = ["Motion is written as one sample a frame; keys, tangents and passes are not kept."];
  const scaled = controls.filter((control) =>
    control.channels.some((channel) => channel.startsWith("scale") && `${control.id}.${channel}` in shot.base),
  );
  if (scaled.length > 0) notes.push(`BVH has no scale: ${scaled.length} controls lost theirs.`);
  if (tops.length > 1) notes.push(`BVH has one root: ${tops.length} top controls were put under a joint named "World".`);
  const children = (id: string) => controls.filter((control) => control.parent === id);
  const listed: Control[] = [];
  const lines: string[] = ["HIERARCHY"];
  const moves = (control: Control) => control.parent === null || control.channels.some((channel) => channel.startsWith("move"));

  const write = (control: Control, depth: number): void => {
    const pad = "\t".repeat(depth);
    listed.push(control);
    const positions = moves(control) ? "Xposition Yposition Zposition " : "";
    const turns = [...control.order].map((axis) => `${axis}rotation`).join(" ");
    lines.push(`${pad}${depth === 0 ? "ROOT" : "JOINT"} ${jointName(control.name)}`, `${pad}{`);
    lines.push(`${pad}\tOFFSET ${control.rest.join(" ")}`, `${pad}\tCHANNELS ${positions ? 6 : 3} ${positions}${turns}`);
    const below = children(control.id);
    for (const child of below) write(child, depth + 1);
    if (below.length === 0)
      lines.push(`${pad}\tEnd Site`, `${pad}\t{`, `${pad}\t\tOFFSET ${(control.tip ?? [0, 0, 0]).join(" ")}`, `${pad}\t}`);
    lines.push(`${pad}}`);
  };
  if (tops.length > 1) {
    lines.push("ROOT World", "{", "\tOFFSET 0 0 0", "\tCHANNELS 0");
    for (const top of tops) write(top, 1);
    lines.push("}");
  } else for (const top of tops) write(top, 0);

  lines.push("MOTION", `Frames: ${sampled.frames}`, `Frame Time: ${1 / framesPerSecond(shot.rate)}`);
  const index = new Map(controls.map((control, i) => [control.id, i]));
  const last = controls.map(() => [0, 0, 0]);
  const unit = new Float64Array(16);
  for (let n = 0; n < sampled.frames; n++) {
    const row: number[] = [];
    for (const control of listed) {
      const i = index.get(control.id) as number;
      const o = (n * controls.length + i) * 16;
      if (moves(control)) for (let k = 0; k < 3; k++) row.push(sampled.locals[o + 12 + k] - control.rest[k]);
      orthonormalise(unit, 0, sampled.locals, o);
      const euler = [0, 0, 0];
      eulerFromMatrix(euler, 0, unit, 0, 4, control.order);
      last[i] = nearestEuler(
        euler.map((angle) => angle / DEG),
        last[i],
        control.order,
      );
      for (const axis of control.order) row.push(last[i]["XYZ".indexOf(axis)]);
    }
    lines.push(row.map((value) => String(tidy(value))).join(" "));
  }
  return { bytes: encodeText(`${lines.join("\n")}\n`), notes };
}

/** Blanks part words in BVH, so names may not hold any. */
function jointName(name: string): string {
  return name.trim().replace(/\s+/g, "_") || "joint";
}

/** Ten decimals: far below anything that can be seen, and no 17-digit tails in the file. */
function tidy(value: number): number {
  return Math.round(value * 1e10) / 1e10 || 0;
}
