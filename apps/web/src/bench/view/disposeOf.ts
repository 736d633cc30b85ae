import { Line, Mesh, type Object3D, Points } from "three";

/**
 * Let go of the shapes that an object and all below it hold on the graphics card. Materials are few and stay: letting
 * go of the last one of a kind would have its program made anew for the next.
 */
export function disposeOf(top: Object3D): void {
  top.traverse((object) => {
    if (object instanceof Mesh || object instanceof Line || object instanceof Points) object.geometry.dispose();
  });
}
