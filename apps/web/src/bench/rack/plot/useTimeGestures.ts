import { pickedCount } from "@kneader/core";
import { type RefObject, useEffect } from "react";
import { useSelection } from "../../selection.ts";
import { frameAt, panTime, useTimeAxis, zoomTime } from "../../timeAxis.ts";

let spaceHeld = false;
if (typeof window !== "undefined") {
  window.addEventListener("keydown", (event) => {
    if (event.code === "Space") spaceHeld = true;
  });
  window.addEventListener("keyup", (event) => {
    if (event.code === "Space") spaceHeld = false;
  });
}

const hasPicks = () => pickedCount(useSelection.getState().keys) > 0;

/** Does this press pan instead of pick? Space held; the middle button too, while no keys are picked. */
export function isPanPress(event: PointerEvent | React.PointerEvent): boolean {
  return (event.button === 1 && !hasPicks()) || (event.button === 0 && spaceHeld);
}

/** Does this press take the picked keys along from wherever it is? The middle button, while keys are picked. */
export function isCarryPress(event: PointerEvent | React.PointerEvent): boolean {
  return event.button === 1 && hasPicks();
}

/** Wheel zooms time at the pointer, a sideways wheel pans; Shift goes to `onValues`; Space drag (middle drag, while no keys are picked) pans. */
export function useTimeGestures(
  element: RefObject<HTMLElement | null>,
  onValues?: (factor: number, y: number) => void,
  onPanValues?: (pixels: number) => void,
): void {
  useEffect(() => {
    const target = element.current;
    if (!target) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = target.getBoundingClientRect();
      const axis = useTimeAxis.getState();
      if (event.shiftKey && onValues) {
        const amount = event.deltaY || event.deltaX;
        onValues(Math.exp(amount * 0.0015), event.clientY - box.top);
      } else if (Math.abs(event.deltaX) > Math.abs(event.deltaY)) panTime((event.deltaX / axis.width) * (axis.end - axis.start));
      else zoomTime(frameAt(axis, event.clientX - box.left), Math.exp(event.deltaY * 0.0015));
    };
    const down = (event: PointerEvent) => {
      if (!isPanPress(event)) return;
      event.preventDefault();
      let [x, y] = [event.clientX, event.clientY];
      const move = (now: PointerEvent) => {
        const axis = useTimeAxis.getState();
        panTime(((x - now.clientX) / axis.width) * (axis.end - axis.start));
        onPanValues?.(now.clientY - y);
        [x, y] = [now.clientX, now.clientY];
      };
      const up = () => {
        window.removeEventListener("pointermove", move);
        window.removeEventListener("pointerup", up);
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", up);
    };
    target.addEventListener("wheel", wheel, { passive: false });
    target.addEventListener("pointerdown", down);
    return () => {
      target.removeEventListener("wheel", wheel);
      target.removeEventListener("pointerdown", down);
    };
  }, [element, onValues, onPanValues]);
}
