import { type Box3, type PerspectiveCamera, Vector3 } from "three";
import { create } from "zustand";
import { cornersOf } from "./fitBox.ts";

/**
 * The part of a picture that is looked at: how many times it is enlarged, and its middle in the whole picture, from −1 to 1. The
 * cameras that stand still (through the shot camera, from the front, from the side) are zoomed so: the camera stays where it is.
 */
export interface PictureZoom {
  readonly times: number;
  readonly x: number;
  readonly y: number;
}

export const WHOLE: PictureZoom = { times: 1, x: 0, y: 0 };

interface Zooms {
  /** The shot they are for, and by camera. */
  readonly of: string | null;
  readonly by: Readonly<Record<string, PictureZoom>>;
}

export const usePictureZoom = create<Zooms>(() => ({ of: null, by: {} }));

export function zoomOf(shot: string, camera: string): PictureZoom {
  const { of, by } = usePictureZoom.getState();
  return of === shot ? (by[camera] ?? WHOLE) : WHOLE;
}

export function setZoom(shot: string, camera: string, zoom: PictureZoom): void {
  usePictureZoom.setState(({ of, by }) => ({ of: shot, by: { ...(of === shot ? by : {}), [camera]: bounded(zoom) } }));
}

const MOST = 60;
const LEAST = 0.3;

function bounded({ times, x, y }: PictureZoom): PictureZoom {
  const most = Math.min(MOST, Math.max(LEAST, times));
  // Back at the whole picture it is all of it.
  if (Math.abs(most - 1) < 0.02) return WHOLE;
  const within = (value: number) => Math.min(1, Math.max(-1, value));
  return { times: most, x: within(x), y: within(y) };
}

/** Zoomed by a factor about a spot of what is seen (from −1 to 1), which stays where it is. */
export function zoomedAt({ times, x, y }: PictureZoom, factor: number, spot: { readonly x: number; readonly y: number }): PictureZoom {
  const next = Math.min(MOST, Math.max(LEAST, times * factor));
  const [u, v] = [x + spot.x / times, y + spot.y / times];
  return { times: next, x: u - spot.x / next, y: v - spot.y / next };
}

/** Moved by a part of what is seen. */
export const movedBy = ({ times, x, y }: PictureZoom, dx: number, dy: number): PictureZoom => ({
  times,
  x: x - dx / times,
  y: y - dy / times,
});

/** So that a box fills what is seen by a camera that looks at the whole picture. */
export function zoomTo(box: Box3, camera: PerspectiveCamera): PictureZoom {
  const whole = camera.clone();
  whole.clearViewOffset();
  whole.updateMatrixWorld();
  const seen = cornersOf(box).map((corner) => corner.project(whole));
  const low = new Vector3(Math.min(...seen.map(({ x }) => x)), Math.min(...seen.map(({ y }) => y)), 0);
  const high = new Vector3(Math.max(...seen.map(({ x }) => x)), Math.max(...seen.map(({ y }) => y)), 0);
  const extent = Math.max(high.x - low.x, high.y - low.y, 1e-6) / 2;
  return { times: 0.9 / extent, x: (low.x + high.x) / 2, y: (low.y + high.y) / 2 };
}

/** Let a camera show that part of its picture. */
export function showZoom(camera: PerspectiveCamera, { times, x, y }: PictureZoom): void {
  if (times === 1 && x === 0 && y === 0) {
    if (camera.view?.enabled) camera.clearViewOffset();
    return;
  }
  // In parts of a picture that is 1000 high.
  const [width, height] = [1000 * camera.aspect, 1000];
  camera.setViewOffset(
    width,
    height,
    ((1 + x) / 2 - 0.5 / times) * width,
    ((1 - y) / 2 - 0.5 / times) * height,
    width / times,
    height / times,
  );
}

/** A place of the whole picture (from −1 to 1) as it is in the part that a camera shows. */
export function inShown(camera: PerspectiveCamera, x: number, y: number): { x: number; y: number } {
  const view = camera.view;
  if (!view?.enabled) return { x, y };
  return {
    x: ((((x + 1) / 2) * view.fullWidth - view.offsetX) / view.width) * 2 - 1,
    y: 1 - ((((1 - y) / 2) * view.fullHeight - view.offsetY) / view.height) * 2,
  };
}
