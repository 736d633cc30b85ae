import { type Action, constantCurve, fieldPass, freshId, operations, poseOfClip, sampleCurve, sayError, withAbout } from "@kneader/core";
import { App as AntApp, Dropdown } from "antd";
import { useState } from "react";
import { pantryChanged } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import { clock } from "../clock.ts";
import { currentDocument } from "../documents.ts";
import { freePlace } from "../field/PoseSources.tsx";
import { NumberField } from "../NumberField.tsx";
import { performOrTell } from "../perform.ts";
import { currentScope, useSelection } from "../selection.ts";

/** One frame of an action as a pose: onto the figure at a dial, onto the chosen pose field, or into the pantry. */
export function TakePose({ action, frame }: { action: Action; frame: number }) {
  const { message } = AntApp.useApp();
  const [dial, setDial] = useState(100);
  const told = <Value,>(work: () => Value): Value | undefined => {
    try {
      return work();
    } catch (error) {
      message.error(sayError(error));
      return undefined;
    }
  };
  const ontoFigure = () =>
    told(() => {
      const shot = currentDocument();
      if (!shot) return;
      const { layer } = useSelection.getState();
      const pose = poseOfClip(action.clip, shot, frame);
      performOrTell(
        operations.takePose,
        { frame: clock.frame, values: pose, share: dial / 100 },
        { ...currentScope(), keys: null, range: null, layer },
      );
    });
  const ontoField = () =>
    told(() => {
      const shot = currentDocument();
      const field = shot?.passes.find(({ id, kind }) => id === useSelection.getState().layer && kind === fieldPass.id);
      if (!shot || !field) throw new Error("Choose a pose field in the pass tray first.");
      const { field: told, ...others } = field.settings as { field: { poses: readonly { x: number; y: number }[]; spot: unknown } };
      const pose = {
        id: freshId("pose"),
        name: `${action.card.name} ${frame}`,
        ...freePlace(told.poses as never),
        values: poseOfClip(action.clip, shot, frame),
      };
      performOrTell(operations.changePass, {
        pass: field.id,
        to: { settings: { ...others, field: { ...told, poses: [...told.poses, pose] } } },
      });
    });
  const intoPantry = async () => {
    const pose = told(() => poseAction(action, frame));
    if (!pose) return;
    try {
      await pantry.put(pose);
      await pantryChanged();
      message.success(`"${pose.card.name}" is in the pantry.`);
    } catch (error) {
      message.error(sayError(error));
    }
  };
  return (
    <span className="take-pose">
      <Dropdown.Button
        size="small"
        trigger={["click"]}
        menu={{
          items: [
            { key: "field", label: "Onto the chosen pose field" },
            { key: "pantry", label: "As a pose of its own" },
          ],
          onClick: ({ key }) => (key === "field" ? ontoField() : void intoPantry()),
        }}
        onClick={ontoFigure}
      >
        Pose to the figure
      </Dropdown.Button>
      <NumberField
        label="Pose dial, percent"
        title="How far toward the pose"
        decimals={0}
        suffix=" %"
        min={-200}
        max={300}
        value={dial}
        onCommit={setDial}
      />
    </span>
  );
}

/** A frame of an action as a pose of its own. */
function poseAction({ card, clip }: Action, frame: number): Action {
  const curves = Object.fromEntries(Object.entries(clip.curves).map(([key, curve]) => [key, constantCurve(sampleCurve(curve, frame))]));
  return withAbout({
    card: {
      ...card,
      id: freshId("action"),
      name: `${card.name}, frame ${frame}`,
      tags: [...new Set([...card.tags, "pose"])],
      savedAt: Date.now(),
    },
    clip: { ...clip, length: 0, curves },
  });
}
