import { type Control, isScenery, type Player, type Rig } from "@kneader/core";
import { otterSolids, type Solid } from "@kneader/demo";
import {
  Color,
  EqualStencilFunc,
  Group,
  IncrementStencilOp,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  type Material,
  ReplaceStencilOp,
} from "three";
import { joinSolids } from "./solidGeometry.ts";

/** A drawn figure: one mesh a control, placed by a player's world matrices. */
export interface FigureModel {
  readonly group: Group;
  /** Place every mesh where the player's figure now stands. */
  follow(player: Player): void;
  /** Mark these controls as picked. */
  pick(ids: ReadonlySet<string>): void;
  dispose(): void;
}

const BONE = "#b58a5f";

/** Solids for a rig without a drawing of its own: a bone from each joint to each of its children. */
function boneSolids(rig: Rig): Solid[] {
  const size = rigSize(rig);
  const thick = size * 0.016;
  return rig.controls.flatMap((control): Solid[] => {
    const children = rig.controls.filter((other) => other.parent === control.id);
    const ends = children.length > 0 ? children.map((child) => child.rest) : control.tip ? [control.tip] : [];
    const bones = ends
      .filter((end) => Math.hypot(...end) > size * 1e-3)
      .map(
        (end): Solid => ({
          control: control.id,
          shape: "limb",
          a: [0, 0, 0],
          b: end,
          size: [thick * 1.5, thick * 0.75],
          colour: sideColour(control),
        }),
      );
    return [
      { control: control.id, shape: "ball", a: [0, 0, 0], size: [thick * 1.35, thick * 1.35, thick * 1.35], colour: "#6d5a48" },
      ...bones,
    ];
  });
}

function sideColour(control: Control): string {
  if (control.partner === null || control.partner === control.id) return BONE;
  return /(^|[^a-z])l(eft)?([^a-z]|$)/i.test(control.name.replace(/([a-z])([A-Z])/g, "$1 $2")) ? "#4f8f8a" : "#c0785a";
}

/** Height of the rest pose, roughly: the span of joints in Y, or of the longest reach. */
function rigSize(rig: Rig): number {
  const places = new Map<string, readonly number[]>();
  let low = 0;
  let high = 0;
  let far = 0;
  for (const control of rig.controls) {
    if (isScenery(control)) continue;
    const above = control.parent === null ? [0, 0, 0] : (places.get(control.parent) ?? [0, 0, 0]);
    const place = above.map((value, k) => value + control.rest[k]);
    places.set(control.id, place);
    low = Math.min(low, place[1]);
    high = Math.max(high, place[1]);
    far = Math.max(far, Math.hypot(...place));
  }
  return Math.max(high - low, far * 0.5, 1e-3);
}

/** Build the figure of a rig; a ghost is pale and cannot be picked. */
export function buildFigure(rig: Rig, ghost: string | null = null): FigureModel {
  const solids = rig.figure === "otter" ? otterSolids : boneSolids(rig);
  const group = new Group();
  const meshes: { mesh: Mesh; control: string; plain: Material }[] = [];
  const lit = new MeshLambertMaterial({ vertexColors: true });
  const glow = new MeshBasicMaterial({ vertexColors: true });
  const picked = new MeshLambertMaterial({ vertexColors: true, emissive: new Color("#8A2E5C"), emissiveIntensity: 0.42 });
  // The figure marks its pixels; ghosts leave those alone and paint every other pixel once, so that they
  // lie behind the figure as even silhouettes.
  for (const material of [lit, glow, picked]) {
    material.stencilWrite = true;
    material.stencilRef = 1;
    material.stencilZPass = ReplaceStencilOp;
  }
  const pale = new MeshBasicMaterial({
    color: ghost ?? "#ffffff",
    transparent: true,
    opacity: 0.34,
    depthWrite: false,
    stencilWrite: true,
    stencilFunc: EqualStencilFunc,
    stencilRef: 0,
    stencilZPass: IncrementStencilOp,
  });
  const groups = new Map<string, Solid[]>();
  for (const solid of solids) {
    const name = `${solid.control}${solid.glow ? "+" : ""}`;
    groups.set(name, [...(groups.get(name) ?? []), solid]);
  }
  for (const list of groups.values()) {
    const plain = ghost ? pale : list[0].glow ? glow : lit;
    const mesh = new Mesh(joinSolids(list), plain);
    mesh.matrixAutoUpdate = false;
    mesh.frustumCulled = false;
    mesh.userData.control = list[0].control;
    group.add(mesh);
    meshes.push({ mesh, control: list[0].control, plain });
  }
  return {
    group,
    follow(player) {
      for (const { mesh, control } of meshes) {
        const i = player.controlIndex.get(control);
        if (i === undefined) continue;
        mesh.matrix.fromArray(player.worlds, i * 16);
        mesh.matrixWorldNeedsUpdate = true;
      }
    },
    pick(ids) {
      for (const { mesh, control, plain } of meshes) mesh.material = ids.has(control) && !ghost ? picked : plain;
    },
    dispose() {
      for (const { mesh } of meshes) mesh.geometry.dispose();
      for (const material of [lit, glow, picked, pale]) material.dispose();
    },
  };
}
