import { controlById, figureControls, type Player, type Rig, type Shot, sideOf } from "@kneader/core";
import { Box3, Vector3 } from "three";
import type { FigureModel } from "./figures/figureModel.ts";
import { playerFor } from "./players.ts";

type Place = [number, number, number];

/** Where a figure is over a shot. */
export interface Framing {
  /** All that is drawn of it, over the whole shot. */
  readonly box: Box3;
  readonly centre: Place;
  /** About half its largest extent. */
  readonly radius: number;
  readonly floor: number;
  /** Where it faces at the beginning, level, of length 1. */
  readonly facing: Place;
}

interface Kept {
  readonly framing: Framing;
  /** What is drawn was measured, and not only where controls are. */
  readonly isMeasured: boolean;
}

const framings = new WeakMap<Rig, Kept>();

/** Frames that are looked at over a shot. */
const LOOKED_AT = 24;

/**
 * Where the figure is over the shot: what is drawn of it, its size, the lowest point and where it faces. Kept per rig, so that
 * edits do not shake the cameras; measured anew once the figure is there to be measured.
 */
export function framingOf(shot: Shot, figure: FigureModel | null = null): Framing {
  const kept = framings.get(shot.rig);
  if (kept && (kept.isMeasured || !figure)) return kept.framing;
  const player = playerFor(shot);
  const box = new Box3();
  const { start, end } = shot.range;
  const own = figureControls(shot.rig).map(({ id }) => player.controlIndex.get(id) as number);
  const frames = Math.min(LOOKED_AT, Math.max(1, Math.round(end - start)));
  for (let n = 0; n <= frames; n++) {
    player.pose(start + ((end - start) * n) / frames);
    addOrigins(box, player, own);
    if (figure) addDrawn(box, player, figure);
  }
  const framing = framingFrom(box, facingOf(shot, player), shot.set === "landing" ? 0 : null);
  framings.set(shot.rig, { framing, isMeasured: figure !== null });
  return framing;
}

function framingFrom(box: Box3, facing: Place, floor: number | null): Framing {
  const size = box.getSize(new Vector3());
  return {
    box,
    centre: box.getCenter(new Vector3()).toArray() as Place,
    radius: Math.max(size.x, size.y, size.z, 1e-4) * 0.55,
    floor: floor ?? box.min.y,
    facing,
  };
}

const spot = new Vector3();

function addOrigins(box: Box3, { worlds }: Player, controls: readonly number[]): void {
  for (const i of controls) box.expandByPoint(spot.fromArray(worlds, i * 16 + 12));
}

function addDrawn(box: Box3, player: Player, figure: FigureModel, only?: ReadonlySet<string>): void {
  figure.follow(player);
  figure.group.updateMatrixWorld();
  figure.measure(box, only);
}

/** A turn nearer to a quarter than this (radians) is one. */
const STRAIGHT = (20 * Math.PI) / 180;

/** Level, square to the way from right to left at the beginning; along Z where no sides are known. */
function facingOf({ rig, range }: Shot, player: Player): Place {
  player.pose(range.start);
  const way = [0, 0];
  for (const { id, name, partner } of figureControls(rig)) {
    const other = partner === null || partner === id ? undefined : controlById(rig, partner);
    if (!other || sideOf(name) !== "left") continue;
    const [l, r] = [id, other.id].map((one) => (player.controlIndex.get(one) as number) * 16 + 12);
    way[0] += player.worlds[l] - player.worlds[r];
    way[1] += player.worlds[l + 2] - player.worlds[r + 2];
  }
  const length = Math.hypot(...way);
  if (!(length > 1e-9)) return [0, 0, 1];
  // Left, seen from above, is a quarter turn before the way it faces.
  const heading = Math.atan2(-way[1], way[0]);
  const quarter = Math.round(heading / (Math.PI / 2)) * (Math.PI / 2);
  const turned = Math.abs(heading - quarter) < STRAIGHT ? quarter : heading;
  return [Math.sin(turned), 0, Math.cos(turned)].map((v) => (Math.abs(v) < 1e-12 ? 0 : v)) as Place;
}

/** Around some controls with what hangs on them, or around the figure, as a posed player has them: the box, its middle and radius. */
export function boundsOf(
  rig: Rig,
  player: Player,
  picked: readonly string[],
  figure: FigureModel | null = null,
): { box: Box3; centre: Place; radius: number } {
  const meant = new Set(
    picked.length > 0
      ? picked
      : figureControls(rig)
          .filter(({ role }) => role !== "prop")
          .map(({ id }) => id),
  );
  for (const { id, parent } of rig.controls) if (parent !== null && picked.length > 0 && meant.has(parent)) meant.add(id);
  const box = new Box3();
  const whole = new Box3();
  const indices = (wanted: (id: string, role: string) => boolean) =>
    rig.controls.flatMap(({ id, role }, i) => (wanted(id, role) ? [i] : []));
  addOrigins(
    box,
    player,
    indices((id) => meant.has(id)),
  );
  addOrigins(
    whole,
    player,
    indices((_, role) => role === "figure"),
  );
  const before = box.clone();
  if (figure) addDrawn(box, player, figure, meant);
  // Where nothing is drawn of it there is room for flesh all the same.
  if (box.equals(before)) box.expandByScalar(0.05 * Math.max(...whole.getSize(new Vector3()).toArray().filter(Number.isFinite), 1e-3));
  return { box, centre: box.getCenter(new Vector3()).toArray() as Place, radius: box.getSize(new Vector3()).length() / 2 };
}
