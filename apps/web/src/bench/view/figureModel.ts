import { type Control, isScenery, type Player, type Rig } from "@kneader/core";
import { otterSolids, type Solid } from "@kneader/demo";
import { Color, EqualStencilFunc, Group, IncrementStencilOp, Mesh, MeshBasicMaterial, MeshLambertMaterial, ReplaceStencilOp } from "three";
import type { Look } from "./looks.ts";
import { joinSolids } from "./solidGeometry.ts";

/** A drawn figure: one mesh a control, placed by a player's world matrices. */
export interface FigureModel {
  readonly group: Group;
  /** Place every mesh where the player's figure now stands. */
  follow(player: Player): void;
  /** Mark these controls as picked. */
  pick(ids: ReadonlySet<string>): void;
  /** Draw it lit, flat, or as a silhouette in an ink. */
  show(look: Look, ink: string): void;
  /** A pale copy of it, of the same shapes; its strength is 0..1. */
  ghost(colour: string, strength: number): FigureModel;
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

interface Part {
  readonly mesh: Mesh;
  readonly control: string;
  readonly glow: boolean;
}

/** Build the figure of a rig. */
export function buildFigure(rig: Rig): FigureModel {
  const solids = rig.figure === "otter" ? otterSolids : boneSolids(rig);
  const groups = new Map<string, Solid[]>();
  for (const solid of solids) {
    const name = `${solid.control}${solid.glow ? "+" : ""}`;
    groups.set(name, [...(groups.get(name) ?? []), solid]);
  }
  const lit = new MeshLambertMaterial({ vertexColors: true });
  const flat = new MeshBasicMaterial({ vertexColors: true });
  const shade = new MeshBasicMaterial({ color: "#000000" });
  const picked = {
    lit: new MeshLambertMaterial({ vertexColors: true, emissive: new Color("#8A2E5C"), emissiveIntensity: 0.42 }),
    flat: new MeshBasicMaterial({ vertexColors: true, color: "#d58cb0" }),
    silhouette: new MeshBasicMaterial({ color: "#8A2E5C" }),
  };
  const materials = [lit, flat, shade, ...Object.values(picked)];
  // The figure marks its pixels; ghosts leave those alone and paint every other pixel once, so that they
  // lie behind the figure as even silhouettes.
  for (const material of materials) {
    material.stencilWrite = true;
    material.stencilRef = 1;
    material.stencilZPass = ReplaceStencilOp;
  }
  const parts = [...groups.values()].map((list): Part => {
    const mesh = placed(new Mesh(joinSolids(list), lit), list[0].control);
    return { mesh, control: list[0].control, glow: list[0].glow === true };
  });
  let look: Look = "lit";
  let marked: ReadonlySet<string> = new Set();
  const plain = ({ glow }: Part) => (look === "silhouette" ? shade : look === "flat" || glow ? flat : lit);
  const dress = () => {
    for (const part of parts) part.mesh.material = marked.has(part.control) ? picked[look] : plain(part);
  };
  dress();
  return {
    ...drawn(parts),
    pick(ids) {
      marked = ids;
      dress();
    },
    show(wanted, ink) {
      look = wanted;
      shade.color.set(ink);
      dress();
    },
    ghost: (colour, strength) => ghostOf(parts, colour, strength),
    dispose() {
      for (const { mesh } of parts) mesh.geometry.dispose();
      for (const material of materials) material.dispose();
    },
  };
}

function placed(mesh: Mesh, control: string): Mesh {
  mesh.matrixAutoUpdate = false;
  mesh.frustumCulled = false;
  mesh.userData.control = control;
  return mesh;
}

/** The group of some parts, and how they follow a player. */
function drawn(parts: readonly Part[]): Pick<FigureModel, "group" | "follow"> {
  const group = new Group();
  group.add(...parts.map(({ mesh }) => mesh));
  return {
    group,
    follow(player) {
      for (const { mesh, control } of parts) {
        const i = player.controlIndex.get(control);
        if (i === undefined) continue;
        mesh.matrix.fromArray(player.worlds, i * 16);
        mesh.matrixWorldNeedsUpdate = true;
      }
    },
  };
}

function ghostOf(parts: readonly Part[], colour: string, strength: number): FigureModel {
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
  const own = parts.map(({ mesh, control, glow }): Part => ({ mesh: placed(new Mesh(mesh.geometry, pale), control), control, glow }));
  return {
    ...drawn(own),
    pick: () => undefined,
    show: () => undefined,
    ghost: (other, less) => ghostOf(parts, other, less),
    dispose: () => pale.dispose(),
  };
}
