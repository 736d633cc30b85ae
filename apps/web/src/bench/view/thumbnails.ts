import type { Player, Shot } from "@kneader/core";
import { AmbientLight, Color, DirectionalLight, PerspectiveCamera, Scene, Vector3, WebGLRenderer } from "three";
import { Latest } from "../latest.ts";
import { buildFigure } from "./figures/buildFigure.ts";
import type { FigureModel } from "./figures/figureModel.ts";
import { type LoadedAsset, releaseAsset, takeAsset } from "./figures/loadAsset.ts";
import { shotCameraOf } from "./cameras.ts";
import { playerFor } from "./players.ts";

/** One small renderer for every picture of the figure outside the view. */
interface Studio {
  renderer: WebGLRenderer;
  scene: Scene;
  camera: PerspectiveCamera;
  /** The figures drawn last, the latest at the end. */
  figures: Map<Shot["rig"], { readonly figure: FigureModel; readonly hash: string | null }>;
}

/** As many figures are kept on the graphics card for pictures. */
const MOST_FIGURES = 4;

/** Files whose scenes are held for pictures, by hash; null: one that cannot be drawn. */
const scenes = new Map<string, LoadedAsset | null>();

/** See to it that a shot's character can be drawn: pictures of it wait for the file it came from. */
export async function prepareFigure({ asset }: Shot): Promise<void> {
  if (!asset?.isDrawn || scenes.has(asset.hash)) return;
  const loaded = await takeAsset(asset.hash).catch(() => null);
  if (scenes.has(asset.hash)) {
    if (loaded) releaseAsset(asset.hash);
    return;
  }
  scenes.set(asset.hash, loaded);
}

function figureOf(figures: Studio["figures"], shot: Shot): FigureModel {
  const { rig, asset } = shot;
  const figure = figures.get(rig)?.figure ?? buildFigure(shot, (asset?.isDrawn && scenes.get(asset.hash)) || null);
  figures.delete(rig);
  figures.set(rig, { figure, hash: asset?.hash ?? null });
  const [[oldest, kept]] = figures;
  if (figures.size > MOST_FIGURES) {
    kept.figure.dispose();
    figures.delete(oldest);
    letGoOfScenes(figures);
  }
  return figure;
}

/** Scenes of which no figure is kept any more are not needed for pictures. */
function letGoOfScenes(figures: Studio["figures"]): void {
  const used = new Set([...figures.values()].map(({ hash }) => hash));
  for (const [hash, scene] of scenes)
    if (!used.has(hash)) {
      scenes.delete(hash);
      if (scene) releaseAsset(hash);
    }
}

let studio: Studio | null | undefined;

function openStudio(): Studio | null {
  if (studio !== undefined) return studio;
  try {
    const renderer = new WebGLRenderer({ alpha: true, antialias: !navigator.webdriver, preserveDrawingBuffer: true });
    renderer.debug.checkShaderErrors = false;
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

const pictures = new Latest<Shot, Map<string, string>>(24);

/** A picture kept from before, if there is one. */
function keptPicture(shot: Shot, frame: number, width: number, height: number): string | undefined {
  return pictures.get(shot)?.get(`${frame}/${width}/${height}`);
}

/**
 * Draw the figure at a frame as seen by the shot camera's direction, filling a small picture whatever
 * its reach. Returns a data address, or null without WebGL. A character from a file is there after `prepareFigure`.
 */
export function drawPicture(shot: Shot, frame: number, width: number, height: number): string | null {
  const kept = keptPicture(shot, frame, width, height);
  if (kept) return kept;
  const open = openStudio();
  if (!open) return null;
  const { renderer, scene, camera, figures } = open;
  const figure = figureOf(figures, shot);
  const player = playerFor(shot);
  player.pose(frame);
  figure.follow(player);
  const bounds = boundsOf(shot, player.worlds);
  for (const { object, control } of figure.props) {
    // A prop that hangs somewhere else would float in the picture, as the set is not drawn.
    const at = player.controlIndex.get(control) ?? 0;
    const away = new Vector3().fromArray(player.worlds, at * 16 + 12).distanceTo(bounds.centre);
    object.visible = away < bounds.height * 0.7;
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

function viewDirection(shot: Shot, player: Player): Vector3 {
  const camera = shotCameraOf(shot, player);
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
