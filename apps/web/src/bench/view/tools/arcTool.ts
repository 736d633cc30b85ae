import { controlById, makePlayer, type Shot } from "@kneader/core";
import { BufferGeometry, CanvasTexture, Color, Float32BufferAttribute, Group, type Object3D, Points, PointsMaterial } from "three";
import { Line2 } from "three/examples/jsm/lines/Line2.js";
import { LineGeometry } from "three/examples/jsm/lines/LineGeometry.js";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import type { ArcOf } from "../stageProps.ts";

/** A frame of an arc: where it is, and whether the control has a key there. */
export interface ArcMark {
  readonly frame: number;
  readonly name: string;
  readonly place: readonly [number, number, number];
}

/** Paths through space, drawn over everything, and the marks on them that can be pointed at. */
export interface Arcs {
  readonly objects: readonly Object3D[];
  readonly marks: readonly ArcMark[];
  dispose(): void;
}

/** More frames than this are not drawn one by one. */
const MOST = 1500;
const EDGE = "#2a2521";
const CORES = ["#fff6e6", "#bfe3dc", "#f3d9a4", "#e6c8dc"];
const KEY = "#8a2e5c";
const OVER = { depthTest: false, depthWrite: false, transparent: true };

const materials = new Map<string, PointsMaterial | LineMaterial>();

/** An arc is drawn anew at every step of a drag, so its materials are made once. */
function once<Material extends PointsMaterial | LineMaterial>(name: string, make: () => Material): Material {
  const known = (materials.get(name) as Material | undefined) ?? make();
  materials.set(name, known);
  return known;
}

/** A round mark as a picture: full, or a ring that leaves free what is behind it. */
function roundMark(ring: boolean): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 32;
  const pen = canvas.getContext("2d");
  if (pen) {
    pen.beginPath();
    pen.arc(16, 16, ring ? 11 : 14, 0, 2 * Math.PI);
    pen.fillStyle = pen.strokeStyle = "#ffffff";
    pen.lineWidth = 7;
    if (ring) pen.stroke();
    else pen.fill();
  }
  return new CanvasTexture(canvas);
}

const dot = (ink: string, size: number, ring = false) =>
  once(
    `${ink} ${size} ${ring}`,
    () => new PointsMaterial({ ...OVER, color: new Color(ink), size, sizeAttenuation: false, map: roundMark(ring), alphaTest: 0.2 }),
  );

const line = (ink: string, linewidth: number) =>
  once(`${ink} ${linewidth}`, () => new LineMaterial({ ...OVER, color: new Color(ink).getHex(), linewidth }));

/**
 * The paths of controls through space: a pale line with a dark edge, so that it reads on a pale room as well as at
 * dusk; a dot a frame, and a ring at each key.
 */
export function drawArcs(shot: Shot, arcs: readonly ArcOf[]): Arcs {
  const marks: ArcMark[] = [];
  const player = makePlayer(shot, { only: arcs.map(({ control }) => control) });
  const { start, end } = shot.range;
  const step = Math.max(1, Math.ceil((end - start) / MOST));
  const tracks = arcs.map(({ control, keys }) => ({
    control,
    keys: new Set(keys),
    at: player.controlIndex.get(control),
    path: [] as number[],
    keyed: [] as number[],
  }));
  for (let frame = start; frame <= end; frame += step) {
    player.pose(frame);
    for (const { control, keys, at, path, keyed } of tracks) {
      if (at === undefined) continue;
      const place = [12, 13, 14].map((k) => player.worlds[at * 16 + k]) as [number, number, number];
      path.push(...place);
      if (keys.has(frame)) keyed.push(...place);
      marks.push({ frame, name: controlById(shot.rig, control)?.name ?? control, place });
    }
  }
  const groups = tracks.map(({ path, keyed }, i) => drawArc(path, keyed, CORES[i % CORES.length]));
  return {
    objects: groups,
    marks,
    dispose() {
      for (const group of groups) for (const object of group.children) (object as Points | Line2).geometry.dispose();
    },
  };
}

function drawArc(path: readonly number[], keyed: readonly number[], core: string): Group {
  const group = new Group();
  const points = (places: readonly number[]) => new BufferGeometry().setAttribute("position", new Float32BufferAttribute([...places], 3));
  const objects: Object3D[] = [];
  if (path.length > 3)
    for (const material of [line(EDGE, 4.5), line(core, 2.2)])
      objects.push(new Line2(new LineGeometry().setPositions([...path]), material));
  objects.push(new Points(points(path), dot(EDGE, 6)), new Points(points(path), dot(core, 3.5)));
  objects.push(new Points(points(keyed), dot(EDGE, 15, true)), new Points(points(keyed), dot(KEY, 12.5, true)));
  objects.forEach((object, i) => {
    // Presses go through to the figure behind it; marks are found by where they are on the screen.
    object.raycast = () => undefined;
    object.renderOrder = 5 + i;
    object.frustumCulled = false;
    group.add(object);
  });
  return group;
}
