import { useEffect, useRef } from "react";
import { useTimeAxis } from "../timeAxis.ts";
import { DetailHead } from "./detail/DetailHead.tsx";
import { DetailTrays } from "./detail/DetailTrays.tsx";
import { DriftRow } from "./drift/DriftRow.tsx";
import { PassTray } from "./PassTray.tsx";
import { Playhead } from "./Playhead.tsx";
import { PoseTray } from "./poses/PoseTray.tsx";
import { Ruler } from "./Ruler.tsx";

/** Everything that has a time axis: trays under one ruler, one playhead through all of them. */
export function Rack() {
  const rack = useRef<HTMLElement>(null);

  useEffect(() => {
    const element = rack.current;
    if (!element) return;
    const measure = () => {
      const plot = element.querySelector(".ruler-plot");
      if (plot) useTimeAxis.getState().setWidth(plot.clientWidth);
    };
    const watch = new ResizeObserver(measure);
    watch.observe(element);
    measure();
    return () => watch.disconnect();
  }, []);

  return (
    <section className="panel rack" aria-label="Rack" ref={rack} onDragStart={(event) => event.preventDefault()}>
      <Ruler />
      <PoseTray />
      <PassTray />
      <DriftRow />
      <DetailHead />
      <DetailTrays />
      <Playhead />
    </section>
  );
}
