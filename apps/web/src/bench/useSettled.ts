import type { Shot } from "@kneader/core";
import { useRef } from "react";
import { usePointerHeld } from "./followPointer.ts";

/** Is a shot so long that drawing all of it anew at every step of a drag would be felt? */
export function isLong({ range }: Pick<Shot, "range">): boolean {
  return range.end - range.start > 400;
}

/** A value as it comes; when `heavy`, as it was before a drag began, until what is dragged is let go. */
export function useSettled<Value>(value: Value, heavy: boolean): Value {
  const held = usePointerHeld((state) => state.held);
  const settled = useRef(value);
  if (!held || !heavy) settled.current = value;
  return settled.current;
}
