import { type RefObject, useEffect, useState } from "react";

/** So many lines are drawn above and below those in sight. */
const SPARE = 6;

/** Which of many lines of one height can be seen in a box that scrolls, so that only those are drawn. */
export function useRowsInSight(holder: RefObject<HTMLElement | null>, total: number, height: number): { first: number; count: number } {
  const [view, setView] = useState({ top: 0, height: 600 });
  useEffect(() => {
    const box = holder.current;
    if (!box) return;
    const look = () => setView({ top: box.scrollTop, height: box.clientHeight });
    look();
    const observer = new ResizeObserver(look);
    observer.observe(box);
    box.addEventListener("scroll", look);
    return () => {
      observer.disconnect();
      box.removeEventListener("scroll", look);
    };
  }, [holder]);
  const first = Math.max(0, Math.min(total, Math.floor(view.top / height)) - SPARE);
  return { first, count: Math.ceil(view.height / height) + 2 * SPARE };
}
