import { channelKey, type Player, type Rig, type ShotAsset } from "@kneader/core";
import { Group, Mesh, type Object3D, SkinnedMesh } from "three";
import { clone } from "three/examples/jsm/utils/SkeletonUtils.js";
import type { DrawnFigure, DrawnMesh } from "./drawn.ts";
import type { LoadedAsset } from "./loadAsset.ts";
import { SkinPicker } from "./skinPicker.ts";

/** One of the objects of the file, parents first, with the control that places it, if one does. */
interface Placed {
  readonly object: Object3D;
  readonly control: string | null;
  /** Channels of the shapes it morphs between, in order. */
  readonly shapes: readonly string[];
}

/** The meshes of a file, placed by the controls that its nodes became. */
export function drawnAsset(loaded: LoadedAsset, asset: ShotAsset, rig: Rig): DrawnFigure {
  const known = new Set(rig.controls.map(({ id }) => id));
  const byNode = new Map(Object.entries(asset.nodes).flatMap(([id, node]) => (known.has(id) ? [[node, id] as const] : [])));
  const pickers = new Map<string, SkinPicker>();
  const make = (): DrawnFigure => {
    const scene = clone(loaded.scene);
    const placed: Placed[] = [];
    const meshes: DrawnMesh[] = [];
    scene.traverse((object) => {
      const control = byNode.get(object.userData.kneaderNode as number) ?? null;
      // An object that is no node of its own (a part of a mesh) has the shapes of the node it belongs to.
      const owner = control ?? byNode.get(object.parent?.userData.kneaderNode as number);
      const shapes = owner === undefined ? [] : (asset.shapes[owner] ?? []).map((channel) => channelKey(owner, channel));
      placed.push({ object, control, shapes });
      object.matrixAutoUpdate = false;
      object.matrixWorldAutoUpdate = false;
      object.updateMatrix();
      if (!(object instanceof Mesh)) return;
      object.frustumCulled = false;
      const hung = object instanceof SkinnedMesh ? null : controlAbove(object, byNode);
      const controls = object instanceof SkinnedMesh ? object.skeleton.bones.map((bone) => controlAbove(bone, byNode)) : [hung];
      const name = `${object.geometry.uuid}/${controls.join()}`;
      const picker = pickers.get(name) ?? new SkinPicker(object.geometry, controls);
      pickers.set(name, picker);
      meshes.push({ mesh: object, lit: object.material, picker, prop: null });
    });
    const group = new Group();
    group.add(scene);
    return {
      group,
      meshes,
      follow: (player) => place(placed, player),
      copy: make,
      dispose() {
        for (const { mesh } of meshes) if (mesh instanceof SkinnedMesh) mesh.skeleton.dispose();
      },
    };
  };
  return make();
}

/** The control of an object, or of the nearest object above it that has one. */
function controlAbove(object: Object3D, byNode: ReadonlyMap<number, string>): string | null {
  for (let at: Object3D | null = object; at; at = at.parent) {
    const control = byNode.get(at.userData.kneaderNode as number);
    if (control) return control;
  }
  return null;
}

function place(placed: readonly Placed[], player: Player): void {
  for (const { object, control, shapes } of placed) {
    const at = control === null ? undefined : player.controlIndex.get(control);
    if (at !== undefined) object.matrixWorld.fromArray(player.worlds, at * 16);
    else if (object.parent) object.matrixWorld.multiplyMatrices(object.parent.matrixWorld, object.matrix);
    else object.matrixWorld.copy(object.matrix);
    const influences = (object as Mesh).morphTargetInfluences;
    if (influences)
      shapes.forEach((channel, k) => {
        const index = player.channelIndex.get(channel);
        if (index !== undefined && k < influences.length) influences[k] = player.values[index] / 100;
      });
  }
}
