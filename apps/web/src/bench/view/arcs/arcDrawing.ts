import {
  type BufferGeometry,
  CanvasTexture,
  Color,
  DynamicDrawUsage,
  Group,
  type InterleavedBufferAttribute,
  type Object3D,
  Points,
  PointsMaterial,
} from "three";
import { BufferGeometry as Geometry, Float32BufferAttribute } from "three";
import { Line2 } from "three/examples/jsm/lines/Line2.js";
import { LineGeometry } from "three/examples/jsm/lines/LineGeometry.js";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";

const EDGE = "#2a2521";
const CORES = ["#fff6e6", "#bfe3dc", "#f3d9a4", "#e6c8dc"];
const KEY = "#8a2e5c";
const BEND = "#f0a418";
const OVER = { depthTest: false, depthWrite: false, transparent: true };

type Shape = "dot" | "ring" | "diamond" | "soft square";

const materials = new Map<string, PointsMaterial | LineMaterial>();

/** An arc is drawn anew at every step of a drag, so its materials are made once. */
function once<Material extends PointsMaterial | LineMaterial>(name: string, make: () => Material): Material {
  const known = (materials.get(name) as Material | undefined) ?? make();
  materials.set(name, known);
  return known;
}

/** Once a view is closed: what is drawn with in another one is made for that, or it would hold this one with its page. */
export function letGoOfInks(): void {
  for (const material of materials.values()) {
    if (material instanceof PointsMaterial) material.map?.dispose();
    material.dispose();
  }
  materials.clear();
}

/** A mark as a picture: full, a ring that leaves free what is behind it, or a diamond. */
function markPicture(shape: Shape): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 32;
  const pen = canvas.getContext("2d");
  if (pen) {
    pen.beginPath();
    if (shape === "diamond")
      for (const [x, y] of [
        [16, 1],
        [31, 16],
        [16, 31],
        [1, 16],
      ])
        pen.lineTo(x, y);
    else if (shape === "soft square") pen.roundRect(3, 3, 26, 26, 7);
    else pen.arc(16, 16, shape === "ring" ? 11 : 14, 0, 2 * Math.PI);
    pen.closePath();
    pen.fillStyle = pen.strokeStyle = "#ffffff";
    pen.lineWidth = 7;
    if (shape === "ring") pen.stroke();
    else pen.fill();
  }
  return new CanvasTexture(canvas);
}

/** What marks of one ink and size are drawn with. */
export const dot = (ink: string, size: number, shape: Shape = "dot", opacity = 1) =>
  once(
    `${ink} ${size} ${shape} ${opacity}`,
    () =>
      new PointsMaterial({
        ...OVER,
        color: new Color(ink),
        size,
        sizeAttenuation: false,
        map: markPicture(shape),
        alphaTest: 0.2,
        opacity,
      }),
  );

const line = (ink: string, linewidth: number, opacity = 1) =>
  once(`${ink} ${linewidth} ${opacity}`, () => new LineMaterial({ ...OVER, color: new Color(ink).getHex(), linewidth, opacity }));

/** One path as it is drawn: its places, those with a key, and its bends; three numbers each. */
export interface DrawnPath {
  readonly places: Float64Array;
  readonly keyed: readonly number[];
  readonly bends: readonly number[];
}

/**
 * Paths drawn over everything: a pale line with a dark edge, so that it reads on a pale room as well as at dusk; a dot a
 * frame, a ring at each key, a diamond at each bend. What is on the graphics card is written over, not made anew.
 */
export class ArcDrawing {
  readonly group = new Group();
  private readonly arcs: OneArc[];

  constructor(count: number, frames: number, pale = false) {
    this.arcs = Array.from({ length: count }, (_, i) => new OneArc(frames, CORES[i % CORES.length], pale));
    for (const arc of this.arcs) this.group.add(...arc.objects);
    this.group.matrixAutoUpdate = false;
  }

  update(paths: readonly DrawnPath[]): void {
    this.arcs.forEach((arc, i) => {
      arc.update(paths[i]);
    });
  }

  dispose(): void {
    for (const arc of this.arcs) arc.dispose();
  }
}

class OneArc {
  readonly objects: Object3D[];
  private readonly line: LineGeometry | null;
  private readonly dots: BufferGeometry;
  private readonly keys = new Geometry();
  private readonly bends = new Geometry();
  private readonly isPale: boolean;

  constructor(frames: number, core: string, pale: boolean) {
    this.isPale = pale;
    this.line = frames > 1 ? new LineGeometry().setPositions(new Float32Array(frames * 3)) : null;
    this.dots = new Geometry().setAttribute(
      "position",
      new Float32BufferAttribute(new Float32Array(frames * 3), 3).setUsage(DynamicDrawUsage),
    );
    const objects: Object3D[] = [];
    const strength = pale ? 0.4 : 1;
    if (this.line)
      for (const material of pale ? [line(EDGE, 2.5, 0.35)] : [line(EDGE, 4.5), line(core, 2.2)])
        objects.push(new Line2(this.line, material));
    objects.push(new Points(this.dots, dot(EDGE, pale ? 4 : 6, "dot", strength)));
    if (!pale) {
      objects.push(new Points(this.dots, dot(core, 3.5)));
      objects.push(new Points(this.bends, dot(EDGE, 17, "diamond")), new Points(this.bends, dot(BEND, 13, "diamond")));
      objects.push(new Points(this.keys, dot(EDGE, 15, "ring")), new Points(this.keys, dot(KEY, 12.5, "ring")));
    }
    objects.forEach((object, i) => {
      // Presses go through to the figure behind it; marks are found by where they are on the screen.
      object.raycast = () => undefined;
      object.renderOrder = (pale ? 4 : 5) + i;
      object.frustumCulled = false;
    });
    this.objects = objects;
  }

  update({ places, keyed, bends }: DrawnPath): void {
    const position = this.dots.getAttribute("position");
    (position.array as Float32Array).set(places);
    position.needsUpdate = true;
    if (this.line) {
      // Each piece of the line has both its ends, six numbers.
      const { data } = this.line.attributes.instanceStart as InterleavedBufferAttribute;
      const array = data.array as Float32Array;
      for (let i = 0, o = 0; i + 3 < places.length; i += 3) for (let k = 0; k < 6; k++) array[o++] = places[i + k];
      data.needsUpdate = true;
    }
    if (this.isPale) return;
    put(this.keys, keyed);
    put(this.bends, bends);
  }

  dispose(): void {
    this.line?.dispose();
    for (const geometry of [this.dots, this.keys, this.bends]) geometry.dispose();
  }
}

/** Points that may be more or fewer than before. */
export function put(geometry: BufferGeometry, places: readonly number[]): void {
  const known = geometry.getAttribute("position");
  if (known?.count * 3 >= places.length) {
    (known.array as Float32Array).set(places);
    known.needsUpdate = true;
  } else {
    // The old room is let go of with the geometry's own buffers.
    geometry.dispose();
    geometry.setAttribute("position", new Float32BufferAttribute([...places], 3));
  }
  geometry.setDrawRange(0, places.length / 3);
}
