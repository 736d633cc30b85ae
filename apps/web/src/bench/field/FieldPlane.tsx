import type { FieldPose } from "@kneader/core";
import { spotWeights } from "@kneader/core";
import { useRef } from "react";
import { followPointer } from "../followPointer.ts";

interface Spot {
  readonly x: number;
  readonly y: number;
}

interface FieldPlaneProps {
  poses: readonly FieldPose[];
  spot: Spot;
  picked: string | null;
  disabled: boolean;
  /** The way the spot goes over the shot, if it has one. */
  path?: readonly Spot[];
  /** The spot's path is being recorded, or counted in, which is said: a press anywhere takes the spot. */
  said?: string | null;
  onPick(id: string): void;
  /** The spot is dragged; `last`: it was let go. */
  onSpot(spot: Spot, last: boolean): void;
  onSpotCancel?(): void;
  /** A pose is dragged; `last`: it was let go. */
  onMove(id: string, to: Spot, last: boolean): void;
}

/** How far beyond the poses' own square the plane reaches, as a share of it. */
const EDGE = 0.12;
const SIDE = 200;
const STEP = 0.02;

const toScreen = (value: number) => ((value + EDGE) / (1 + 2 * EDGE)) * SIDE;
const toPlane = (share: number) => Math.min(1 + EDGE, Math.max(-EDGE, share * (1 + 2 * EDGE) - EDGE));
const rounded = (value: number) => Math.round(value * 1000) / 1000;

/** Poses on a plane and the spot among them: a line to each, as strong as it counts. */
export function FieldPlane(props: FieldPlaneProps) {
  const { poses, spot, picked, disabled, path, said, onPick, onSpot, onSpotCancel, onMove } = props;
  const plane = useRef<SVGSVGElement>(null);
  const weights = poses.length > 0 ? spotWeights(poses, spot) : [];
  const placeOf = (event: { clientX: number; clientY: number }): Spot => {
    const box = plane.current?.getBoundingClientRect();
    if (!box) return spot;
    return { x: rounded(toPlane((event.clientX - box.left) / box.width)), y: rounded(toPlane((event.clientY - box.top) / box.height)) };
  };
  const dragSpot = (event: React.PointerEvent) => {
    if (disabled || event.button !== 0) return;
    let at = placeOf(event);
    onSpot(at, false);
    followPointer({
      move(now) {
        at = placeOf(now);
        onSpot(at, false);
      },
      done: () => onSpot(at, true),
      cancel: () => onSpotCancel?.(),
    });
  };
  const dragPose = (pose: FieldPose) => (event: React.PointerEvent) => {
    if (event.button !== 0 || said) return;
    event.stopPropagation();
    onPick(pose.id);
    if (disabled) return;
    const start = event;
    let at: Spot | null = null;
    followPointer({
      move(now) {
        if (at === null && Math.hypot(now.clientX - start.clientX, now.clientY - start.clientY) <= 3) return;
        at = placeOf(now);
        onMove(pose.id, at, false);
      },
      done: () => at && onMove(pose.id, at, true),
      cancel: () => at && onMove(pose.id, { x: pose.x, y: pose.y }, true),
    });
  };
  const key = (event: React.KeyboardEvent, from: Spot, put: (to: Spot) => void) => {
    const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[event.key];
    if (!by || disabled) return;
    event.preventDefault();
    event.stopPropagation();
    put({ x: rounded(from.x + by[0]), y: rounded(from.y + by[1]) });
  };
  return (
    <div className="field-frame">
      <svg
        ref={plane}
        className="field-plane"
        viewBox={`0 0 ${SIDE} ${SIDE}`}
        role="group"
        aria-label="Pose field"
        onPointerDown={dragSpot}
      >
        {path && path.length > 1 && (
          <polyline className="field-path" points={path.map(({ x, y }) => `${toScreen(x)},${toScreen(y)}`).join(" ")} />
        )}
        {poses.map(({ id, x, y }, i) => (
          <line
            key={id}
            className="field-share"
            x1={toScreen(spot.x)}
            y1={toScreen(spot.y)}
            x2={toScreen(x)}
            y2={toScreen(y)}
            strokeWidth={0.5 + 7 * weights[i]}
          />
        ))}
        {poses.map((pose, i) => (
          <g
            key={pose.id}
            className={`field-pose ${picked === pose.id ? "picked" : ""}`}
            transform={`translate(${toScreen(pose.x)} ${toScreen(pose.y)})`}
            role="button"
            tabIndex={0}
            aria-pressed={picked === pose.id}
            aria-label={`Pose ${pose.name}, counts ${Math.round(weights[i] * 100)} %`}
            onPointerDown={dragPose(pose)}
            onFocus={() => onPick(pose.id)}
            onKeyDown={(event) => key(event, pose, (to) => onMove(pose.id, to, true))}
          >
            <rect x={-7} y={-7} width={14} height={14} rx={4} />
            <text y={pose.y > 0.5 ? 19 : -12} textAnchor="middle">
              {pose.name.length > 14 ? `${pose.name.slice(0, 13)}…` : pose.name}
            </text>
          </g>
        ))}
        <circle
          className="field-spot"
          cx={toScreen(spot.x)}
          cy={toScreen(spot.y)}
          r={8}
          role="slider"
          tabIndex={0}
          aria-label="Spot"
          aria-valuenow={Math.round(spot.x * 100)}
          aria-valuetext={poses.map(({ name }, i) => `${name} ${Math.round(weights[i] * 100)} %`).join(", ")}
          onKeyDown={(event) => key(event, spot, (to) => onSpot(to, true))}
        />
      </svg>
      {said && <span className="field-said">{said}</span>}
    </div>
  );
}
