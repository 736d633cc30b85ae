import { useEffect, useRef } from "react";
import { clock } from "../clock.ts";
import { useTimeAxis, xOf } from "../timeAxis.ts";

/** The one line through all trays. Moved directly, without React, while the shot plays. */
export function Playhead() {
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const place = () => {
      if (!line.current) return;
      const axis = useTimeAxis.getState();
      const x = xOf(axis, clock.frame);
      line.current.style.transform = `translateX(${x}px)`;
      line.current.style.visibility = x < -1 || x > axis.width + 1 ? "hidden" : "visible";
      const flag = line.current.firstElementChild;
      if (flag) flag.textContent = String(clock.frame);
    };
    place();
    const stops = [clock.subscribe(place), useTimeAxis.subscribe(place)];
    return () => {
      for (const stop of stops) stop();
    };
  }, []);
  return (
    <div className="playhead-lane" aria-hidden>
      <div className="playhead" ref={line}>
        <span className="mono" />
      </div>
    </div>
  );
}
