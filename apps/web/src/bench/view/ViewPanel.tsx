import { keyTimes } from "@kneader/core";
import { Segmented, Switch, Tooltip } from "antd";
import { lazy, memo, Suspense, useMemo } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { usePlaying, useRestingFrame } from "../clock.ts";
import { useReadOnly, useShown } from "../documents.ts";
import { useSelection } from "../selection.ts";
import { usePointerHeld } from "../followPointer.ts";
import { keyPoses } from "../keyPoses.ts";
import { isLong, useSettled } from "../useSettled.ts";
import type { CameraName } from "./cameras.ts";
import { PullBar } from "./PullBar.tsx";

const Stage = lazy(() => import("./Stage.tsx").then((module) => ({ default: module.Stage })));

const cameras: { value: CameraName; label: string }[] = [
  { value: "shot", label: "Shot" },
  { value: "front", label: "Front" },
  { value: "side", label: "Side" },
  { value: "free", label: "Free" },
];

/** A press on the figure picks; on nothing it leaves what is picked. */
function pick(control: string | null, add: boolean): void {
  const { controls, pickControls } = useSelection.getState();
  if (control === null) return;
  pickControls(add ? (controls.includes(control) ? controls.filter((id) => id !== control) : [...controls, control]) : [control]);
}

/** The figure, its cameras, ghosts and arc. */
export function ViewPanel() {
  const shot = useShown();
  const readOnly = useReadOnly();
  const { camera, ghosts, arc, room, theme, poseShare } = usePreferences();
  const picked = useSelection((state) => state.controls);
  const layer = useSelection((state) => state.layer);
  const playing = usePlaying();
  const frame = useRestingFrame();

  // The stage follows a drag by itself; what stands around the figure does so once it is let go.
  const settled = useSettled(shot, true);
  const busy = usePointerHeld((state) => state.held) && isLong(shot);

  const neighbours = useMemo(() => {
    if (!ghosts || playing || busy) return [];
    const frames = keyPoses(settled, poseShare).map((pose) => pose.frame);
    // A key on every frame has no key poses to speak of; ghosts then stand six frames away.
    const dense = frames.length > (settled.range.end - settled.range.start) * 0.6;
    if (dense || frames.length < 2) return [frame - 6, frame + 6].filter((f) => f >= settled.range.start && f <= settled.range.end);
    const before = frames.filter((f) => f < frame).at(-1);
    const after = frames.find((f) => f > frame);
    return [before, after].filter((f): f is number => f !== undefined);
  }, [settled, ghosts, playing, busy, frame, poseShare]);

  const arcOf = useMemo(() => {
    if (!arc || picked.length === 0) return null;
    const control = picked[picked.length - 1];
    const channels = settled.rig.controls.find((c) => c.id === control)?.channels.map((channel) => `${control}.${channel}`) ?? [];
    return { control, keys: keyTimes(settled, layer, channels) };
  }, [arc, picked, settled, layer]);

  return (
    <section className="panel view" aria-label="View">
      <div className="view-stage">
        <Suspense fallback={<div className="empty">Setting the stage …</div>}>
          <Stage
            shot={settled}
            theme={theme}
            camera={camera}
            plain={room}
            ghosts={neighbours}
            picked={picked}
            arc={arcOf}
            onPick={pick}
            pulls={!readOnly}
          />
        </Suspense>
        <ViewBar hasSet={shot.set !== null} />
        <PullBar />
      </div>
    </section>
  );
}

/** By itself, so that nothing of it is drawn anew while the figure moves. */
const ViewBar = memo(function ViewBar({ hasSet }: { hasSet: boolean }) {
  const { camera, ghosts, arc, room, set } = usePreferences();
  return (
    <div className="view-bar">
      <Segmented size="small" aria-label="Camera" value={camera} options={cameras} onChange={(value) => set({ camera: value })} />
      <div className="view-switches">
        <Tooltip title="Neighbouring poses, pale">
          <label>
            <Switch size="small" checked={ghosts} onChange={(checked) => set({ ghosts: checked })} /> Ghosts
          </label>
        </Tooltip>
        <Tooltip title="Path of the picked control, a mark a frame">
          <label>
            <Switch size="small" checked={arc} onChange={(checked) => set({ arc: checked })} /> Arc
          </label>
        </Tooltip>
        {hasSet && (
          <Tooltip title="A plain room with a grid, to judge movement against something still">
            <label>
              <Switch size="small" checked={room} onChange={(checked) => set({ room: checked })} /> Room
            </label>
          </Tooltip>
        )}
      </div>
    </div>
  );
});
