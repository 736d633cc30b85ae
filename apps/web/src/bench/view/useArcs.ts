import type { Shot } from "@kneader/core";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { clock } from "../clock.ts";
import { isLong } from "../useSettled.ts";
import { useHovered } from "./hovered.ts";
import type { ArcOf } from "./stageProps.ts";
import { type Arcs, drawArcs } from "./tools/arcTool.ts";
import { markAt } from "./tools/markAt.ts";

/** A press that goes no further than this (pixels) is a click. */
const SLACK = 4;

/** The arcs of the picked controls. Their marks tell their frame under the pointer, and a click goes there. */
export function useArcs(shot: Shot, given: Shot, arcs: readonly ArcOf[]): { arcs: Arcs | null; isOnMark(): boolean } {
  const { camera, gl } = useThree();
  // The path of a long shot follows a drag only once it is let go.
  const of = isLong(shot) ? given : shot;
  const drawn = useMemo(() => (arcs.length > 0 ? drawArcs(of, arcs) : null), [arcs, of]);
  useEffect(() => () => drawn?.dispose(), [drawn]);
  const marks = useRef(drawn?.marks ?? []);
  marks.current = drawn?.marks ?? [];
  useEffect(() => {
    const canvas = gl.domElement;
    let pressed: { frame: number; x: number; y: number } | null = null;
    const pointed = (event: PointerEvent) => {
      const box = canvas.getBoundingClientRect();
      return markAt(marks.current, camera, box.width, box.height, event.clientX - box.left, event.clientY - box.top);
    };
    const move = (event: PointerEvent) => {
      const found = event.buttons === 0 ? pointed(event) : null;
      const { mark } = useHovered.getState();
      if (!found && !mark) return;
      useHovered.setState({ mark: found && { frame: found.mark.frame, name: found.mark.name, x: found.x, y: found.y } });
      if (found) canvas.style.cursor = "pointer";
    };
    const down = (event: PointerEvent) => {
      const found = event.button === 0 ? pointed(event) : null;
      pressed = found && { frame: found.mark.frame, x: event.clientX, y: event.clientY };
    };
    const up = (event: PointerEvent) => {
      if (pressed && Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) <= SLACK) clock.set(pressed.frame);
      pressed = null;
    };
    const leave = () => useHovered.setState({ mark: null });
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerdown", down, true);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("pointerleave", leave);
    return () => {
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerdown", down, true);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointerleave", leave);
      leave();
    };
  }, [camera, gl]);
  return { arcs: drawn, isOnMark: () => useHovered.getState().mark !== null };
}
