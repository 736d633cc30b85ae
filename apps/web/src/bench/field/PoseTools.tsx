import { type FieldPose, freshId, type PoseField } from "@kneader/core";
import { Button, Input } from "antd";
import { ArrowLeftRight, Trash2 } from "lucide-react";
import { tell } from "../notices.ts";

interface PoseListProps {
  field: PoseField;
  picked: string | null;
  disabled: boolean;
  onChange(field: PoseField): void;
}

/** What can be done with the picked pose: its name, swapping it with the next, taking it off. */
export function PoseTools({ field, picked, disabled, onChange }: PoseListProps) {
  const { poses } = field;
  const at = poses.findIndex(({ id }) => id === picked);
  const pose = poses[at];
  if (!pose) return <span className="quiet field-hint">Drag the spot. Press a pose to name it, move it or take it off.</span>;
  const put = (next: readonly FieldPose[]) => onChange({ ...field, poses: next });
  const swap = () => {
    const other = poses[(at + 1) % poses.length];
    put(poses.map((one) => (one === pose ? { ...one, x: other.x, y: other.y } : one === other ? { ...one, x: pose.x, y: pose.y } : one)));
  };
  const remove = () => {
    if (poses.length <= 2) {
      tell("A field needs two poses at least. Lay another one on it first.");
      return;
    }
    put(poses.filter((one) => one !== pose));
  };
  return (
    <div className="field-tools">
      <Input
        key={`${pose.id} ${pose.name}`}
        size="small"
        aria-label="Name of the pose"
        maxLength={60}
        defaultValue={pose.name}
        disabled={disabled}
        onBlur={(event) => {
          const name = event.target.value.trim();
          if (name && name !== pose.name) put(poses.map((one) => (one === pose ? { ...one, name } : one)));
        }}
        onPressEnter={(event) => event.currentTarget.blur()}
      />
      <Button
        size="small"
        type="text"
        disabled={disabled}
        aria-label="Swap with the next pose"
        title="Swap its place with the next pose"
        icon={<ArrowLeftRight size={14} />}
        onClick={swap}
      />
      <Button
        size="small"
        type="text"
        disabled={disabled}
        aria-label="Take the pose off"
        title="Take it off the field"
        icon={<Trash2 size={14} />}
        onClick={remove}
      />
    </div>
  );
}

/** A field with a pose more; a pose of the same id takes its place. */
export function withPose(field: PoseField, pose: FieldPose): PoseField {
  return { ...field, poses: [...field.poses.filter(({ id }) => id !== pose.id), { ...pose, id: pose.id || freshId("pose") }] };
}

/** A field with a pose at another place. */
export function withPoseAt(field: PoseField, id: string, { x, y }: { x: number; y: number }): PoseField {
  return { ...field, poses: field.poses.map((pose) => (pose.id === id ? { ...pose, x, y } : pose)) };
}
