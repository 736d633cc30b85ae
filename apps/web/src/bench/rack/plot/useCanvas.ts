import { type RefObject, useEffect, useRef } from "react";

/** A canvas of a size in CSS pixels, sharp on every screen, drawn anew whenever its owner renders. */
export function useCanvas(
  width: number,
  height: number,
  draw: (context: CanvasRenderingContext2D) => void,
): RefObject<HTMLCanvasElement | null> {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
    // Setting a size, even the same one, clears the canvas and costs a fresh buffer.
    if (element.width !== w) element.width = w;
    if (element.height !== h) element.height = h;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    draw(context);
  });
  return canvas;
}
