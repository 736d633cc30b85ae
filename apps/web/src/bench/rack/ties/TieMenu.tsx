import { type Constraint, markColours, operations, type Shot, switchesOf, tiesOf } from "@kneader/core";
import { Dropdown, type MenuProps } from "antd";
import { memo } from "react";
import { currentDocument, useReadOnly } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { keyWeightHere } from "../passes/WeightKeys.tsx";
import { addContact, changeTie, letGo, removeSwitch, weightedTie } from "./tieEdits.ts";

/** Where the menu was asked for, on which constraint, and of a strip on the span that begins at which frame. */
export interface TieMenuPlace {
  readonly x: number;
  readonly y: number;
  readonly tie: string;
  readonly span?: number;
}

interface Entry {
  readonly label: string;
  run?(): void;
  readonly children?: readonly Entry[];
}

/** What can be done with a constraint. */
export const TieMenu = memo(function TieMenu({ place, onClose }: { place: TieMenuPlace | null; onClose(): void }) {
  const readOnly = useReadOnly();
  const shot = currentDocument();
  const tie = place && shot?.constraints.find(({ id }) => id === place.tie);
  const entries = tie && shot && !readOnly ? entriesFor(shot, tie, place.span) : [];
  return (
    <Dropdown
      open={entries.length > 0}
      trigger={["click"]}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      menu={{
        items: itemsOf(entries),
        autoFocus: true,
        onClick: ({ key }) => {
          find(entries, key)?.run?.();
          onClose();
        },
      }}
    >
      <span className="pass-menu-anchor" style={{ left: place?.x ?? 0, top: place?.y ?? 0 }} />
    </Dropdown>
  );
});

function itemsOf(entries: readonly Entry[]): MenuProps["items"] {
  return entries.map(({ label, run, children }) =>
    children ? { key: label, label, children: itemsOf(children) } : { key: label, label, disabled: run === undefined },
  );
}

function find(entries: readonly Entry[], label: string): Entry | undefined {
  for (const entry of entries) {
    const found = entry.children ? find(entry.children, label) : entry.label === label ? entry : undefined;
    if (found) return found;
  }
  return undefined;
}

/** Pick what a constraint leads, and open an operation on it. */
function openOn(tie: Constraint, operation: string, settings?: Record<string, unknown>): void {
  useSelection.getState().pickControls(tiesOf(tie).writes);
  useWork.getState().open(operation, settings);
}

/** By kind, the operation that makes a constraint and tells a chosen one anew. */
const madeBy: Readonly<Record<string, string>> = {
  follow: operations.followTarget.id,
  aim: operations.aimAt.id,
  reach: operations.reachFor.id,
};

/** Open the card that made a constraint on the constraint itself. */
function tellAnew(tie: Constraint, operation: string): void {
  useSelection.getState().pickControls(tiesOf(tie).writes.slice(-1));
  useSelection.getState().setLayer(tie.id);
  useWork.getState().open(operation);
}

function entriesFor(shot: Shot, tie: Constraint, span: number | undefined): Entry[] {
  const bake: Entry = { label: "Bake down …", run: () => openOn(tie, operations.bakeDown.id) };
  const colour: Entry = {
    label: "Colour",
    children: [
      { label: "that of its kind", run: () => changeTie(tie.id, { colour: null }) },
      ...markColours.map((one) => ({ label: one, run: () => changeTie(tie.id, { colour: one }) })),
    ],
  };
  const pick: Entry = { label: "Pick what it leads", run: () => useSelection.getState().pickControls(tiesOf(tie).writes) };
  const end: Entry = { label: "Let go", run: () => letGo(tie.id) };
  if (tie.kind === "space") {
    const { control } = tie.settings as { control: string };
    const at = span === undefined ? undefined : switchesOf(shot, control).find(({ frame }) => frame === span);
    const out = (keep: "poses" | "values") => (at ? () => removeSwitch(control, at.frame, keep) : undefined);
    return [
      { label: "Switch here …", run: () => openOn(tie, operations.switchSpace.id) },
      {
        label: "Live elsewhere over this span …",
        run: span === undefined ? undefined : () => openOn(tie, operations.switchSpace.id, { frame: span }),
      },
      { label: "Take out the switch before it, poses stay", run: out("poses") },
      { label: "Take out the switch before it, values stay", run: out("values") },
      pick,
      bake,
      end,
    ];
  }
  const more: Entry[] =
    tie.kind === "plant"
      ? [
          { label: "A contact here", run: () => addContact(tie) },
          { label: "Find its contacts anew …", run: () => openOn({ ...tie, kind: "plant" }, operations.plantEnds.id) },
        ]
      : tie.kind === "reach"
        ? [{ label: "Match reach and turns …", run: () => openOn(tie, operations.matchReach.id) }]
        : [];
  const op = madeBy[tie.kind];
  if (op) more.unshift({ label: "Settings …", run: () => tellAnew(tie, op) });
  return [...more, { label: "Key its strength here", run: () => keyWeightHere(weightedTie(tie)) }, colour, pick, bake, end];
}
