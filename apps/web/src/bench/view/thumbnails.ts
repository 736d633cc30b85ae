import type { Shot } from "@kneader/core";
import { AmbientLight, Color, DirectionalLight, PerspectiveCamera, Scene, Vector3, WebGLRenderer } from "three";
import { buildFigure, type FigureModel } from "./figureModel.ts";
import { playerFor } from "./players.ts";

/** One small renderer for every picture of the figure outside the view. */
interface Studio {
  renderer: WebGLRenderer;
  scene: Scene;
  camera: PerspectiveCamera;
  /** The figures drawn last, the latest at the end. */
  figures: Map<Shot["rig"], FigureModel>;
}

/** As many figures are kept on the graphics card for pictures. */
const MOST_FIGURES = 4;

function figureOf(figures: Studio["figures"], rig: Shot["rig"]): FigureModel {
  const figure = figures.get(rig) ?? buildFigure(rig);
  figures.delete(rig);
  figures.set(rig, figure);
  const [oldest] = figures.keys();
  if (figures.size > MOST_FIGURES) {
    figures.get(oldest)?.dispose();
    figures.delete(oldest);
  }
  return figure;
}

let studio: Studio | null | undefined;

function openStudio(): Studio | null {
  if (studio !== undefined) return studio;
  try {
    const renderer = new WebGLRenderer({ alpha: true, antialias: true, preserveDrawingBuffer: true });
    renderer.setPixelRatio(1);
    const scene = new Scene();
    scene.add(new AmbientLight("#ffffff", 1.7));
    const sun = new DirectionalLight("#fff2dd", 2.2);
    sun.position.set(3, 5, 6);
    scene.add(sun);
    studio = { renderer, scene, camera: new PerspectiveCamera(16, 1, 0.01, 4000), figures: new Map() };
  } catch {
    // Without WebGL there are no thumbnails; the frames' numbers still tell the poses apart.
    studio = null;
  }
  return studio;
}

const pictures = new WeakMap<Shot, Map<string, string>>();

/** A picture kept from before, if there is one. */
export function keptPicture(shot: Shot, frame: number, width: number, height: number): string | undefined {
  return pictures.get(shot)?.get(`${frame}/${width}/${height}`);
}

/**
 * Draw the figure at a frame as seen by the shot camera's direction, filling a small picture whatever
 * its reach. Returns a data address, or null without WebGL.
 */
export function drawPicture(shot: Shot, frame: number, width: number, height: number): string | null {
  const kept = keptPicture(shot, frame, width, height);
  if (kept) return kept;
  const open = openStudio();
  if (!open) return null;
  const { renderer, scene, camera, figures } = open;
  const figure = figureOf(figures, shot.rig);
  const player = playerFor(shot);
  player.pose(frame);
  figure.follow(player);
  const bounds = boundsOf(shot, player.worlds);
  const props = new Set(shot.rig.controls.filter((control) => control.role === "prop").map((control) => control.id));
  for (const mesh of figure.group.children) {
    // A prop that hangs somewhere else would float in the picture, as the set is not drawn.
    const away = new Vector3().setFromMatrixPosition(mesh.matrix).distanceTo(bounds.centre);
    mesh.visible = !props.has(mesh.userData.control) || away < bounds.height * 0.7;
  }
  camera.aspect = width / height;
  const away = viewDirection(shot, player);
  const half = Math.max(bounds.height, bounds.width / camera.aspect) / 2;
  const distance = half / Math.tan((camera.fov * Math.PI) / 360);
  camera.position.copy(bounds.centre).addScaledVector(away, distance + bounds.height);
  camera.lookAt(bounds.centre);
  camera.updateProjectionMatrix();
  renderer.setSize(width, height, false);
  renderer.setClearColor(new Color("#000000"), 0);
  scene.add(figure.group);
  renderer.render(scene, camera);
  scene.remove(figure.group);
  const address = renderer.domElement.toDataURL("image/png");
  const byKey = pictures.get(shot) ?? new Map<string, string>();
  byKey.set(`${frame}/${width}/${height}`, address);
  pictures.set(shot, byKey);
  return address;
}

function viewDirection(shot: Shot, player: { worlds: Float64Array; controlIndex: ReadonlyMap<string, number> }): Vector3 {
  const camera = player.controlIndex.get("shot-camera");
  if (camera === undefined || shot.set !== "landing") return new Vector3(0.5, 0.15, 0.85).normalize();
  return new Vector3(player.worlds[camera * 16 + 8], 0.06, player.worlds[camera * 16 + 10]).normalize();
}

/** Extent of the posed figure, props of the set left out, with room for its flesh. */
function boundsOf(shot: Shot, worlds: Float64Array): { centre: Vector3; width: number; height: number } {
  const low = new Vector3(Infinity, Infinity, Infinity);
  const high = new Vector3(-Infinity, -Infinity, -Infinity);
  shot.rig.controls.forEach((control, i) => {
    if (control.role !== "figure" || control.part === "root") return;
    const at = new Vector3(worlds[i * 16 + 12], worlds[i * 16 + 13], worlds[i * 16 + 14]);
    low.min(at);
    high.max(at);
  });
  const centre = low.clone().add(high).multiplyScalar(0.5);
  const height = Math.max(high.y - low.y, 1e-3);
  const width = Math.hypot(high.x - low.x, high.z - low.z);
  return { centre, width: width + height * 0.24, height: height * 1.24 };
}
