import { useEffect, useRef } from "react";
import { useShownPart } from "../documents.ts";
import { usePointerHeld } from "../followPointer.ts";
import { fitTime, isFitted, useTimeAxis } from "../timeAxis.ts";
import { DetailHead } from "./detail/DetailHead.tsx";
import { DetailTrays } from "./detail/DetailTrays.tsx";
import { DriftRow } from "./drift/DriftRow.tsx";
import { PassTray } from "./passes/PassTray.tsx";
import { Playhead } from "./Playhead.tsx";
import { PoseTray } from "./poses/PoseTray.tsx";
import { LaySpan } from "../drawer/LaySpan.tsx";
import { StrainTray } from "./strain/StrainTray.tsx";
import { TieDrag } from "./ties/TieDrag.tsx";
import { TieTray } from "./ties/TieTray.tsx";
import { Ruler } from "./Ruler.tsx";

/** Everything that has a time axis: trays under one ruler, one playhead through all of them. Slim, it has no detail. */
export function Rack({ slim }: { slim: boolean }) {
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

  // A shot that was seen from end to end still is when it grows or shrinks; not while something is dragged.
  const range = useShownPart((shot) => shot.range);
  const held = usePointerHeld((state) => state.held);
  const seen = useRef(range);
  useEffect(() => {
    if (held) return;
    const before = seen.current;
    seen.current = range;
    if ((before.start !== range.start || before.end !== range.end) && isFitted(before.start, before.end)) fitTime(range.start, range.end);
  }, [range, held]);

  return (
    <section className="panel rack" aria-label="Rack" ref={rack} onDragStart={(event) => event.preventDefault()}>
      <Ruler />
      <PoseTray />
      <PassTray />
      <TieTray slim={slim} />
      {!slim && (
        <>
          <StrainTray />
          <DriftRow />
          <DetailHead />
          <DetailTrays />
        </>
      )}
      <Playhead />
      <TieDrag />
      <LaySpan />
    </section>
  );
}
