import type { Player } from "@kneader/core";
import {
  BufferGeometry,
  Color,
  EqualStencilFunc,
  IncrementStencilOp,
  type Material,
  Mesh,
  MeshBasicMaterial,
  ReplaceStencilOp,
  SkinnedMesh,
} from "three";
import type { Look } from "../looks.ts";
import type { DrawnFigure, DrawnMesh } from "./drawn.ts";
import type { FigureModel } from "./figureModel.ts";

const PICKED = "#8A2E5C";

/** Dress the meshes of a figure: looks, what is picked, ghosts. */
export function figureOf(drawn: DrawnFigure): FigureModel {
  const shade = new MeshBasicMaterial({ color: "#000000" });
  const flats = new Map<Material, Material>();
  // What is picked is painted over, so that the surface below stays to be seen.
  const over = new MeshBasicMaterial({ color: PICKED, transparent: true, opacity: 0.5, polygonOffset: true, polygonOffsetFactor: -2 });
  for (const { lit } of drawn.meshes) for (const material of list(lit)) if (!flats.has(material)) flats.set(material, flatOf(material));
  // The figure marks its pixels; ghosts leave those alone and paint every other pixel once, so that they
  // lie behind the figure as even silhouettes.
  for (const material of [shade, over, ...flats.keys(), ...flats.values()]) {
    material.stencilWrite = true;
    material.stencilRef = 1;
    material.stencilZPass = ReplaceStencilOp;
  }
  for (const { mesh, picker } of drawn.meshes) mesh.raycast = (raycaster, hits) => picker.raycast(mesh, raycaster, hits);
  const marks = drawn.meshes.map((one) => markOf(one, over));
  let shown: ReadonlySet<string> | null = null;
  let look: Look = "lit";
  const dress = () => {
    for (const { mesh, lit } of drawn.meshes) {
      const worn = (material: Material) => (look === "silhouette" ? shade : look === "flat" ? (flats.get(material) as Material) : material);
      mesh.material = isMany(lit) ? lit.map(worn) : worn(lit);
    }
    over.opacity = look === "silhouette" ? 1 : 0.5;
  };
  dress();
  return {
    group: drawn.group,
    props: drawn.meshes.flatMap(({ mesh, prop }) => (prop === null ? [] : [{ object: mesh, control: prop }])),
    isDrawn(control) {
      shown ??= new Set(drawn.meshes.flatMap(({ picker }) => picker.drawn()));
      return shown.has(control);
    },
    measure(box, only) {
      for (const { mesh, picker, prop } of drawn.meshes) if (only || prop === null) picker.measure(mesh, box, only);
    },
    follow: (player: Player) => drawn.follow(player),
    pick(ids) {
      drawn.meshes.forEach((one, n) => {
        mark(one, marks[n], ids);
      });
    },
    show(wanted, ink) {
      look = wanted;
      shade.color.set(ink);
      dress();
    },
    ghost: (colour, strength) => ghostOf(drawn, colour, strength),
    dispose() {
      for (const { geometry } of marks) geometry.dispose();
      for (const material of [shade, over, ...flats.values()]) material.dispose();
      drawn.dispose();
    },
  };
}

const isMany = (lit: DrawnMesh["lit"]): lit is readonly Material[] => Array.isArray(lit);
const list = (lit: DrawnMesh["lit"]): readonly Material[] => (isMany(lit) ? lit : [lit]);

/** The same colours without light and shadow. */
function flatOf(material: Material): Material {
  const { color, map, vertexColors, side, transparent, opacity, alphaTest } = material as MeshBasicMaterial;
  return new MeshBasicMaterial({
    color: color ?? new Color("#ffffff"),
    map: map ?? null,
    vertexColors,
    side,
    transparent,
    opacity,
    alphaTest,
  });
}

/** A mesh of the same vertices that shows some of the triangles in another material. */
function markOf({ mesh }: DrawnMesh, material: Material): Mesh {
  const geometry = new BufferGeometry();
  const mark = mesh instanceof SkinnedMesh ? new SkinnedMesh(geometry, material) : new Mesh(geometry, material);
  if (mark instanceof SkinnedMesh && mesh instanceof SkinnedMesh) mark.bind(mesh.skeleton, mesh.bindMatrix);
  mark.frustumCulled = false;
  mark.matrixAutoUpdate = false;
  mark.visible = false;
  mark.raycast = () => undefined;
  mesh.add(mark);
  return mark;
}

/** Show the triangles of these controls in a mark. */
function mark({ mesh, picker }: DrawnMesh, marked: Mesh, ids: ReadonlySet<string>): void {
  const { geometry } = mesh;
  const corners: number[] = [];
  if (ids.size > 0)
    for (let t = 0; t < picker.owners.length; t++) {
      const control = picker.controlOf(t);
      if (control === null || !ids.has(control)) continue;
      for (let k = 0; k < 3; k++) corners.push(geometry.index ? geometry.index.getX(t * 3 + k) : t * 3 + k);
    }
  marked.visible = corners.length > 0;
  if (corners.length === 0) return;
  marked.geometry.dispose();
  const shown = new BufferGeometry();
  for (const name of ["position", "normal", "skinIndex", "skinWeight"]) {
    const attribute = geometry.getAttribute(name);
    if (attribute) shown.setAttribute(name, attribute);
  }
  shown.morphAttributes = geometry.morphAttributes;
  shown.morphTargetsRelative = geometry.morphTargetsRelative;
  shown.setIndex(corners);
  marked.geometry = shown;
  marked.morphTargetInfluences = mesh.morphTargetInfluences;
}

function ghostOf(drawn: DrawnFigure, colour: string, strength: number): FigureModel {
  const pale = new MeshBasicMaterial({
    color: colour,
    transparent: true,
    opacity: strength,
    depthWrite: false,
    stencilWrite: true,
    stencilFunc: EqualStencilFunc,
    stencilRef: 0,
    stencilZPass: IncrementStencilOp,
  });
  const own = drawn.copy();
  for (const { mesh } of own.meshes) {
    mesh.material = pale;
    mesh.raycast = () => undefined;
  }
  return {
    group: own.group,
    props: [],
    isDrawn: () => false,
    measure: () => undefined,
    follow: (player) => own.follow(player),
    pick: () => undefined,
    show: () => undefined,
    ghost: (other, less) => ghostOf(drawn, other, less),
    dispose() {
      pale.dispose();
      own.dispose();
    },
  };
}
