import {
  channelKey,
  emptyPasses,
  freshId,
  isScenery,
  type MarkColour,
  markColours,
  operations,
  type Pass,
  passKind,
  playedAction,
  playPass,
  sayError,
  splitChannelKey,
  upperBody,
  type Shot,
} from "@kneader/core";
import { App as AntApp, Dropdown, type MenuProps } from "antd";
import { memo } from "react";
import { clock } from "../../clock.ts";
import { currentDocument, useReadOnly } from "../../documents.ts";
import { keyWeightHere, weightedPass } from "./WeightKeys.tsx";
import { changePass } from "../../edits.ts";
import { performOrTell } from "../../perform.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { pickedChannels } from "../channels/channelView.ts";

/** Where the menu was asked for, and on which pass. */
export interface PassMenuPlace {
  readonly x: number;
  readonly y: number;
  readonly pass: string;
}

type Entry = readonly [label: string, run: (() => void) | null] | readonly [label: string, run: null, children: readonly Entry[]];

/** What can be done with a pass. */
export const PassMenu = memo(function PassMenu({ place, onClose }: { place: PassMenuPlace | null; onClose(): void }) {
  const { message } = AntApp.useApp();
  const readOnly = useReadOnly();
  const shot = currentDocument();
  const pass = place && shot?.passes.find(({ id }) => id === place.pass);
  const entries = pass && shot && !readOnly ? entriesFor(shot, pass) : [];

  const run = (label: string) => {
    try {
      find(entries, label)?.();
    } catch (error) {
      message.error(sayError(error));
    }
    onClose();
  };
  return (
    <Dropdown
      open={entries.length > 0}
      trigger={["click"]}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      menu={{ items: itemsOf(entries), autoFocus: true, onClick: ({ key }) => run(key) }}
    >
      <span className="pass-menu-anchor" style={{ left: place?.x ?? 0, top: place?.y ?? 0 }} />
    </Dropdown>
  );
});

function itemsOf(entries: readonly Entry[]): MenuProps["items"] {
  return entries.map(([label, run, children]) =>
    children ? { key: label, label, children: itemsOf(children) } : { key: label, label, disabled: run === null },
  );
}

function find(entries: readonly Entry[], label: string): (() => void) | null {
  for (const [name, run, children] of entries) {
    const found = children ? find(children, label) : name === label ? run : null;
    if (found) return found;
  }
  return null;
}

type StackChange = Parameters<typeof operations.stackPasses.run>[2];

function entriesFor(shot: Shot, pass: Pass): Entry[] {
  const { setLayer } = useSelection.getState();
  const isKeyed = passKind(pass.kind)?.reads === "keys";
  const picked = pickedChannels();
  const edit = (said: StackChange) => () => void performOrTell(operations.stackPasses, said);
  const tell = (to: Parameters<typeof changePass>[1]) => () => changePass(pass.id, to);
  const made = (said: (id: string) => StackChange) => () => {
    const id = freshId("pass");
    if (performOrTell(operations.stackPasses, said(id))) setLayer(id);
  };
  const open =
    ({ id }: { id: string }, settings?: Record<string, unknown>) =>
    () => {
      setLayer(pass.id);
      useWork.getState().open(id, settings);
    };
  const someEmpty = emptyPasses(shot);
  return [
    ["Duplicate", made((id) => ({ do: "duplicate", pass: pass.id, id }))],
    [pass.locked ? "Unlock" : "Lock", tell({ locked: !pass.locked })],
    [
      "Members",
      null,
      [
        ["Add what is picked", picked.length > 0 ? edit({ do: "add-members", pass: pass.id, channels: picked, frame: clock.frame }) : null],
        ["Take out what is picked", picked.length > 0 ? edit({ do: "remove-members", pass: pass.id, channels: picked }) : null],
        [
          "Split what is picked into a new pass",
          picked.length > 0 ? made((id) => ({ do: "split", pass: pass.id, id, channels: picked })) : null,
        ],
        ...partsOf(shot).map(
          (part): Entry => [
            `Add ${part.name}`,
            edit({ do: "add-members", pass: pass.id, channels: part.channels, frame: clock.frame, what: part.name }),
          ],
        ),
      ],
    ],
    ["Key its weight here", () => keyWeightHere(weightedPass(pass))],
    ["Colour", null, [colourEntry(pass, null), ...markColours.map((colour) => colourEntry(pass, colour))]],
    ...(isKeyed
      ? ([
          [
            pass.compose === "rotation" ? "Turns add up channel by channel" : "Turns combine in 3D",
            tell({ compose: pass.compose === "rotation" ? "channel" : "rotation" }),
          ],
          ["Lock ends …", open(operations.lockEnds)],
        ] satisfies Entry[])
      : []),
    ...(pass.kind === "replaces"
      ? ([
          [
            "Start from what is seen here",
            edit({ do: "fill", pass: pass.id, channels: picked.length > 0 ? picked : figureChannels(shot), frame: clock.frame }),
          ],
        ] satisfies Entry[])
      : []),
    ...(pass.kind === playPass.id
      ? ([
          ["How it plays …", open(operations.playBand)],
          ["Only the upper body", halfOf(shot, pass, "upper")],
          ["Only legs, hips and tail", halfOf(shot, pass, "lower")],
          ["All that it moves", halfOf(shot, pass, "all")],
          ["Open its action, for all its uses …", open(operations.openAction)],
          ["Give it an action of its own …", open(operations.ownAction)],
          ["Turn it into keys …", open(operations.playToKeys)],
          ...(String(pass.settings.row ?? "") !== ""
            ? ([["Into a row of its own", () => performOrTell(operations.changeBand, { pass: pass.id, to: { row: "" } })]] as Entry[])
            : []),
        ] as Entry[])
      : []),
    ...(pass.settings.opens !== undefined ? ([["Close the action, changed everywhere …", open(operations.closeAction)]] as Entry[]) : []),
    ["Bake this pass …", open(operations.bakePasses, { which: "chosen" })],
    [
      someEmpty.length > 0 ? `Remove ${someEmpty.length} empty` : "Remove empty passes",
      someEmpty.length > 0 ? edit({ do: "remove-empty" }) : null,
    ],
  ];
}

/** What a band plays on: a half of the body, or all that its action moves. */
function halfOf(shot: Shot, pass: Pass, half: "upper" | "lower" | "all"): (() => void) | null {
  const action = playedAction(shot, pass);
  const upper = upperBody(shot.rig);
  if (!action || (!upper && half !== "all")) return null;
  const isMeant = (key: string) => half === "all" || upper?.has(splitChannelKey(key).control) === (half === "upper");
  const members = Object.keys(action.clip.curves).filter(isMeant);
  return members.length > 0 ? () => performOrTell(operations.changeBand, { pass: pass.id, to: { members } }) : null;
}

function colourEntry(pass: Pass, colour: MarkColour | null): Entry {
  return [colour ?? "that of its kind", () => changePass(pass.id, { colour })];
}

const figureChannels = (shot: Shot) =>
  Object.keys(shot.base).filter((key) => shot.rig.controls.some((c) => key.startsWith(`${c.id}.`) && !isScenery(c)));

/** Body parts of the rig, for choosing many members at once. */
function partsOf(shot: Shot): { name: string; channels: string[] }[] {
  const parts = [...new Set(shot.rig.controls.map(({ part }) => part))].filter((part) => part !== "");
  const channelsOf = (wanted: readonly string[]) =>
    shot.rig.controls
      .filter(({ part }) => wanted.includes(part))
      .flatMap(({ id, channels }) => channels.map((channel) => channelKey(id, channel)));
  const upper = ["body", "head", "arms", "hands"].filter((part) => parts.includes(part));
  return [
    ...(upper.length > 1 ? [{ name: "the upper body", channels: channelsOf(upper) }] : []),
    ...parts.map((part) => ({ name: `the ${part}`, channels: channelsOf([part]) })),
  ].filter(({ channels }) => channels.length > 0);
}
