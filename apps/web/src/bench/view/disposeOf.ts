import { type Material, Mesh, type Object3D, Points, Line } from "three";

/** Let go of what an object and all below it hold on the graphics card. */
export function disposeOf(top: Object3D): void {
  top.traverse((object) => {
    if (!(object instanceof Mesh || object instanceof Line || object instanceof Points)) return;
    object.geometry.dispose();
    const materials = (Array.isArray(object.material) ? object.material : [object.material]) as Material[];
    for (const material of materials) material.dispose();
  });
}
