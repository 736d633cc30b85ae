import { endMotion, framesPerSecond, limbEnds, operations, type PlantSettings, type Shot } from "@kneader/core";
import { useMemo } from "react";
import type { Palette } from "../../../app/theme.ts";
import { xOf } from "../../timeAxis.ts";
import { playerFor } from "../../view/players.ts";
import { useWork } from "../../work/workStore.ts";

/** What is looked at while contacts are found: the thresholds, how high the end is, and what was found. */
export interface ContactView {
  /** Of the fastest step shown: where the threshold of speed lies, a share; may be past 1. */
  readonly speed: number;
  /** Of the highest place: the same for height. */
  readonly height: number;
  /** Heights frame by frame as shares of the highest, from `start` on. */
  readonly heights: Float64Array;
  readonly start: number;
  readonly contacts: readonly { readonly start: number; readonly end: number }[];
}

/** The end whose contacts are shown where nothing is picked, while they are being found. */
export function endToShow(shot: Shot): string | null {
  return limbEnds(shot.rig, "feet")[0]?.id ?? null;
}

export const useFindsContacts = () => useWork((state) => state.operation === operations.plantEnds.id && state.settings.find === "found");

/** Null unless contacts are being found and the control is an end they are found for. */
export function useContactView(shot: Shot, control: string | null, fastest: number): ContactView | null {
  const finds = useFindsContacts();
  const settings = useWork((state) => state.settings);
  const found = useWork((state) => state.outcome?.shot);
  return useMemo(() => {
    if (!finds || control === null) return null;
    const player = playerFor(shot);
    const at = player.controlIndex.get(control);
    if (at === undefined) return null;
    const { start, end } = shot.range;
    const places = new Float64Array(3 * Math.max(0, Math.floor(end - start) + 1));
    for (let n = 0; 3 * n < places.length; n++) {
      player.pose(start + n);
      places.set(player.worlds.subarray(16 * at + 12, 16 * at + 15), 3 * n);
    }
    const fps = framesPerSecond(shot.rate);
    const { heights } = endMotion(places, start, fps);
    const highest = Math.max(1e-9, ...heights);
    const unit = shot.unitMetres === null ? 1 : shot.unitMetres * 1000;
    const tie = found?.constraints.find(({ kind, settings: told }) => kind === "plant" && (told as PlantSettings).limb.at(-1) === control);
    return {
      speed: ((Number(settings.speed) / fps) * unit) / Math.max(1e-9, fastest),
      height: Number(settings.height) / highest,
      heights: heights.map((value) => value / highest),
      start,
      contacts: tie ? (tie.settings as PlantSettings).contacts : [],
    };
  }, [finds, shot, control, settings, found, fastest]);
}

/** Draw contacts as shaded spans, heights as a dotted line, and a threshold each. */
export function drawContacts(
  context: CanvasRenderingContext2D,
  view: ContactView,
  axis: { start: number; end: number; width: number },
  floor: number,
  room: number,
  palette: Palette,
): void {
  context.fillStyle = `${palette.teal}22`;
  for (const { start, end } of view.contacts) context.fillRect(xOf(axis, start), floor - room, xOf(axis, end) - xOf(axis, start), room);
  const level = (share: number, colour: string, dash: readonly number[]) => {
    const y = Math.max(floor - room, floor - share * room);
    context.strokeStyle = colour;
    context.setLineDash([...dash]);
    context.beginPath();
    context.moveTo(0, y + 0.5);
    context.lineTo(axis.width, y + 0.5);
    context.stroke();
  };
  context.lineWidth = 1.5;
  level(view.speed, palette.teal, [6, 3]);
  level(view.height, palette.amber, [2, 3]);
  context.strokeStyle = palette.amber;
  context.beginPath();
  view.heights.forEach((share, n) => {
    const [x, y] = [xOf(axis, view.start + n), floor - share * room];
    if (n === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  });
  context.stroke();
  context.setLineDash([]);
}
