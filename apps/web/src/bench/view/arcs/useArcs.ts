import { type ArcPath, arcPaths, type Shot } from "@kneader/core";
import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { Object3D, PerspectiveCamera } from "three";
import { usePreferences } from "../../../app/preferences.ts";
import { clock, useRestingFrame } from "../../clock.ts";
import { useSelection } from "../../selection.ts";
import { isLong } from "../../useSettled.ts";
import type { CameraName } from "../cameraNames.ts";
import { useHovered } from "../hovered.ts";
import type { ArcOf } from "../stageProps.ts";
import { ArcDrawing, type DrawnPath } from "./arcDrawing.ts";
import { arcFrames } from "./arcFrames.ts";
import { type ArcBend, type ArcMark, arcBends, marksOf } from "./arcMarks.ts";
import { useArcState } from "./arcState.ts";
import { dragArc } from "./dragArc.ts";
import { beforeCamera, flatPlaces, shotCameraAt } from "./flatArcs.ts";
import { isPartNear } from "../partUnder.ts";
import { markAt } from "./markAt.ts";

/** What of arcs the stage shows. */
export interface ShownArcs {
  readonly objects: readonly Object3D[];
  /** Is the pointer on a mark? A press is meant for it then. */
  isOnMark(): boolean;
}

interface Traced {
  readonly shot: Shot;
  readonly frames: Float64Array;
  readonly controls: string;
  readonly paths: readonly ArcPath[];
}

const NOTHING = { marks: [] as readonly ArcMark[], bends: [] as readonly ArcBend[] };

/** The paths of controls in a shot, worked out anew only where they differ from those traced before. */
function trace(known: Traced | null, shot: Shot, controls: readonly string[], frames: Float64Array): Traced {
  const names = controls.join();
  const isSame = known !== null && known.controls === names && known.frames === frames;
  return { shot, frames, controls: names, paths: arcPaths(shot, controls, frames, isSame ? known : undefined) };
}

/**
 * The arcs of the picked controls. Their marks tell their frame under the pointer, a click goes there, and a mark that is
 * dragged takes the control there at its frame. While something is tried the arc as it was stays, pale.
 */
export function useArcs(
  shot: Shot,
  given: Shot,
  arcs: readonly ArcOf[],
  cameraName: CameraName,
  canDrag: boolean,
  figure: Object3D | null,
  isOnGoal: (event: PointerEvent) => boolean,
): ShownArcs {
  const { camera, gl, invalidate, size } = useThree();
  const { arcOver, arcAround, arcFlat, arcBends: showsBends } = usePreferences();
  const marked = useSelection((state) => state.range);
  const resting = useRestingFrame();
  const frame = arcOver === "around" ? resting : 0;
  // The path of a long shot follows a drag only once it is let go.
  const of = isLong(shot) && arcOver === "shot" ? given : shot;
  const frames = useMemo(() => arcFrames(arcOver, of.range, marked, frame, arcAround), [arcOver, of.range, marked, frame, arcAround]);
  const aspect = size.width / size.height;
  const isFlat = arcFlat && cameraName === "shot" && given.rig.controls.some(({ role }) => role === "camera");

  const last = useRef<Traced | null>(null);
  const drawing = useMemo(() => (arcs.length > 0 ? new ArcDrawing(arcs.length, frames.length) : null), [arcs.length, frames.length]);
  useEffect(() => () => drawing?.dispose(), [drawing]);

  const traced = useMemo(() => {
    if (!drawing) return NOTHING;
    const controls = arcs.map(({ control }) => control);
    last.current = trace(last.current, of, controls, frames);
    const { paths } = last.current;
    const cameraAt = isFlat ? shotCameraAt(of, aspect) : null;
    const shown = paths.map((path, i) => {
      const keys = new Set(arcs[i].keys);
      const flat = cameraAt && flatPlaces(path, cameraAt);
      const places = flat ? beforeCamera(flat, camera as PerspectiveCamera) : path.places;
      const at = (n: number) => [places[3 * n], places[3 * n + 1], places[3 * n + 2]];
      const bends = showsBends ? arcBends(of, path, flat, aspect) : [];
      const drawn: DrawnPath = {
        places,
        keyed: Array.from(frames, (time, n) => (keys.has(time) ? at(n) : [])).flat(),
        bends: bends.flatMap((bend) => at(bend.at)),
      };
      return { drawn, bends, marks: marksOf(of, path, flat ?? path.places, keys, flat !== null) };
    });
    drawing.update(shown.map(({ drawn }) => drawn));
    return { marks: shown.flatMap(({ marks }) => marks), bends: shown.flatMap(({ bends }) => bends) };
  }, [drawing, of, arcs, frames, isFlat, aspect, showsBends, camera]);
  useEffect(() => {
    invalidate();
    useArcState.setState({ bends: [...traced.bends].sort((a, b) => a.frame - b.frame) });
    return () => useArcState.setState({ bends: [] });
  }, [traced, invalidate]);

  const before = useBefore(of === given ? null : given, arcs, frames);
  // Flat arcs hang before the camera wherever that goes.
  useFrame(() => {
    if (!drawing) return;
    if (isFlat) drawing.group.matrix.copy(camera.matrixWorld);
    else drawing.group.matrix.identity();
    drawing.group.matrixWorldNeedsUpdate = true;
  });

  const latest = useRef({ marks: traced.marks, canDrag, figure, isOnGoal });
  latest.current = { marks: traced.marks, canDrag, figure, isOnGoal };
  useMarkGestures(latest, camera as PerspectiveCamera, gl.domElement);
  const objects = drawing ? (before && !isFlat ? [before, drawing.group] : [drawing.group]) : [];
  return { objects, isOnMark: () => useHovered.getState().mark !== null };
}

/** The arcs as they were before what is tried, pale. */
function useBefore(given: Shot | null, arcs: readonly ArcOf[], frames: Float64Array): Object3D | null {
  const drawn = useMemo(() => {
    if (!given || arcs.length === 0) return null;
    const drawing = new ArcDrawing(arcs.length, frames.length, true);
    const controls = arcs.map(({ control }) => control);
    drawing.update(arcPaths(given, controls, frames).map(({ places }) => ({ places, keyed: [], bends: [] })));
    return drawing;
  }, [given, arcs, frames]);
  useEffect(() => () => drawn?.dispose(), [drawn]);
  return drawn?.group ?? null;
}

/** A press that goes no further than this (pixels) is a click. */
const SLACK = 4;

/** Further than this (pixels) from the figure a mark of another frame counts. */
const CLEAR = 5;

/** With these a mark that lies on the figure is meant all the same. */
const meansMarks = (event: PointerEvent): boolean => event.shiftKey && (event.ctrlKey || event.metaKey);

/**
 * Pointing at marks, clicking and dragging them. The figure as it stands comes first: on a part the part is meant, and a mark
 * of another frame only clearly beside it.
 */
function useMarkGestures(
  latest: React.RefObject<{ marks: readonly ArcMark[]; canDrag: boolean; figure: Object3D | null; isOnGoal(event: PointerEvent): boolean }>,
  camera: PerspectiveCamera,
  canvas: HTMLCanvasElement,
): void {
  useEffect(() => {
    let pressed: { frame: number; name: string; x: number; y: number } | null = null;
    const pointed = (event: PointerEvent) => {
      const box = canvas.getBoundingClientRect();
      const at = { x: event.clientX - box.left, y: event.clientY - box.top };
      const { marks, figure, isOnGoal } = latest.current;
      if (isOnGoal(event)) return null;
      const found = markAt(marks, camera, box, at, clock.frame);
      if (!found || !figure || meansMarks(event)) return found;
      return isPartNear(figure, camera, box, at, found.mark.frame === clock.frame ? 0 : CLEAR) ? null : found;
    };
    const move = (event: PointerEvent) => {
      if (pressed && event.buttons !== 0) {
        // What is dragged says its frame beside the pointer.
        const box = canvas.getBoundingClientRect();
        useHovered.setState({
          mark: { frame: pressed.frame, name: pressed.name, x: event.clientX - box.left, y: event.clientY - box.top },
        });
        return;
      }
      const found = event.buttons === 0 ? pointed(event) : null;
      const { mark } = useHovered.getState();
      if (!found && !mark) return;
      useHovered.setState({ mark: found && { frame: found.mark.frame, name: found.mark.name, x: found.x, y: found.y } });
      if (found) canvas.style.cursor = latest.current.canDrag ? "grab" : "pointer";
    };
    const down = (event: PointerEvent) => {
      const found = event.button === 0 ? pointed(event) : null;
      pressed = found && { frame: found.mark.frame, name: found.mark.name, x: event.clientX, y: event.clientY };
      if (!found || !latest.current.canDrag) return;
      // The mark is meant, not the figure behind it and not the free camera.
      event.stopImmediatePropagation();
      dragArc(found.mark, event, camera, canvas);
    };
    const up = (event: PointerEvent) => {
      if (pressed && Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) <= SLACK) clock.set(pressed.frame);
      pressed = null;
    };
    const leave = () => useHovered.setState({ mark: null });
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerdown", down, true);
    window.addEventListener("pointerup", up);
    canvas.addEventListener("pointerleave", leave);
    return () => {
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerdown", down, true);
      window.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointerleave", leave);
      leave();
    };
  }, [latest, camera, canvas]);
}
