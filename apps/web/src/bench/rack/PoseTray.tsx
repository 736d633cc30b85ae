import { type KeyPose, noContext, operationById, runRework, sayError, type Shot, timingOf, WHOLE_FIGURE } from "@kneader/core";
import { App as AntApp, Select } from "antd";
import { memo, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { clock, useRestingFrame } from "../clock.ts";
import { currentDocument, useDocuments, useReadOnly, useShot, useShown } from "../documents.ts";
import { typedNumber } from "../arithmetic.ts";
import { followPointer } from "../followPointer.ts";
import { keyPoses } from "../keyPoses.ts";
import { isLong, useSettled } from "../useSettled.ts";
import { useTimeAxis } from "../timeAxis.ts";
import { type GapPlace, layGaps, layPoses, PICTURE_WIDTH } from "./poses.ts";
import { useWork } from "../work/workStore.ts";
import { TrayRow } from "./TrayRow.tsx";
import { useThumbnail } from "./useThumbnail.ts";
import { useTimeGestures } from "./plot/useTimeGestures.ts";

const PICTURE_HEIGHT = 54;
const setGap = operationById("set-gap");

/** What counts as a key pose. */
const shares = [
  { value: 0.9, label: "nearly all controls keyed" },
  { value: 0.5, label: "half of the controls keyed" },
  { value: 0.2, label: "a fifth of the controls keyed" },
  { value: 0, label: "any key" },
];

async function withGap(shot: Shot, gap: { from: number; to: number }, frames: number, ripple: boolean) {
  return runRework(setGap, shot, WHOLE_FIGURE, { from: gap.from, to: gap.to, gap: frames, ripple }, noContext);
}

/** Thumbnails of the key poses at their frames, and between them the gaps that set the timing. */
export function PoseTray() {
  const now = useShown();
  const shown = useSettled(now, isLong(now));
  const share = usePreferences((state) => state.poseShare);
  const poses = useMemo(() => keyPoses(shown, share), [shown, share]);
  return (
    <TrayRow name="Poses" className="pose-tray" gutter={<PoseGutter count={poses.length} />}>
      <PosePlot shot={shown} poses={poses} />
    </TrayRow>
  );
}

/** Apart from the plot, so that panning does not draw it anew. */
const PoseGutter = memo(function PoseGutter({ count }: { count: number }) {
  const { poseShare, set } = usePreferences();
  return (
    <>
      <b>Poses</b>
      <span className="quiet">
        {count} key {count === 1 ? "pose" : "poses"}
      </span>
      <Select
        size="small"
        variant="borderless"
        className="pose-share"
        aria-label="What counts as a key pose"
        title="What counts as a key pose"
        value={poseShare}
        options={shares}
        popupMatchSelectWidth={220}
        onChange={(value) => set({ poseShare: value })}
      />
      <button
        type="button"
        className="quiet gap-label"
        title="Set all gaps at once, as a list (Shift G)"
        onClick={() => useWork.getState().open("set-timing")}
      >
        Gaps in frames …
      </button>
    </>
  );
});

function PosePlot({ shot, poses }: { shot: Shot; poses: readonly KeyPose[] }) {
  const axis = useTimeAxis();
  const frame = useRestingFrame();
  const plot = useRef<HTMLDivElement>(null);
  useTimeGestures(plot);
  const share = usePreferences((state) => state.poseShare);
  const holds = useMemo(() => holdsOf(shot, poses.length, share), [shot, poses, share]);
  const places = layPoses(poses, axis, frame);
  const gaps = layGaps(poses, axis);
  return (
    <div className="pose-plot" ref={plot}>
      {places.map((place) => (
        <span key={place.frame}>
          {place.picture !== null && <PosePicture shot={shot} frame={place.frame} left={place.picture} chosen={place.frame === frame} />}
          <i className={place.frame === frame ? "pose-dot chosen" : "pose-dot"} style={{ left: place.x }} />
        </span>
      ))}
      {gaps.map((gap) => (
        <GapChip key={gap.from} gap={gap} hold={holds.has(gap.from)} />
      ))}
      {gaps.length === 0 && poses.length > 2 && (
        <p className="quiet gaps-hidden">{poses.length} poses stand too close to show their gaps. Zoom in with the wheel.</p>
      )}
      {poses.length === 0 && (
        <p className="quiet empty-line">
          No frame has keys on enough controls to be a pose. Choose "any key" at the left, or key a pose with K.
        </p>
      )}
    </div>
  );
}

/** More poses than this have no room to show which gaps are holds. */
const MOST_HOLDS = 200;

/** Frames of the poses after which nothing moves until the next one. */
function holdsOf(shot: Shot, count: number, share: number): ReadonlySet<number> {
  if (count > MOST_HOLDS) return new Set();
  const { poses, steps } = timingOf(shot, WHOLE_FIGURE, share);
  return new Set(poses.filter((_, i) => steps[i]?.hold));
}

function PosePicture({ shot, frame, left, chosen }: { shot: Shot; frame: number; left: number; chosen: boolean }) {
  const picture = useThumbnail(shot, frame, PICTURE_WIDTH * 2, PICTURE_HEIGHT * 2);
  return (
    <button
      type="button"
      className={chosen ? "pose chosen" : "pose"}
      style={{ left, width: PICTURE_WIDTH, height: PICTURE_HEIGHT }}
      title={`Pose at frame ${frame}`}
      aria-label={`Pose at frame ${frame}`}
      aria-pressed={chosen}
      onClick={() => clock.set(frame)}
    >
      {picture ? <img src={picture} alt="" draggable={false} /> : <span className="quiet mono">{frame}</span>}
    </button>
  );
}

/** The number of frames between two poses: drag sideways, roll the wheel on it, or type. Alt: later poses stay. */
function GapChip({ gap, hold }: { gap: GapPlace; hold: boolean }) {
  const shot = useShot();
  const readOnly = useReadOnly();
  const { message } = AntApp.useApp();
  const [text, setText] = useState<string | null>(null);
  const dragging = useRef(false);
  /** Alt with Enter: the later poses stay. */
  const keepLater = useRef(false);
  const frames = gap.to - gap.from;
  const pixelsAFrame = useTimeAxis((axis) => axis.width / (axis.end - axis.start));

  const commit = async (next: number, ripple: boolean) => {
    useDocuments.getState().setPreview(null);
    if (next === frames || readOnly) return;
    try {
      const now = currentDocument() as Shot;
      const outcome = await withGap(now, gap, next, ripple);
      useDocuments.getState().change(outcome.report.summary, outcome.shot, {
        operation: setGap.id,
        scope: WHOLE_FIGURE,
        settings: { from: gap.from, to: gap.to, gap: next, ripple },
      });
      for (const warning of outcome.report.warnings) message.info(warning);
    } catch (error) {
      message.error(sayError(error));
    }
  };

  const drag = (event: React.PointerEvent<HTMLInputElement>) => {
    if (event.button !== 0 || readOnly) return;
    const from = event.clientX;
    let next = frames;
    let ripple = true;
    let moved = false;
    const input = event.currentTarget;
    dragging.current = true;
    const stop = () => {
      if (moved) {
        setText(null);
        input.blur();
      }
      dragging.current = false;
    };
    followPointer({
      async move(now) {
        const by = Math.round((now.clientX - from) / pixelsAFrame);
        if (Math.abs(now.clientX - from) > 3) moved = true;
        ripple = !now.altKey;
        if (!moved || Math.max(1, frames + by) === next) return;
        next = Math.max(1, frames + by);
        setText(String(next));
        const outcome = await withGap(shot, gap, next, ripple).catch(() => null);
        if (outcome && dragging.current) useDocuments.getState().setPreview(outcome.shot);
      },
      done() {
        stop();
        if (moved) void commit(next, ripple);
      },
      cancel() {
        stop();
        useDocuments.getState().setPreview(null);
      },
    });
  };

  const typed = (ripple: boolean) => {
    if (text === null) return;
    const next = typedNumber(text, frames);
    setText(null);
    if (next === null || !Number.isInteger(next) || next < 1 || next > 100000) {
      if (text.trim() !== "")
        message.error(`A gap is a whole number of frames from 1 to 100 000; "${text}" is not. The gap stays ${frames}.`);
      return;
    }
    void commit(next, ripple);
  };

  const narrow = gap.width < 18;
  return (
    <input
      className={`gap mono ${narrow ? "narrow" : ""} ${hold ? "hold" : ""} ${text !== null ? "editing" : ""}`}
      style={{ left: gap.left + 4, width: Math.max(5, gap.width - 8) }}
      aria-label={`Gap from frame ${gap.from} to ${gap.to}`}
      title={`${hold ? "Hold of " : ""}${frames} ${frames === 1 ? "frame" : "frames"} from ${gap.from} to ${gap.to}. Drag, roll the wheel or type; with Alt the later poses stay.`}
      value={text ?? (narrow ? "" : String(frames))}
      readOnly={readOnly}
      inputMode="numeric"
      onPointerDown={drag}
      onFocus={(event) => {
        setText(String(frames));
        requestAnimationFrame(() => event.target.select());
      }}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => {
        if (!dragging.current) typed(!keepLater.current);
        keepLater.current = false;
      }}
      onWheel={(event) => {
        event.stopPropagation();
        void commit(Math.max(1, frames - Math.sign(event.deltaY)), !event.altKey);
      }}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") {
          // Leaving the field is what takes the number over, once.
          keepLater.current = event.altKey;
          event.currentTarget.blur();
        } else if (event.key === "Escape") {
          setText(null);
          event.currentTarget.blur();
        } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          setText(String(Math.max(1, (typedNumber(text ?? "", frames) ?? frames) + (event.key === "ArrowUp" ? 1 : -1))));
        }
      }}
    />
  );
}
