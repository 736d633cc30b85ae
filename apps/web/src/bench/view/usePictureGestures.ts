import type { Shot } from "@kneader/core";
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { PerspectiveCamera } from "three";
import { clock } from "../clock.ts";
import type { CameraName } from "./cameraNames.ts";
import type { FigureModel } from "./figures/figureModel.ts";
import { boundsOf } from "./framing.ts";
import { useFreeView } from "./freeView.ts";
import { movedBy, setZoom, WHOLE, zoomedAt, zoomOf, zoomTo } from "./pictureZoom.ts";
import { playerFor } from "./players.ts";

/** Wheel, the middle or right button, and the wish to frame, in pictures whose camera stands still; the free camera has its own. */
export function usePictureGestures(shot: Shot, name: CameraName, picked: readonly string[], figure: FigureModel | null): void {
  const { camera, gl } = useThree();
  const latest = useRef({ shot, picked, figure });
  latest.current = { shot, picked, figure };
  const { id } = shot;
  useEffect(() => {
    if (name === "free") return;
    const canvas = gl.domElement;
    const spotOf = ({ clientX, clientY }: MouseEvent) => {
      const box = canvas.getBoundingClientRect();
      return { x: ((clientX - box.left) / box.width) * 2 - 1, y: 1 - ((clientY - box.top) / box.height) * 2 };
    };
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const lines = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? 16 : 1;
      setZoom(id, name, zoomedAt(zoomOf(id, name), Math.exp(-event.deltaY * lines * 0.0015), spotOf(event)));
    };
    let held: { x: number; y: number } | null = null;
    const down = (event: PointerEvent) => {
      if (event.button !== 1 && event.button !== 2) return;
      event.preventDefault();
      held = spotOf(event);
      canvas.setPointerCapture(event.pointerId);
    };
    const move = (event: PointerEvent) => {
      if (!held) return;
      const now = spotOf(event);
      setZoom(id, name, movedBy(zoomOf(id, name), now.x - held.x, now.y - held.y));
      held = now;
    };
    const up = () => {
      held = null;
    };
    const menu = (event: Event) => event.preventDefault();
    const frame = () => {
      const { shot: now, picked: ids, figure: drawn } = latest.current;
      // The film's own picture is what is framed where nothing is picked.
      const isFilm = name === "shot" && now.rig.controls.some(({ role }) => role === "camera");
      if (isFilm && ids.length === 0) return setZoom(id, name, WHOLE);
      const player = playerFor(now);
      player.pose(clock.frame);
      setZoom(id, name, zoomTo(boundsOf(now.rig, player, ids, drawn).box, camera as PerspectiveCamera));
    };
    const stop = useFreeView.subscribe((now, before) => {
      if (now.fits !== before.fits) frame();
    });
    canvas.addEventListener("wheel", wheel, { passive: false });
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    canvas.addEventListener("contextmenu", menu);
    return () => {
      stop();
      canvas.removeEventListener("wheel", wheel);
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      canvas.removeEventListener("contextmenu", menu);
    };
  }, [name, id, camera, gl]);
}
