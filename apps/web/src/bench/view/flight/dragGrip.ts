import { type Flight, operations, type Place, type Shot, withFlights } from "@kneader/core";
import { type Camera, type Object3D, Raycaster, Vector2, Vector3 } from "three";
import { clock } from "../../clock.ts";
import { currentDocument } from "../../documents.ts";
import { flightAtHand, useFlightState, withFlight } from "../../flight/flightAtHand.ts";
import { followPointer } from "../../followPointer.ts";
import { pacedPreview } from "../../pacedPreview.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { facingPlane } from "../tools/facingPlane.ts";
import type { FlightGrip } from "./flightPath.ts";

/** Surfaces of the set count up to so far from the grip, in metres. */
const REACH = 4;
/** A surface carries when it is no steeper than this (cosine). */
const FLAT = 0.6;

/**
 * From a press on a grip: take-off and landing follow the pointer onto surfaces of the set, and where there are none in the
 * plane that faces the camera; with Shift only up and down, with Alt never onto surfaces. The top goes up and down. Esc leaves
 * all as it was; what is let go of goes into the card.
 */
export function dragGrip(pressed: FlightGrip, camera: Camera, canvas: HTMLElement, surfaces: readonly Object3D[]): void {
  const shot = currentDocument();
  const { settings, set } = useWork.getState();
  const { layer } = useSelection.getState();
  const flights = settings.flights as readonly Flight[];
  const started = flights[pressed.flight];
  if (!shot || !started) return;
  useFlightState.setState({ chosen: pressed.flight });
  // The set stands as it does when the grip is reached.
  clock.stop();
  clock.set(pressed.frame);
  const inPlane = facingPlane(camera.clone(), canvas, new Vector3(...pressed.place));
  const preview = pacedPreview();
  const move = (event: PointerEvent) => {
    const onSurface =
      pressed.grip === "top" || event.shiftKey || event.altKey ? null : surfaceAt(event, camera, canvas, surfaces, pressed.place, shot);
    const goal = onSurface ?? inPlane(event);
    if (!goal) return;
    const changed = withFlight(
      flights,
      pressed.flight,
      changeFor(pressed, started, goal, event.shiftKey, topFrom(shot, settings, layer, pressed)),
    );
    useFlightState.setState({ dragged: changed });
    const at = flightAtHand(shot, { ...settings, flights: changed }, layer);
    const plan = at?.plan;
    if (at && plan) preview.show(() => withFlights(shot, at.chosen, at.told, plan).after);
  };
  followPointer({
    move,
    done() {
      const { dragged } = useFlightState.getState();
      useFlightState.setState({ dragged: null });
      // Until the card's own result is there, what was dragged is seen.
      if (dragged && useWork.getState().operation === operations.fly.id) set({ ...settings, flights: dragged });
    },
    cancel() {
      useFlightState.setState({ dragged: null });
      preview.stop();
      // The card's result is worked out anew.
      set({ ...settings });
    },
  });
}

/** The height from which tops are measured. */
function topFrom(shot: Shot, settings: Readonly<Record<string, unknown>>, layer: string, { flight }: FlightGrip): number {
  const at = flightAtHand(shot, settings, layer);
  const planned = at?.plan?.planned.find(({ told }) => told === at.told.flights[flight]);
  return planned?.arc.from.place[1] ?? 0;
}

function changeFor({ grip, place }: FlightGrip, flight: Flight, goal: Place, isUpright: boolean, ground: number): Partial<Flight> {
  if (grip === "top") return { height: Math.max(0.001, goal[1] - ground) };
  const by = [0, 1, 2].map((k) => (isUpright && k !== 1 ? 0 : goal[k] - place[k]));
  const moved = (from: readonly number[]): [number, number, number] => [from[0] + by[0], from[1] + by[1], from[2] + by[2]];
  return grip === "landing" ? { landingBy: moved(flight.landingBy) } : { takeOffBy: moved(flight.takeOffBy) };
}

/** Where the pointer is on something of the set that carries; null where it is on nothing near. */
function surfaceAt(
  event: PointerEvent,
  camera: Camera,
  canvas: HTMLElement,
  surfaces: readonly Object3D[],
  near: Place,
  { unitMetres }: Shot,
): Place | null {
  const box = canvas.getBoundingClientRect();
  const ray = new Raycaster();
  ray.setFromCamera(
    new Vector2(((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2),
    camera,
  );
  const normal = new Vector3();
  for (const { point, face, object } of ray.intersectObjects([...surfaces], true)) {
    if (!face || normal.copy(face.normal).transformDirection(object.matrixWorld).y < FLAT) continue;
    if (point.distanceTo(new Vector3(...near)) > REACH / (unitMetres ?? 1)) continue;
    return [point.x, point.y, point.z];
  }
  return null;
}
