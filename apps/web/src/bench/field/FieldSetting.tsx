import type { PoseField } from "@kneader/core";
import { useState } from "react";
import type { FieldProps } from "../work/property.ts";
import { FieldPlane } from "./FieldPlane.tsx";
import { PoseSources } from "./PoseSources.tsx";
import { PoseTools, withPose, withPoseAt } from "./PoseTools.tsx";
import { useTakesPoses } from "./useTakesPoses.ts";
import "./field.css";

/** The setting of a pose field: its plane, before there is a pass. */
export function FieldSetting({ value, shot, disabled, onChange }: FieldProps) {
  const [picked, setPicked] = useState<string | null>(null);
  const field = (value as PoseField | undefined) ?? { poses: [], spot: { x: 0.5, y: 0.5 } };
  const add = (pose: PoseField["poses"][number]) => onChange(withPose(field, pose));
  const holder = useTakesPoses(shot, field.poses, disabled, add);
  return (
    <div className="field-setting" ref={holder}>
      <FieldPlane
        poses={field.poses}
        spot={field.spot}
        picked={picked}
        disabled={disabled}
        onPick={setPicked}
        onSpot={(spot) => onChange({ ...field, spot })}
        onMove={(id, to) => onChange(withPoseAt(field, id, to))}
      />
      <div className="field-side">
        <PoseTools field={field} picked={picked} disabled={disabled} onChange={onChange} />
        <PoseSources shot={shot} poses={field.poses} disabled={disabled} onAdd={add} />
        <span className="quiet field-hint">A pose can be dragged here from the pose tray.</span>
      </div>
    </div>
  );
}
