import type { BodySurface, FigureBody, Rig } from "@kneader/core";
import {
  Bone,
  BufferAttribute,
  BufferGeometry,
  Group,
  Matrix4,
  MeshBasicMaterial,
  MeshLambertMaterial,
  Skeleton,
  SkinnedMesh,
} from "three";
import type { DrawnFigure, DrawnMesh } from "./drawn.ts";
import { SkinPicker } from "./skinPicker.ts";

/** A surface as geometry whose vertices know their controls. */
function geometryOf(surface: BodySurface): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(surface.positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(surface.normals, 3));
  geometry.setAttribute("color", new BufferAttribute(surface.colours, 3));
  geometry.setAttribute("skinIndex", new BufferAttribute(surface.joints, 4));
  geometry.setAttribute("skinWeight", new BufferAttribute(surface.weights, 4));
  geometry.setIndex(new BufferAttribute(surface.index, 1));
  return geometry;
}

/** The meshes of a body that is bound to the controls of a rig. */
export function drawnBody(body: FigureBody, rig: Rig): DrawnFigure {
  const geometries = body.surfaces.map(geometryOf);
  const lit = new MeshLambertMaterial({ vertexColors: true });
  const light = new MeshBasicMaterial({ vertexColors: true });
  const inverses = body.controls.map((_, i) => new Matrix4().fromArray(body.inverses, i * 16));
  const pickers = body.surfaces.map((_, n) => new SkinPicker(geometries[n], body.controls));
  const make = (): DrawnFigure => {
    const bones = body.controls.map(() => new Bone());
    const skeleton = new Skeleton(bones, inverses);
    const group = new Group();
    const meshes = body.surfaces.map((surface, n): DrawnMesh => {
      const mesh = new SkinnedMesh(geometries[n], surface.isLight ? light : lit);
      mesh.bind(skeleton, new Matrix4());
      mesh.frustumCulled = false;
      group.add(mesh);
      return { mesh, lit: surface.isLight ? light : lit, picker: pickers[n], prop: surface.isProp ? propOf(surface, body, rig) : null };
    });
    return {
      group,
      meshes,
      follow(player) {
        body.controls.forEach((id, i) => {
          const at = player.controlIndex.get(id);
          if (at !== undefined) bones[i].matrixWorld.fromArray(player.worlds, at * 16);
        });
        skeleton.update();
      },
      copy() {
        const copy = make();
        return { ...copy, dispose: () => letGoOfBones(copy.meshes) };
      },
      dispose() {
        skeleton.dispose();
        for (const geometry of geometries) geometry.dispose();
        lit.dispose();
        light.dispose();
      },
    };
  };
  return make();
}

function letGoOfBones(meshes: readonly DrawnMesh[]): void {
  for (const { mesh } of meshes) (mesh as SkinnedMesh).skeleton.dispose();
}

/** The uppermost control of a thing, by which it hangs somewhere. */
function propOf({ joints }: BodySurface, { controls }: FigureBody, rig: Rig): string {
  return controls[joints[0]] ?? rig.controls[0].id;
}
