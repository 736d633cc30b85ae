import type { Shot } from "@kneader/core";
import { useThree } from "@react-three/fiber";
import { type RefObject, useEffect, useRef } from "react";
import { type PerspectiveCamera, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { clock } from "../clock.ts";
import type { CameraName } from "./cameraNames.ts";
import { placeCamera, setDepth } from "./cameras.ts";
import type { FigureModel } from "./figures/figureModel.ts";
import { boundsOf, framingOf } from "./framing.ts";
import { useFreeView } from "./freeView.ts";
import { playerFor } from "./players.ts";

/**
 * The free camera: drag turns, right drag or Shift pans, wheel and trackpad zoom at the pointer. It starts framed on
 * the figure and stays where it was left, whatever is tried or undone; answers its controls while it is the one that looks.
 */
export function useFreeCamera(
  shot: Shot,
  name: CameraName,
  picked: readonly string[],
  figure: FigureModel | null,
): RefObject<OrbitControls | null> {
  const { invalidate, camera, gl } = useThree();
  // Later edits must not pull it back.
  const latest = useRef({ shot, picked, figure });
  latest.current = { shot, picked, figure };
  // A character that is there only now is framed as it is, unless one has looked around by then.
  const isThere = figure !== null;
  const orbit = useRef<OrbitControls | null>(null);
  useEffect(() => {
    if (name !== "free" || !isThere) return;
    (camera as PerspectiveCamera).clearViewOffset();
    const controls = new OrbitControls(camera, gl.domElement);
    controls.zoomToCursor = true;
    orbit.current = controls;
    const { shot: start } = latest.current;
    const look = () => {
      const { eye, target } = useFreeView.getState();
      camera.position.set(...eye);
      controls.target.set(...target);
      controls.update();
      setDepth(camera as PerspectiveCamera, framingOf(latest.current.shot), latest.current.shot.set);
      invalidate();
    };
    placeCamera(camera as PerspectiveCamera, "free", start, playerFor(start));
    if (useFreeView.getState().of !== start.id)
      useFreeView.setState({ of: start.id, eye: camera.position.toArray(), target: framingOf(start).centre });
    look();
    let own = false;
    const moved = () => {
      own = true;
      useFreeView.setState({ eye: camera.position.toArray(), target: controls.target.toArray() });
      own = false;
      setDepth(camera as PerspectiveCamera, framingOf(latest.current.shot), latest.current.shot.set);
      invalidate();
    };
    controls.addEventListener("change", moved);
    const stop = useFreeView.subscribe((now, before) => {
      if (now.fits !== before.fits) frame(camera as PerspectiveCamera, controls, latest.current);
      else if (!own) look();
    });
    return () => {
      stop();
      controls.removeEventListener("change", moved);
      controls.dispose();
      orbit.current = null;
    };
  }, [name, camera, gl, invalidate, isThere]);
  return orbit;
}

interface Latest {
  readonly shot: Shot;
  readonly picked: readonly string[];
  readonly figure: FigureModel | null;
}

/** Look at what is picked, or at the figure, as it stands at the playhead, from the same direction, so that it fills the picture. */
function frame(camera: PerspectiveCamera, controls: OrbitControls, { shot, picked, figure }: Latest): void {
  const player = playerFor(shot);
  player.pose(clock.frame);
  const { centre, radius } = boundsOf(shot.rig, player, picked, figure);
  const half = ((camera.fov / 2) * Math.PI) / 180;
  const distance = (radius / Math.sin(Math.min(half, Math.atan(Math.tan(half) * camera.aspect)))) * 1.05;
  const away = camera.position.clone().sub(controls.target).setLength(distance);
  controls.target.set(...centre);
  camera.position.copy(new Vector3(...centre).add(away));
  controls.update();
}
