import { countedWord, liftPoses, type MarkColour, markColours, operations, type PoseMark, sayError } from "@kneader/core";
import { App as AntApp, Dropdown, Input, type MenuProps, Popover } from "antd";
import { memo, useState } from "react";
import { keep as remember } from "../../clipboard.ts";
import { clock } from "../../clock.ts";
import { currentDocument } from "../../documents.ts";
import { poseScope } from "../../keyPoses.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { holdOf, makeHold, markPose, removeHold, removePoses, swapPoses } from "./poseEdits.ts";

/** Where in the tray a menu was asked for, and on what. */
export interface MenuPlace {
  readonly x: number;
  readonly y: number;
  readonly on:
    | { readonly pose: number; readonly next: number | null; readonly mark: PoseMark | undefined }
    | { readonly from: number; readonly to: number; readonly hold: boolean };
}

/** What can be done with a pose or a gap. */
export const PoseMenu = memo(function PoseMenu({ place, onClose }: { place: MenuPlace | null; onClose(): void }) {
  const { message } = AntApp.useApp();
  const [naming, setNaming] = useState<MenuPlace | null>(null);
  const said = async (work: () => Promise<string[]> | string[]) => {
    try {
      for (const line of await work()) message.info(line);
    } catch (error) {
      message.error(sayError(error));
    }
  };
  const open = ({ id }: { id: string }, settings: Record<string, unknown>) => useWork.getState().open(id, settings);
  const entries = place ? ("pose" in place.on ? poseEntries(place.on) : gapEntries(place.on)) : [];
  const anchor = place ?? naming;

  function poseEntries({ pose, next }: Extract<MenuPlace["on"], { pose: number }>): Entry[] {
    const { poses } = useSelection.getState();
    const frames = poses.includes(pose) ? poses : [pose];
    const word = frames.length > 1 ? `${frames.length} poses` : "pose";
    const other = frames.length === 2 ? frames.find((frame) => frame !== pose) : (next ?? undefined);
    return [
      ["Name and colour …", () => setNaming(place)],
      [`Copy ${word}`, () => said(() => copyPoses(frames))],
      ["Paste pose here …", () => openAt(pose, operations.pastePose, { to: pose, mirrored: false })],
      ["Paste pose mirrored here …", () => openAt(pose, operations.pastePose, { to: pose, mirrored: true })],
      [frames.length > 1 ? `Mirror ${word} …` : "Mirror pose here …", () => openAt(pose, operations.mirrorPose, { frames: [...frames] })],
      ["Paste keys here …", () => openAt(pose, operations.pasteKeys, {})],
      [
        frames.length === 2 ? "Swap the two poses" : "Swap with the next pose",
        other === undefined ? null : () => said(() => swapPoses(pose, other)),
      ],
      [`Hold it for ${countedWord(holdOf(pose), "frame")}`, () => said(() => makeHold(pose, holdOf(pose)))],
      ["Save pose to the pantry …", () => openAt(pose, operations.saveAction, { what: "pose", frame: pose })],
      [`Remove ${word}`, () => said(() => removePoses(frames))],
    ];
  }

  function openAt(frame: number, operation: { id: string }, settings: Record<string, unknown>): void {
    clock.set(frame);
    open(operation, settings);
  }

  function gapEntries({ from, to, hold }: Extract<MenuPlace["on"], { from: number }>): Entry[] {
    const { gaps } = useSelection.getState();
    const several = gaps.length > 1;
    const spread = (ease: number) => () => {
      const shot = currentDocument();
      if (!shot) return;
      const last = Math.max(...gaps);
      const end = document.querySelector<HTMLElement>(`[data-gap^="${last} "]`)?.dataset.gap?.split(" ")[1];
      useSelection.getState().setRange({ start: Math.min(...gaps), end: Number(end ?? last) });
      open(operations.evenGaps, { ease });
    };
    return [
      [`Hold the pose of ${from} for ${countedWord(to - from, "frame")}`, hold ? null : () => said(() => makeHold(from, to - from))],
      ["Remove the hold", hold ? () => said(() => removeHold(from, to)) : null],
      ["Even out the picked gaps …", several ? spread(0) : null],
      ["Ease across the picked gaps …", several ? spread(50) : null],
      ["All gaps as a list …", () => open(operations.setTiming, {})],
      ["Time-warp this span …", () => warp(from, to)],
    ];
  }

  function warp(from: number, to: number): void {
    const { gaps } = useSelection.getState();
    useSelection.getState().setRange({ start: Math.min(from, ...gaps), end: to });
    open(operations.timeWarp, {});
  }

  const items: MenuProps["items"] = entries.map(([label, run]) => ({ key: label, label, disabled: run === null }));
  return (
    <>
      <Dropdown
        open={place !== null}
        trigger={["click"]}
        onOpenChange={(isOpen) => !isOpen && onClose()}
        menu={{
          items,
          autoFocus: true,
          onClick: ({ key }) => {
            entries.find(([label]) => label === key)?.[1]?.();
            onClose();
          },
        }}
      >
        <span className="menu-anchor" style={{ left: place?.x ?? 0, top: place?.y ?? 0 }} />
      </Dropdown>
      {naming && anchor && "pose" in naming.on && (
        <Popover
          open
          trigger="click"
          onOpenChange={(isOpen) => !isOpen && setNaming(null)}
          content={<NameForm frame={naming.on.pose} mark={naming.on.mark} onClose={() => setNaming(null)} />}
        >
          <span className="menu-anchor" style={{ left: naming.x, top: naming.y }} />
        </Popover>
      )}
    </>
  );
});

type Entry = readonly [label: string, run: (() => void) | null];

function copyPoses(frames: readonly number[]): string[] {
  const shot = currentDocument();
  if (!shot) return [];
  remember(
    liftPoses(
      shot,
      poseScope(),
      [...frames].sort((a, b) => a - b),
    ),
  );
  // The pose that "Paste pose" takes is the same one.
  useSelection.getState().copyPose(frames[0]);
  return [];
}

function NameForm({ frame, mark, onClose }: { frame: number; mark: PoseMark | undefined; onClose(): void }) {
  const [name, setName] = useState(mark?.name ?? "");
  const [colour, setColour] = useState<MarkColour | null>(mark?.colour ?? null);
  const keep = (with_: MarkColour | null) => {
    if (name.trim() !== (mark?.name ?? "") || with_ !== (mark?.colour ?? null)) markPose(frame, name, with_);
    onClose();
  };
  return (
    <div className="pose-form" role="group" aria-label={`Name and colour of the pose at frame ${frame}`}>
      <Input
        autoFocus
        size="small"
        aria-label="Name of the pose"
        placeholder="Name, such as Crouch"
        maxLength={40}
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") keep(colour);
          if (event.key === "Escape") onClose();
        }}
      />
      <div className="pose-colours">
        {[null, ...markColours].map((one) => (
          <button
            key={one ?? "none"}
            type="button"
            data-colour={one ?? undefined}
            aria-label={one ?? "no colour"}
            title={one ?? "no colour"}
            aria-pressed={colour === one}
            onClick={() => {
              setColour(one);
              keep(one);
            }}
          />
        ))}
      </div>
    </div>
  );
}
