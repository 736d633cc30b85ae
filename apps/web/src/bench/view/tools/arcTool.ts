import { makePlayer, type Shot } from "@kneader/core";
import { BufferGeometry, Color, Float32BufferAttribute, Group, Line, LineBasicMaterial, Points, PointsMaterial } from "three";
import { disposeOf } from "../disposeOf.ts";
import type { ViewTool } from "./viewTool.ts";

const OVER = { depthTest: false, transparent: true };
const lines = new Map<string, LineBasicMaterial>();
const dots = new Map<string, PointsMaterial>();

/** An arc is drawn anew at every step of a drag, so its materials are made once. */
function lineInk(ink: string): LineBasicMaterial {
  const known = lines.get(ink) ?? new LineBasicMaterial({ ...OVER, color: new Color(ink), opacity: 0.85 });
  lines.set(ink, known);
  return known;
}

function markInk(ink: string, size: number): PointsMaterial {
  const name = `${ink} ${size}`;
  const known = dots.get(name) ?? new PointsMaterial({ ...OVER, color: new Color(ink), size, sizeAttenuation: false });
  dots.set(name, known);
  return known;
}

/** The path of a control through space: a line, a mark a frame, and a bigger one at each key. It is only looked at. */
export function arcTool(shot: Shot, control: string, keyFrames: readonly number[], ink: string, keyInk: string): ViewTool {
  const group = buildArc(shot, control, keyFrames, ink, keyInk);
  return { objects: [group], hit: () => false, drag: () => undefined, dispose: () => disposeOf(group) };
}

function buildArc(shot: Shot, control: string, keyFrames: readonly number[], ink: string, keyInk: string): Group {
  const player = makePlayer(shot, { only: [control] });
  const group = new Group();
  const i = player.controlIndex.get(control);
  if (i === undefined) return group;
  const { start, end } = shot.range;
  const step = Math.max(1, Math.ceil((end - start) / 1500));
  const keys = new Set(keyFrames);
  const path: number[] = [];
  const marks: number[] = [];
  for (let frame = start; frame <= end; frame += step) {
    player.pose(frame);
    const place = [12, 13, 14].map((k) => player.worlds[i * 16 + k]);
    path.push(...place);
    if (keys.has(frame)) marks.push(...place);
  }
  const geometry = (points: number[]) => new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points, 3));
  const line = new Line(geometry(path), lineInk(ink));
  const frames = new Points(geometry(path), markInk(ink, 4));
  const keyed = new Points(geometry(marks), markInk(keyInk, 9));
  for (const object of [line, frames, keyed]) {
    // It is only looked at: a press goes through to the figure behind it.
    object.raycast = () => undefined;
    object.renderOrder = 5;
    object.frustumCulled = false;
    group.add(object);
  }
  return group;
}
