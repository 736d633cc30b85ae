import { type Rig, sidesOf } from "@kneader/core";
import { useMemo } from "react";
import { restPlaces } from "./restPlaces.ts";
import type { RigRow } from "./rigRows.ts";

const WIDTH = 220;
const HEIGHT = 260;
const EDGE = 16;

/** The figure as it rests, seen from the front: what is left is round, what is right square, what stands between a bar. */
export function SideFigure({
  rig,
  rows,
  picked,
  onPick,
}: {
  rig: Rig;
  rows: readonly RigRow[];
  picked: string | null;
  onPick(id: string): void;
}) {
  const { axis, at } = sidesOf(rig);
  const { spots, middle } = useMemo(() => laidOut(rig, rows), [rig, rows]);
  return (
    <svg
      className="side-figure"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`The figure at rest; left and right along ${axis.toUpperCase()}, the middle at ${at}`}
    >
      <line className="side-middle" x1={middle} x2={middle} y1={4} y2={HEIGHT - 4} />
      {spots.map(
        ({ row, x, y, above }) => above && <line key={row.control.id} className="side-bone" x1={x} y1={y} x2={above.x} y2={above.y} />,
      )}
      {spots.map(({ row: { control, side, problem }, x, y }) => {
        const look = `side-spot ${side} ${problem ? "problem" : ""} ${picked === control.id || (picked !== null && control.partner === picked) ? "picked" : ""}`;
        const shared = { className: look, onClick: () => onPick(control.id) };
        return (
          <g key={control.id}>
            <title>{control.name}</title>
            {side === "left" && <circle cx={x} cy={y} r={5} {...shared} />}
            {side === "right" && <rect x={x - 4.5} y={y - 4.5} width={9} height={9} {...shared} />}
            {side === "middle" && <rect x={x - 5} y={y - 2.5} width={10} height={5} rx={2.5} {...shared} />}
          </g>
        );
      })}
    </svg>
  );
}

interface Spot {
  readonly row: RigRow;
  readonly x: number;
  readonly y: number;
  readonly above: { readonly x: number; readonly y: number } | null;
}

/** Seen along the floor and across the side axis, so large that all fits. What is no part of the figure is left away. */
function laidOut(rig: Rig, rows: readonly RigRow[]): { spots: Spot[]; middle: number } {
  const { axis, at } = sidesOf(rig);
  const across = ["x", "y", "z"].indexOf(axis);
  const up = axis === "y" ? 0 : 1;
  const places = restPlaces(rig);
  const index = new Map(rig.controls.map(({ id }, i) => [id, i]));
  const shown = rows
    .filter(({ control }) => control.role === "figure")
    .map((row) => ({ row, place: places[index.get(row.control.id) as number] }));
  const wide = Math.max(1e-9, ...shown.map(({ place }) => Math.abs(place[across] - at)));
  const heights = shown.map(({ place }) => place[up]);
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  const scale = Math.min((WIDTH / 2 - EDGE) / wide, (HEIGHT - 2 * EDGE) / Math.max(1e-9, high - low));
  // Left stands on the right, as of somebody who looks at us.
  const spotOf = (place: readonly number[]) => ({
    x: WIDTH / 2 + (place[across] - at) * scale,
    y: HEIGHT / 2 - (place[up] - (low + high) / 2) * scale,
  });
  const byId = new Map(shown.map(({ row, place }) => [row.control.id, spotOf(place)]));
  return {
    middle: WIDTH / 2,
    spots: shown.map(({ row, place }) => ({ row, ...spotOf(place), above: byId.get(row.control.parent ?? "") ?? null })),
  };
}
