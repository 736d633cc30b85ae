import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { NumberField } from "../NumberField.tsx";

interface DialProps {
  value: number;
  min: number;
  max: number;
  /** The least and the most that can be typed. */
  least: number;
  most: number;
  step: number;
  label: string;
  onChange(value: number): void;
}

const SWEEP = 270;
const RADIUS = 42;

function point(share: number, radius = RADIUS): [number, number] {
  const angle = ((135 + share * SWEEP) * Math.PI) / 180;
  return [60 + Math.cos(angle) * radius, 58 + Math.sin(angle) * radius];
}

function sweep(from: number, to: number): string {
  const [x0, y0] = point(from);
  const [x1, y1] = point(to);
  return `M${x0} ${y0}A${RADIUS} ${RADIUS} 0 ${(to - from) * SWEEP > 180 ? 1 : 0} 1 ${x1} ${y1}`;
}

/** The strength dial: turned by dragging, or typed in its middle; goes past 100 %, and below zero where that means something. */
export function Dial({ value, min, max, least, most, step, label, onChange }: DialProps) {
  const face = useRef<HTMLDivElement>(null);
  const share = Math.min(1, Math.max(0, (value - min) / (max - min)));
  const none = -min / (max - min);
  const clamp = (next: number) => onChange(Math.min(max, Math.max(min, Math.round(next / step) * step)));
  const turn = (event: PointerEvent) => {
    const box = face.current?.getBoundingClientRect();
    if (!box) return;
    const angle = (Math.atan2(event.clientY - box.top - box.height * 0.52, event.clientX - box.left - box.width / 2) * 180) / Math.PI;
    clamp(min + (Math.min(SWEEP, Math.max(0, (angle - 135 + 720) % 360)) / SWEEP) * (max - min));
  };
  const key = (event: KeyboardEvent) => {
    const moves: Record<string, number> = {
      ArrowUp: step,
      ArrowRight: step,
      ArrowDown: -step,
      ArrowLeft: -step,
      PageUp: step * 5,
      PageDown: -step * 5,
    };
    if (event.key in moves) clamp(value + moves[event.key]);
    else if (event.key === "Home") clamp(min);
    else if (event.key === "End") clamp(max);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const [x, y] = point(share);
  return (
    <div className="dial-frame">
      <div
        ref={face}
        className="dial"
        role="slider"
        tabIndex={-1}
        aria-label={label}
        aria-valuenow={value}
        aria-valuemin={min}
        aria-valuemax={max}
        aria-valuetext={`${value} %`}
        onKeyDown={key}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          turn(event);
        }}
        onPointerMove={(event) => event.buttons > 0 && turn(event)}
      >
        <svg viewBox="0 0 120 112" aria-hidden>
          <path className="dial-track" d={sweep(0, 1)} />
          {share !== none && <path className="dial-fill" d={sweep(Math.min(none, share), Math.max(none, share))} />}
          <circle className="dial-knob" cx={x} cy={y} r={7} />
          <text className="dial-label" x={60} y={76} textAnchor="middle">
            {label}
          </text>
          <text className="dial-label" x={26} y={106} textAnchor="middle">
            {min}
          </text>
          <text className="dial-label" x={94} y={106} textAnchor="middle">
            {max}
          </text>
        </svg>
      </div>
      <NumberField
        className="dial-value"
        label={`${label}, percent`}
        title={`${label} in percent; may be typed past the ends of the dial`}
        value={value}
        decimals={0}
        suffix=" %"
        min={least}
        max={most}
        onCommit={onChange}
      />
    </div>
  );
}
