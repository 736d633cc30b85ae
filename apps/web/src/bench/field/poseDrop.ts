import { useCallback, useEffect, useRef } from "react";

/** Something that takes a pose dragged out of the pose tray. */
interface Target {
  readonly element: HTMLElement;
  take(frame: number, clientX: number, clientY: number): void;
}

const targets = new Set<Target>();

/** What is under the pointer and takes poses. */
export function poseTargetAt(clientX: number, clientY: number): Target | null {
  const under = document.elementFromPoint(clientX, clientY);
  for (const target of targets) if (under && target.element.contains(under)) return target;
  return null;
}

/** Let an element take poses that are dragged out of the pose tray, for as long as it is there. */
export function usePoseTarget(disabled: boolean, take: Target["take"]): (element: HTMLElement | null) => void {
  const latest = useRef(take);
  latest.current = take;
  const registered = useRef<Target | null>(null);
  useEffect(
    () => () => {
      if (registered.current) targets.delete(registered.current);
    },
    [],
  );
  return useCallback(
    (element: HTMLElement | null) => {
      if (registered.current) targets.delete(registered.current);
      registered.current = element && !disabled ? { element, take: (...where) => latest.current(...where) } : null;
      if (registered.current) targets.add(registered.current);
    },
    [disabled],
  );
}
