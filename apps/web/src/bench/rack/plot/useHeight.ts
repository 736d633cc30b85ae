import { type RefObject, useEffect, useState } from "react";

/** The height of an element in pixels, followed as it changes. */
export function useHeight(element: RefObject<HTMLElement | null>): number {
  const [height, setHeight] = useState(300);
  useEffect(() => {
    const target = element.current;
    if (!target) return;
    const measure = () => target.clientHeight > 0 && setHeight(target.clientHeight);
    const watch = new ResizeObserver(measure);
    watch.observe(target);
    measure();
    return () => watch.disconnect();
  }, [element]);
  return height;
}
