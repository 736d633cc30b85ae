import type { Player, Shot } from "@kneader/core";
import { AmbientLight, Box3, Color, DirectionalLight, PerspectiveCamera, Scene, Vector3, WebGLRenderer } from "three";
import { Latest } from "../latest.ts";
import { buildFigure } from "./figures/buildFigure.ts";
import type { FigureModel } from "./figures/figureModel.ts";
import { type LoadedAsset, releaseAsset, takeAsset } from "./figures/loadAsset.ts";
import { shotCameraOf } from "./cameras.ts";
import { fitDistance } from "./fitBox.ts";
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
  const bounds = boundsOf(shot, player, figure);
  for (const { object, control } of figure.props) {
    // A prop that hangs somewhere else would float in the picture, as the set is not drawn.
    const at = player.controlIndex.get(control) ?? 0;
    const away = new Vector3().fromArray(player.worlds, at * 16 + 12).distanceTo(bounds.centre);
    object.visible = away < bounds.size * 0.7;
  }
  camera.aspect = width / height;
  const away = viewDirection(shot, player);
  const distance = fitDistance(bounds.box, away, camera.fov, camera.aspect);
  camera.position.copy(bounds.centre).addScaledVector(away, distance);
  camera.near = Math.max(distance - 2 * bounds.size, distance * 0.01);
  camera.far = distance + 2 * bounds.size;
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

/** What is drawn of the posed figure, things it handles left out: its box, middle and largest side. */
function boundsOf({ rig }: Shot, player: Player, figure: FigureModel): { box: Box3; centre: Vector3; size: number } {
  const box = new Box3();
  figure.group.updateMatrixWorld();
  figure.measure(box);
  if (box.isEmpty())
    rig.controls.forEach(({ role, part }, i) => {
      if (role === "figure" && part !== "root") box.expandByPoint(new Vector3().fromArray(player.worlds, i * 16 + 12));
    });
  const size = Math.max(...box.getSize(new Vector3()).toArray(), 1e-4);
  // What has no width of its own is seen all the same.
  if (size <= 1e-4) box.expandByScalar(0.5);
  return { box, centre: box.getCenter(new Vector3()), size };
}
