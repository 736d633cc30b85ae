import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { BufferGeometry, type Camera, Group, type Object3D, Points, Vector3 } from "three";
import { useReadOnly } from "../../documents.ts";
import { useFlightAtHand } from "../../flight/flightAtHand.ts";
import { ArcDrawing, dot, put } from "../arcs/arcDrawing.ts";
import { useHovered } from "../hovered.ts";
import { dragGrip } from "./dragGrip.ts";
import { type FlightGrip, gripsOf, pathOf } from "./flightPath.ts";

const EDGE = "#fffbf4";
const INK = "#0e6a67";
/** A grip is taken hold of from this near (pixels). */
const NEAR = 20;

const NOTHING: { readonly paths: readonly Float64Array[]; readonly grips: readonly FlightGrip[] } = { paths: [], grips: [] };

/** Grips drawn over everything, pale-edged discs. */
class GripDrawing {
  readonly group = new Group();
  private readonly at = new BufferGeometry();

  constructor() {
    [dot(EDGE, 19), dot(INK, 14)].forEach((material, i) => {
      const points = new Points(this.at, material);
      points.raycast = () => undefined;
      points.renderOrder = 12 + i;
      points.frustumCulled = false;
      this.group.add(points);
    });
  }

  update(grips: readonly FlightGrip[]): void {
    put(
      this.at,
      grips.flatMap(({ place }) => [...place]),
    );
  }

  dispose(): void {
    this.at.dispose();
  }
}

/** The arcs of the flights in the card, with a mark a frame beyond both ends, and their grips. */
export function useFlightTool(surfaces: readonly Object3D[], pulls: boolean): { objects: readonly Object3D[] } {
  const { camera, gl, invalidate } = useThree();
  const at = useFlightAtHand();
  const readOnly = useReadOnly();
  const shown = useMemo(() => (at?.plan ? { paths: at.plan.planned.map((_, n) => pathOf(at, n)), grips: gripsOf(at) } : NOTHING), [at]);
  const length = Math.max(0, ...shown.paths.map((path) => path.length / 3));
  const arcs = useMemo(() => (shown.paths.length > 0 ? new ArcDrawing(shown.paths.length, length) : null), [shown.paths.length, length]);
  useEffect(() => () => arcs?.dispose(), [arcs]);
  const isAny = shown.grips.length > 0;
  const grips = useMemo(() => (isAny ? new GripDrawing() : null), [isAny]);
  useEffect(() => () => grips?.dispose(), [grips]);
  useEffect(() => {
    arcs?.update(shown.paths.map((path) => ({ places: padded(path, length), keyed: [], bends: [] })));
    grips?.update(shown.grips);
    invalidate();
  }, [arcs, grips, shown, length, invalidate]);
  const latest = useRef({ grips: shown.grips, surfaces, readOnly });
  latest.current = { grips: shown.grips, surfaces, readOnly };
  useGripGestures(latest, isAny && pulls, camera, gl.domElement);
  return { objects: [...(arcs ? [arcs.group] : []), ...(grips ? [grips.group] : [])] };
}

/** A path of a number of places: its last one again and again at its end. */
function padded(path: Float64Array, length: number): Float64Array {
  const places = new Float64Array(length * 3);
  places.set(path);
  for (let n = path.length; n < places.length; n++) places[n] = places[n - 3];
  return places;
}

interface Latest {
  readonly grips: readonly FlightGrip[];
  readonly surfaces: readonly Object3D[];
  readonly readOnly: boolean;
}

/** Pointing at grips and dragging them. */
function useGripGestures(latest: React.RefObject<Latest>, isAny: boolean, camera: Camera, canvas: HTMLCanvasElement): void {
  useEffect(() => {
    if (!isAny) return;
    let held: FlightGrip | null = null;
    const note = (grip: FlightGrip | null, event: PointerEvent) => {
      const box = canvas.getBoundingClientRect();
      const mark = grip && { frame: grip.frame, name: grip.said, x: event.clientX - box.left, y: event.clientY - box.top };
      if (mark || useHovered.getState().mark) useHovered.setState({ mark });
    };
    // After the arcs have had their say: what is dragged tells its numbers beside the pointer.
    const dragged = (event: PointerEvent) => {
      if (!held) return;
      const { grip, flight } = held;
      note(latest.current.grips.find((one) => one.grip === grip && one.flight === flight) ?? held, event);
    };
    const move = (event: PointerEvent) => {
      if (held) return;
      const found = event.buttons === 0 ? gripAt(latest.current.grips, camera, canvas, event) : null;
      if (!found) return;
      note(found, event);
      canvas.style.cursor = "grab";
      // The figure and the arcs behind it are not meant.
      event.stopImmediatePropagation();
    };
    const down = (event: PointerEvent) => {
      const found = event.button === 0 && !latest.current.readOnly ? gripAt(latest.current.grips, camera, canvas, event) : null;
      if (!found) return;
      event.stopImmediatePropagation();
      held = found;
      dragGrip(found, camera, canvas, latest.current.surfaces);
    };
    const up = () => {
      held = null;
    };
    canvas.addEventListener("pointermove", move, true);
    canvas.addEventListener("pointerdown", down, true);
    window.addEventListener("pointermove", dragged);
    window.addEventListener("pointerup", up);
    return () => {
      canvas.removeEventListener("pointermove", move, true);
      canvas.removeEventListener("pointerdown", down, true);
      window.removeEventListener("pointermove", dragged);
      window.removeEventListener("pointerup", up);
      useHovered.setState({ mark: null });
    };
  }, [latest, isAny, camera, canvas]);
}

const spot = new Vector3();

function gripAt(grips: readonly FlightGrip[], camera: Camera, canvas: HTMLElement, event: PointerEvent): FlightGrip | null {
  const box = canvas.getBoundingClientRect();
  let best: FlightGrip | null = null;
  let least = NEAR;
  for (const grip of grips) {
    spot.set(...grip.place).project(camera);
    if (!(spot.z <= 1)) continue;
    const away = Math.hypot(
      ((spot.x + 1) / 2) * box.width - (event.clientX - box.left),
      ((1 - spot.y) / 2) * box.height - (event.clientY - box.top),
    );
    if (away < least) [best, least] = [grip, away];
  }
  return best;
}
