import { sayError, type PoseMark, type Shot } from "@kneader/core";
import { App as AntApp } from "antd";
import { memo } from "react";
import { clock } from "../../clock.ts";
import { currentDocument, useDocuments, useReadOnly } from "../../documents.ts";
import { poseTargetAt } from "../../field/poseDrop.ts";
import { followPointer } from "../../followPointer.ts";
import { useSelection } from "../../selection.ts";
import { useTimeAxis } from "../../timeAxis.ts";
import { PICTURE_WIDTH } from "./layPoses.ts";
import { commitPose, movedPose } from "./poseEdits.ts";
import { useThumbnail } from "./useThumbnail.ts";

const PICTURE_HEIGHT = 54;

interface PoseSpotProps {
  shot: Shot;
  frame: number;
  /** Pixel of its frame on the strip. */
  x: number;
  /** There is room for its picture. */
  pictured: boolean;
  /** The playhead is on it. */
  chosen: boolean;
  /** A pose of an extra round, which is not there by itself. */
  ghost: boolean;
  /** Keys there are overwritten by what is being tried. */
  givesWay: boolean;
  mark: PoseMark | undefined;
}

/** A key pose on the strip: its dot, and where there is room its picture. */
export const PoseSpot = memo(function PoseSpot(props: PoseSpotProps) {
  const { x, chosen, ghost, pictured, givesWay } = props;
  return (
    <>
      {pictured && <PosePicture {...props} />}
      <i className={`pose-dot ${chosen ? "chosen" : ""} ${ghost ? "ghost" : ""} ${givesWay ? "gives-way" : ""}`} style={{ left: x }} />
    </>
  );
});

/** Click to go there, Shift-click to pick several, drag to move it; with Shift the later ones go along. */
function PosePicture({ shot, frame, x, chosen, ghost, givesWay, mark }: PoseSpotProps) {
  const left = x - PICTURE_WIDTH / 2;
  const picture = useThumbnail(shot, frame, PICTURE_WIDTH * 2, PICTURE_HEIGHT * 2);
  const picked = useSelection((state) => state.poses.includes(frame));
  const readOnly = useReadOnly();
  const { message } = AntApp.useApp();
  const name = mark?.name ? `${mark.name}, ` : "";

  const drag = (event: React.PointerEvent) => {
    if (event.button !== 0 || ghost || readOnly) return;
    const before = currentDocument();
    if (!before) return;
    const { clientX } = event;
    const axis = useTimeAxis.getState();
    const pixelsAFrame = axis.width / (axis.end - axis.start);
    let to = frame;
    let ripple = false;
    let down = true;
    let target: ReturnType<typeof poseTargetAt> = null;
    let at = { x: 0, y: 0 };
    followPointer({
      async move(now) {
        at = { x: now.clientX, y: now.clientY };
        target = poseTargetAt(now.clientX, now.clientY);
        if (target) {
          // It is carried to something that takes poses; its own place stays.
          to = frame;
          useDocuments.getState().setPreview(null);
          return;
        }
        const next = frame + Math.round((now.clientX - clientX) / pixelsAFrame);
        if (Math.abs(now.clientX - clientX) < 4 && to === frame) return;
        if (next === to && ripple === now.shiftKey) return;
        to = next;
        ripple = now.shiftKey;
        const preview = await movedPose(before, frame, to, ripple).catch(() => null);
        if (preview && down) useDocuments.getState().setPreview(preview.shot);
      },
      async done() {
        down = false;
        if (target) target.take(frame, at.x, at.y);
        if (to === frame) return;
        try {
          for (const line of await commitPose(frame, to, ripple)) message.info(line);
        } catch (error) {
          useDocuments.getState().setPreview(null);
          message.error(sayError(error));
        }
      },
      cancel() {
        down = false;
        useDocuments.getState().setPreview(null);
      },
    });
  };

  const press = (event: React.MouseEvent) => {
    const { poses, pickPoses } = useSelection.getState();
    if (event.shiftKey || event.ctrlKey || event.metaKey) {
      if (!ghost) pickPoses(picked ? poses.filter((other) => other !== frame) : [...poses, frame]);
      return;
    }
    if (poses.length > 0) pickPoses([]);
    clock.set(frame);
  };

  return (
    <>
      <button
        type="button"
        className={`pose ${chosen ? "chosen" : ""} ${picked ? "picked" : ""} ${ghost ? "ghost" : ""} ${givesWay ? "gives-way" : ""}`}
        style={{ left, width: PICTURE_WIDTH, height: PICTURE_HEIGHT }}
        data-pose={ghost ? undefined : frame}
        data-colour={mark?.colour ?? undefined}
        title={
          ghost
            ? `Frame ${frame} repeats a pose of the cycle. Change that one and all rounds follow.`
            : `${name}pose at frame ${frame}.${givesWay ? " Keys here are overwritten by what is being tried." : ""} Drag to move it, with Shift all later ones too; Shift-click picks several; right-click for more.`
        }
        aria-label={`${ghost ? "Repeated pose" : "Pose"} at frame ${frame}${mark?.name ? `, ${mark.name}` : ""}`}
        aria-pressed={chosen || picked}
        onPointerDown={drag}
        onClick={press}
      >
        {picture ? <img src={picture} alt="" draggable={false} /> : <span className="quiet mono">{frame}</span>}
      </button>
      {mark?.name && (
        <span className="pose-name" style={{ left: left - 6, width: PICTURE_WIDTH + 12 }} aria-hidden>
          {mark.name}
        </span>
      )}
    </>
  );
}
