import type { Shot } from "@kneader/core";
import { useThree } from "@react-three/fiber";
import { type RefObject, useEffect, useRef } from "react";
import type { PerspectiveCamera } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { type CameraName, placeCamera } from "./cameras.ts";
import { framingOf } from "./framing.ts";
import { playerFor } from "./players.ts";

/** The free camera, turned by dragging; answers its controls while it is the one that looks. */
export function useFreeCamera(shot: Shot, name: CameraName): RefObject<OrbitControls | null> {
  const { invalidate, camera, gl } = useThree();
  const framing = framingOf(shot);
  // It starts from the shot as it is then; later edits must not pull it back.
  const latest = useRef(shot);
  latest.current = shot;
  const orbit = useRef<OrbitControls | null>(null);
  useEffect(() => {
    if (name !== "free") return;
    const controls = new OrbitControls(camera, gl.domElement);
    orbit.current = controls;
    const start = latest.current;
    placeCamera(camera as PerspectiveCamera, "free", start, playerFor(start));
    controls.target.set(...framing.centre);
    controls.update();
    const redraw = () => invalidate();
    controls.addEventListener("change", redraw);
    return () => {
      controls.removeEventListener("change", redraw);
      controls.dispose();
      orbit.current = null;
    };
  }, [name, camera, gl, framing, invalidate]);
  return orbit;
}
