import type { Player } from "@kneader/core";
import {
  BackSide,
  BoxGeometry,
  BufferGeometry,
  Color,
  CylinderGeometry,
  Euler,
  Float32BufferAttribute,
  Group,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  PlaneGeometry,
  Shape,
  ShapeGeometry,
  SphereGeometry,
} from "three";
import { mergeGeometries } from "three/examples/jsm/utils/BufferGeometryUtils.js";

/** The landing at dusk: what stands still, and the ferry, which a control moves. */
export interface LandingModel {
  readonly still: Group;
  readonly ferry: Group;
  /** Put what moves where a posed player has it. */
  follow(player: Player): void;
}

/**
 * What the landing is built of. Made for each landing: a material that outlived the view it was drawn in would hold all of that
 * view, with its page.
 */
const makeMaterials = () => ({
  wood: new MeshLambertMaterial({ color: "#a9794e" }),
  pale: new MeshLambertMaterial({ color: "#c09160" }),
  dark: new MeshLambertMaterial({ color: "#6f4b32" }),
  hull: new MeshLambertMaterial({ color: "#2f5f62" }),
  rope: new MeshLambertMaterial({ color: "#cdb083" }),
});
type Materials = ReturnType<typeof makeMaterials>;

/** Boards, posts and bands, put together to one mesh for each material: a hundred and fifty would each be drawn by itself. */
class Carpentry {
  readonly materials: Materials;
  private readonly parts = new Map<MeshLambertMaterial, BufferGeometry[]>();

  constructor(materials: Materials) {
    this.materials = materials;
  }

  add(geometry: BufferGeometry, material: MeshLambertMaterial, place: Matrix4): void {
    this.parts.set(material, [...(this.parts.get(material) ?? []), geometry.applyMatrix4(place)]);
  }

  box(size: [number, number, number], at: [number, number, number], material: MeshLambertMaterial): void {
    this.add(new BoxGeometry(...size), material, new Matrix4().makeTranslation(...at));
  }

  post(at: [number, number, number], height: number, radius = 0.06): void {
    const place = new Matrix4().makeTranslation(at[0], at[1] + height / 2, at[2]);
    this.add(new CylinderGeometry(radius * 0.92, radius, height, 8), this.materials.dark, place);
  }

  meshes(): Mesh[] {
    return [...this.parts].map(([material, geometries]) => new Mesh(mergeGeometries(geometries), material));
  }
}

/** A dome whose colour runs from the horizon's glow to evening blue. */
function sky(): Mesh {
  const geometry = new SphereGeometry(60, 24, 16);
  const stops: [number, Color][] = [
    [-0.2, new Color("#f7c48d")],
    [0.02, new Color("#f6bd88")],
    [0.1, new Color("#e9a58c")],
    [0.24, new Color("#b58ba0")],
    [0.5, new Color("#7c7ca6")],
    [1, new Color("#565f92")],
  ];
  const position = geometry.getAttribute("position");
  const colours: number[] = [];
  for (let i = 0; i < position.count; i++) {
    const height = position.getY(i) / 60;
    let k = 1;
    while (k < stops.length - 1 && stops[k][0] < height) k++;
    const [low, high] = [stops[k - 1], stops[k]];
    const share = Math.min(1, Math.max(0, (height - low[0]) / (high[0] - low[0])));
    const colour = low[1].clone().lerp(high[1], share);
    colours.push(colour.r, colour.g, colour.b);
  }
  geometry.setAttribute("color", new Float32BufferAttribute(colours, 3));
  const mesh = new Mesh(geometry, new MeshBasicMaterial({ vertexColors: true, side: BackSide, depthWrite: false, fog: false }));
  mesh.renderOrder = -10;
  return mesh;
}

function hills(colour: string, z: number, base: number, points: [number, number][]): Mesh {
  const shape = new Shape();
  shape.moveTo(points[0][0], -3);
  for (const [x, y] of points) shape.lineTo(x, y);
  shape.lineTo(points[points.length - 1][0], -3);
  const mesh = new Mesh(new ShapeGeometry(shape), new MeshBasicMaterial({ color: colour }));
  mesh.position.set(0, base, z);
  return mesh;
}

function ridge(seed: number, height: number): [number, number][] {
  return Array.from({ length: 49 }, (_, i) => {
    const x = -36 + i * 1.5;
    return [x, height * (0.55 + 0.3 * Math.sin(x * 0.21 + seed) + 0.2 * Math.sin(x * 0.47 + seed * 2.3))];
  });
}

function ripples(): Mesh {
  const points: number[] = [];
  for (let i = 0; i < 70; i++) {
    const x = ((i * 7.31) % 22) - 10;
    const z = -14 + ((i * 3.77) % 15);
    const half = 0.12 + ((i * 0.37) % 0.4);
    points.push(x - half, 0, z, x + half, 0, z, x, 0, z + 0.018);
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new Float32BufferAttribute(points, 3));
  const mesh = new Mesh(geometry, new MeshBasicMaterial({ color: "#f0cfae", transparent: true, opacity: 0.5 }));
  mesh.position.y = -0.44;
  return mesh;
}

function jetty(work: Carpentry): void {
  const { wood, pale, dark } = work.materials;
  for (let i = 0; i < 28; i++) work.box([0.21, 0.05, 1.5], [0.48 - i * 0.225, -0.027, -0.1], i % 3 === 1 ? pale : wood);
  work.box([6.3, 0.1, 0.07], [-2.55, -0.1, 0.6], dark);
  work.box([6.3, 0.1, 0.07], [-2.55, -0.1, -0.8], dark);
  for (let i = 0; i < 5; i++) {
    work.post([0.42 - i * 1.5, -1.1, 0.6], 1.05);
    work.post([0.42 - i * 1.5, -1.1, -0.8], i % 2 === 0 ? 1.5 : 1.05);
  }
}

function lanternPost(work: Carpentry): void {
  work.post([0.5, -0.05, -0.42], 1.12, 0.04);
  const turn = new Matrix4().makeRotationFromEuler(new Euler(Math.PI / 2 - 0.3, 0, -0.42));
  work.add(new CylinderGeometry(0.016, 0.02, 0.36, 6), work.materials.dark, turn.setPosition(0.56, 0.97, -0.29));
  work.add(new CylinderGeometry(0.006, 0.006, 0.07, 5), work.materials.dark, new Matrix4().makeTranslation(0.62, 0.935, -0.18));
}

function barrel(work: Carpentry, x: number, z: number): void {
  work.add(new CylinderGeometry(0.15, 0.15, 0.4, 12), work.materials.wood, new Matrix4().makeTranslation(x, 0.2, z));
  for (const y of [0.08, 0.32])
    work.add(new CylinderGeometry(0.156, 0.156, 0.03, 12), work.materials.dark, new Matrix4().makeTranslation(x, y, z));
}

function buildFerry(materials: Materials): Group {
  const work = new Carpentry(materials);
  const { wood, pale, dark, hull, rope } = materials;
  for (let i = 0; i < 11; i++) work.box([0.26, 0.05, 1.5], [-1.32 + i * 0.265, 0.03, -0.1], i % 3 === 0 ? pale : wood);
  work.box([2.95, 0.3, 1.42], [0, -0.16, -0.1], hull);
  work.box([3.0, 0.06, 0.06], [0, 0.02, 0.66], dark);
  work.box([3.0, 0.06, 0.06], [0, 0.02, -0.86], dark);
  for (const x of [-1.35, 0, 1.35]) work.post([x, 0.03, -0.84], 0.52, 0.03);
  work.box([2.75, 0.03, 0.03], [0, 0.5, -0.84], rope);
  return new Group().add(...work.meshes());
}

/** Build the landing. Positions match the demo rig's set controls. */
export function buildLanding(): LandingModel {
  const still = new Group();
  still.add(sky());
  const sun = new Mesh(new SphereGeometry(1.5, 20, 14), new MeshBasicMaterial({ color: "#ffe9b8", fog: false }));
  sun.position.set(9, 2.6, -34);
  still.add(sun);
  still.add(
    hills("#8d7d9c", -33, 0.5, ridge(0.4, 4.2)),
    hills("#6f6f90", -28, 0, ridge(2.1, 2.6)),
    hills("#55617a", -24, -0.4, ridge(4.4, 1.3)),
  );
  const water = new Mesh(new PlaneGeometry(90, 60), new MeshBasicMaterial({ color: "#7d8fa6" }));
  water.rotation.x = -Math.PI / 2;
  water.position.set(0, -0.45, -20);
  still.add(water);
  const near = new Mesh(new PlaneGeometry(90, 14), new MeshBasicMaterial({ color: "#5f7f90" }));
  near.rotation.x = -Math.PI / 2;
  near.position.set(0, -0.448, 2);
  still.add(near, ripples());
  const materials = makeMaterials();
  const work = new Carpentry(materials);
  jetty(work);
  lanternPost(work);
  barrel(work, -0.9, -0.62);
  still.add(...work.meshes());
  const ferry = buildFerry(materials);
  ferry.matrixAutoUpdate = false;
  return {
    still,
    ferry,
    follow({ controlIndex, worlds }) {
      const at = controlIndex.get("ferry");
      if (at === undefined) return;
      ferry.matrix.fromArray(worlds, at * 16);
      ferry.matrixWorldNeedsUpdate = true;
    },
  };
}
