import { likelyFlips, operations, type Shot } from "@kneader/core";
import { Button, Select } from "antd";
import { useState } from "react";
import { performOrTell } from "../bench/perform.ts";
import type { RigRow } from "./rigRows.ts";

type Pair = NonNullable<Parameters<typeof operations.changeRig.run>[2]["pair"]>;

export const pair = (said: Pair): boolean => performOrTell(operations.changeRig, { pair: said });

const SELF = "itself";
const NOBODY = "nobody";

/** Who takes a control's image: another one, itself, or nobody. A list opens when it is pressed. */
export function PartnerCell({ row, shot, disabled }: { row: RigRow; shot: Shot; disabled: boolean }) {
  const { control, partner } = row;
  const [open, setOpen] = useState(false);
  const name = partner === null ? NOBODY : partner.id === control.id ? "itself, in the middle" : partner.name;
  if (!open)
    return (
      <Button
        type="text"
        size="small"
        className="rig-cell"
        disabled={disabled}
        aria-label={`Partner of ${control.name}: ${name}`}
        onClick={() => setOpen(true)}
      >
        {name}
      </Button>
    );
  const choose = (id: string) => {
    setOpen(false);
    const to = id === NOBODY ? null : id === SELF ? control.id : id;
    // Whom it was paired with stands alone from then on.
    const left = partner && partner.id !== control.id ? { [partner.id]: { partner: null } } : {};
    const found = to !== null && to !== control.id ? { [to]: { partner: control.id } } : {};
    const other = shot.rig.controls.find((one) => one.id === to);
    // A partner that has one already is refused, not taken away.
    const isTaken =
      other && other.id !== control.id && other.partner !== null && other.partner !== control.id && other.partner !== other.id;
    pair({ ...left, ...(isTaken ? {} : found), [control.id]: { partner: to } });
  };
  return (
    <Select
      size="small"
      autoFocus
      defaultOpen
      showSearch
      optionFilterProp="label"
      popupMatchSelectWidth={220}
      aria-label={`Partner of ${control.name}`}
      value={partner === null ? NOBODY : partner.id === control.id ? SELF : partner.id}
      options={[
        { value: SELF, label: "itself, in the middle" },
        { value: NOBODY, label: "nobody: never mirrored" },
        ...shot.rig.controls.filter(({ id }) => id !== control.id).map(({ id, name: label }) => ({ value: id, label })),
      ]}
      onChange={choose}
      onBlur={() => setOpen(false)}
    />
  );
}

/** Mirrored by the rest pose, by signs, left out or never. */
export function RuleCell({ row, shot, disabled }: { row: RigRow; shot: Shot; disabled: boolean }) {
  const { control, how, partner } = row;
  const both = partner && partner.id !== control.id ? [control.id, partner.id] : [control.id];
  const bySigns = typeof control.mirror === "object";
  const [open, setOpen] = useState(false);
  const said = bySigns ? "copied by signs" : how;
  if (!open)
    return (
      <Button
        type="text"
        size="small"
        className="rig-cell rig-rule"
        disabled={disabled || how === "never"}
        aria-label={`How ${control.name} is mirrored: ${said}`}
        onClick={() => setOpen(true)}
      >
        {said}
      </Button>
    );
  const put = (value: string) => {
    setOpen(false);
    if (value === "never") return pair({ ...Object.fromEntries(both.map((id) => [id, { partner: null }])) });
    const rule = (id: string) =>
      value === "left out" ? ("left out" as const) : value === "signs" ? { flips: likelyFlips(shot.rig, id) } : null;
    pair(Object.fromEntries(both.map((id) => [id, { mirror: rule(id) }])));
  };
  return (
    <Select
      size="small"
      autoFocus
      defaultOpen
      className="rig-rule"
      onBlur={() => setOpen(false)}
      aria-label={`How ${control.name} is mirrored`}
      value={bySigns ? "signs" : how}
      options={[
        { value: "mirrored", label: "mirrored" },
        { value: "signs", label: "copied by signs" },
        { value: "left out", label: "left out" },
        { value: "never", label: "never" },
      ]}
      onChange={put}
    />
  );
}

/** The channels that change sign when they are copied; a press turns one round. */
export function FlipsCell({ row, disabled }: { row: RigRow; disabled: boolean }) {
  const { control } = row;
  if (typeof control.mirror !== "object") return null;
  const { flips } = control.mirror;
  const turn = (channel: string) =>
    pair({ [control.id]: { mirror: { flips: flips.includes(channel) ? flips.filter((one) => one !== channel) : [...flips, channel] } } });
  return (
    <span className="rig-flips">
      {control.channels.map((channel) => (
        <button
          key={channel}
          type="button"
          disabled={disabled}
          aria-pressed={flips.includes(channel)}
          title={`${channel.replace(/([XYZ])$/, " $1")} ${flips.includes(channel) ? "is copied with the other sign" : "is copied as it is"}. Press to change`}
          onClick={() => turn(channel)}
        >
          {flips.includes(channel) ? "−" : "+"}
          {channel.replace(/^(move|rotate|scale)([XYZ])$/, (_, kind: string, axis: string) => `${kind[0]}${axis}`)}
        </button>
      ))}
    </span>
  );
}
