import {
  channelKey,
  fieldPass,
  operations,
  type Pass,
  type PoseField,
  sampleCurve,
  sayError,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { Button, Tooltip } from "antd";
import { useMemo, useState } from "react";
import { clock, useFrame } from "../clock.ts";
import { commandShortcut } from "../commandKeys.ts";
import { useReadOnly } from "../documents.ts";
import { tell } from "../notices.ts";
import { pacedPreview } from "../pacedPreview.ts";
import { performOrTell, performSoon } from "../perform.ts";
import { findOperation } from "../work/findOperation.ts";
import { useWork } from "../work/workStore.ts";
import { FieldPlane } from "./FieldPlane.tsx";
import { PoseSources } from "./PoseSources.tsx";
import { PoseTools, withPose, withPoseAt } from "./PoseTools.tsx";
import { useTakesPoses } from "./useTakesPoses.ts";
import { moveRecordedSpot, startRecording, stopRecording, useRecording, withSpot } from "./recordSpot.ts";
import "./field.css";

const [X, Y] = fieldPass.own.channels.map((channel) => channelKey(fieldPass.own.name, channel));

interface Spot {
  readonly x: number;
  readonly y: number;
}

/** Where the spot of a field is at a frame. */
function spotAt({ curves, settings }: Pass, frame: number): Spot {
  const { spot } = settings.field as PoseField;
  return { x: curves[X] ? sampleCurve(curves[X], frame) : spot.x, y: curves[Y] ? sampleCurve(curves[Y], frame) : spot.y };
}

/** The way the spot goes, for drawing. */
function pathOf(pass: Pass, { range }: Shot): Spot[] {
  if (!pass.curves[X] && !pass.curves[Y]) return [];
  const count = Math.min(400, Math.floor(range.end - range.start) + 1);
  return Array.from({ length: count }, (_, n) => spotAt(pass, range.start + (n * (range.end - range.start)) / Math.max(1, count - 1)));
}

/** The field that is chosen: its spot is moved, keyed and recorded here, its poses moved and changed. */
export function FieldCard({ pass, shot }: { pass: Pass; shot: Shot }) {
  const readOnly = useReadOnly();
  const frame = useFrame();
  const { state, beats } = useRecording();
  const [picked, setPicked] = useState<string | null>(null);
  const [held, setHeld] = useState<Spot | null>(null);
  const [moving, setMoving] = useState<PoseField | null>(null);
  const preview = useMemo(() => pacedPreview(), []);
  const path = useMemo(() => pathOf(pass, shot), [pass, shot]);
  const given = pass.settings.field as PoseField;
  const field = moving ?? given;
  const spot = held ?? spotAt(pass, frame);
  const disabled = readOnly || pass.locked;
  const isKeyed = pass.curves[X] !== undefined || pass.curves[Y] !== undefined;

  const shape = async (next: PoseField) => {
    setMoving(null);
    try {
      await performSoon(
        operations.poseField,
        { ...(pass.settings as Parameters<typeof operations.poseField.run>[2]), field: next },
        { ...WHOLE_FIGURE, layer: pass.id },
      );
    } catch (error) {
      preview.stop();
      tell(sayError(error));
    }
  };
  const keyAt = (to: Spot) =>
    performOrTell(operations.keyValues, { frame: clock.frame, values: { [X]: to.x, [Y]: to.y } }, { ...WHOLE_FIGURE, layer: pass.id });
  const onSpot = (to: Spot, last: boolean) => {
    if (state !== "rest") {
      moveRecordedSpot(to);
      setHeld(last ? null : to);
      return;
    }
    if (!last) {
      setHeld(to);
      preview.show(() => withSpot(shot, pass, to));
      return;
    }
    setHeld(null);
    preview.stop();
    // A spot without a path is moved for the whole shot; one with a path is keyed here.
    if (isKeyed) keyAt(to);
    else void shape({ ...field, spot: to });
  };
  const add = (pose: PoseField["poses"][number]) => void shape(withPose(field, pose));
  const holder = useTakesPoses(shot, field.poses, disabled, add);
  const onMove = (id: string, to: Spot, last: boolean) => {
    const next = withPoseAt(given, id, to);
    if (last) void shape(next);
    else setMoving(next);
  };
  return (
    <div className="work-body field-card" ref={holder} role="group" aria-label={`Pose field ${pass.name}`}>
      <header>
        <h2>{pass.name}</h2>
        <span className="quiet scope">{isKeyed ? "The spot has a path" : "The spot stands for the whole shot"}</span>
      </header>
      <div className="work-scroll field-setting">
        <FieldPlane
          poses={field.poses}
          spot={spot}
          picked={picked}
          disabled={disabled}
          path={path}
          said={state === "counting" ? String(beats) : state === "recording" ? "recording" : null}
          onPick={setPicked}
          onSpot={onSpot}
          onSpotCancel={() => {
            setHeld(null);
            preview.stop();
          }}
          onMove={onMove}
        />
        <div className="field-side">
          <PoseTools field={field} picked={picked} disabled={disabled} onChange={(next) => void shape(next)} />
          <PoseSources shot={shot} poses={field.poses} disabled={disabled} onAdd={add} />
        </div>
      </div>
      <footer>
        {state === "rest" ? (
          <>
            <Tooltip title="Keys the spot where it is, at the playhead">
              <Button disabled={disabled} onClick={() => keyAt(spot)}>
                Key here
              </Button>
            </Tooltip>
            <Tooltip title="Counts in, plays the marked range or on from the playhead, and keeps the way you move the spot">
              <Button type="primary" disabled={disabled} onClick={() => startRecording(pass.id, spot)}>
                Record
              </Button>
            </Tooltip>
          </>
        ) : (
          <Button danger onClick={stopRecording}>
            Stop
          </Button>
        )}
        <span className="spring" />
        <Button onClick={() => useWork.getState().open(operations.poseField.id)}>Settings</Button>
        <Button onClick={findOperation}>
          Operations <kbd>{commandShortcut("find-operation")}</kbd>
        </Button>
      </footer>
    </div>
  );
}
