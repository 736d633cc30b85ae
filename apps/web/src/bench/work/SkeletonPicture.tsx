import { type Control, skeletonOf } from "@kneader/core";
import { useMemo } from "react";

const WIDTH = 92;
const HEIGHT = 132;

/** A figure at rest from the front, drawn as its bones, with one of its controls marked. */
export function SkeletonPicture({ controls, at }: { controls: readonly Control[]; at: string | null }) {
  const drawn = useMemo(() => draw(controls), [controls]);
  const place = at === null ? undefined : drawn.places.get(at);
  return (
    <svg className="skeleton-picture" width={WIDTH} height={HEIGHT} role="img" aria-label="The figure of the action">
      <path d={drawn.path} />
      {place && <circle cx={place[0]} cy={place[1]} r={5} />}
    </svg>
  );
}

function draw(controls: readonly Control[]): { path: string; places: Map<string, readonly [number, number]> } {
  const skeleton = skeletonOf({ controls });
  const own = controls.map(({ role }) => role === "figure");
  const points = controls.map((_, i) => skeleton.place(i));
  const shown = points.filter((_, i) => own[i]);
  const [xs, ys] = [shown.map((p) => p[0]), shown.map((p) => p[1])];
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((WIDTH - 12) / Math.max(1e-6, right - left), (HEIGHT - 12) / Math.max(1e-6, high - low));
  const at = (p: Float64Array): readonly [number, number] => [
    WIDTH / 2 + (p[0] - (left + right) / 2) * scale,
    HEIGHT / 2 - (p[1] - (low + high) / 2) * scale,
  ];
  const places = new Map(controls.flatMap(({ id }, i) => (own[i] ? [[id, at(points[i])] as const] : [])));
  const path = controls
    .flatMap((_, i) => {
      const parent = skeleton.parents[i];
      if (!own[i] || parent < 0 || !own[parent]) return [];
      const [a, b] = [at(points[parent]), at(points[i])];
      return [`M${a[0].toFixed(1)} ${a[1].toFixed(1)}L${b[0].toFixed(1)} ${b[1].toFixed(1)}`];
    })
    .join("");
  return { path, places };
}
