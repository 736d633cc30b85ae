import { type FieldPose, freshId, placeOnField, poseOfClip, poseOfFrame, sayError, type Shot } from "@kneader/core";
import { Button, Select } from "antd";
import { Plus } from "lucide-react";
import { useState } from "react";
import { useCards } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import { clock, useRestingFrame } from "../clock.ts";
import { tell } from "../notices.ts";
import { NumberField } from "../NumberField.tsx";

/** A place on the plane that no pose has yet. */
export function freePlace(poses: readonly Pick<FieldPose, "x" | "y">[]): { x: number; y: number } {
  for (let count = 4; ; count += 4)
    for (let n = 0; n < count; n++) {
      const place = placeOnField(n, count);
      if (poses.every(({ x, y }) => Math.hypot(x - place.x, y - place.y) > 0.08)) return place;
    }
}

/** The pose of a frame of the shot, to be laid on a field. */
export function poseFromFrame(shot: Shot, frame: number, place: { x: number; y: number }): FieldPose {
  const name = shot.poseMarks.find((mark) => mark.frame === frame)?.name || `Frame ${frame}`;
  return { id: freshId("pose"), name, ...place, values: poseOfFrame(shot, frame) };
}

interface PoseSourcesProps {
  shot: Shot;
  poses: readonly FieldPose[];
  disabled: boolean;
  onAdd(pose: FieldPose): void;
}

/** Where poses come from: the playhead, or any frame of an action. */
export function PoseSources({ shot, poses, disabled, onAdd }: PoseSourcesProps) {
  const frame = useRestingFrame();
  const cards = useCards() ?? [];
  const [time, setTime] = useState(0);
  const take = async (id: string) => {
    try {
      const action = await pantry.get(id);
      if (!action) throw new Error("It is not in the pantry any more.");
      const at = Math.min(time, action.clip.length);
      const name = at > 0 ? `${action.card.name} ${at}` : action.card.name;
      onAdd({ id: freshId("pose"), name, ...freePlace(poses), values: poseOfClip(action.clip, shot, at) });
    } catch (error) {
      tell(`Pose field: ${sayError(error)}`);
    }
  };
  return (
    <div className="field-sources">
      <Button
        size="small"
        disabled={disabled}
        icon={<Plus size={13} />}
        onClick={() => onAdd(poseFromFrame(shot, clock.frame, freePlace(poses)))}
      >
        Pose of frame {frame}
      </Button>
      <Select
        size="small"
        showSearch
        optionFilterProp="label"
        aria-label="Pose from the pantry"
        placeholder="From the pantry"
        disabled={disabled}
        value={null}
        options={cards.map((card) => ({ value: card.id, label: card.name }))}
        onChange={(id: string | null) => id && void take(id)}
      />
      <NumberField
        label="Frame of the action"
        title="Which frame of an action is taken, from its start"
        value={time}
        decimals={0}
        min={0}
        onCommit={setTime}
      />
    </div>
  );
}
