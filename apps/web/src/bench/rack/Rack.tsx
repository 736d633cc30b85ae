import { Button, Segmented, Tooltip } from "antd";
import { Maximize } from "lucide-react";
import { useEffect, useRef } from "react";
import { type Detail, usePreferences } from "../../app/preferences.ts";
import { useReadOnly } from "../documents.ts";
import { tangentPicked } from "../edits.ts";
import { fitShown } from "../fit.ts";
import { pickedKeyCount, useSelection } from "../selection.ts";
import { useTimeAxis } from "../timeAxis.ts";
import { ChannelList } from "./ChannelList.tsx";
import { CurveTray } from "./curves/CurveTray.tsx";
import { KeyLegend } from "./curves/KeyLegend.tsx";
import { PassTray } from "./PassTray.tsx";
import { Playhead } from "./Playhead.tsx";
import { PoseTray } from "./PoseTray.tsx";
import { Ruler } from "./Ruler.tsx";
import { SheetTray } from "./sheet/SheetTray.tsx";
import { SpacingTray } from "./spacing/SpacingTray.tsx";

const tangents = ["auto", "smooth", "flat", "linear", "stepped", "free"] as const;

/** Everything that has a time axis: trays under one ruler, one playhead through all of them. */
export function Rack() {
  const rack = useRef<HTMLElement>(null);
  const keys = useSelection((state) => state.keys);
  const readOnly = useReadOnly();
  const count = pickedKeyCount(keys);
  const { detail, set } = usePreferences();

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
      <div className="detail-head">
        <span className="detail-gutter">
          <Segmented
            size="small"
            aria-label="Detail"
            value={detail}
            options={[
              { value: "curves", label: "Curves" },
              { value: "sheet", label: "Sheet" },
              { value: "spacing", label: "Spacing" },
            ]}
            onChange={(value) => set({ detail: value as Detail })}
          />
        </span>
        <div className="detail-tools">
          {detail !== "spacing" && (
            <Segmented
              size="small"
              aria-label="Tangent of the picked keys"
              disabled={count === 0 || readOnly}
              value=""
              options={tangents.map((kind) => ({ value: kind, label: kind, title: `Make the picked keys ${kind}` }))}
              onChange={(kind) => tangentPicked(kind as (typeof tangents)[number])}
            />
          )}
          <span className="spring" />
          <Tooltip title="Fit (F)">
            <Button size="small" type="text" aria-label="Fit" icon={<Maximize size={15} />} onClick={fitShown} />
          </Tooltip>
        </div>
      </div>
      <div className="detail">
        {detail === "sheet" && <SheetTray />}
        {detail === "spacing" && <SpacingTray />}
        {detail === "curves" && (
          <>
            <div className="gutter">
              <ChannelList />
              <KeyLegend />
            </div>
            <CurveTray />
          </>
        )}
      </div>
      <Playhead />
    </section>
  );
}
