import { likelyFlips, operations, type Shot } from "@kneader/core";
import { performOrTell } from "../bench/perform.ts";
import { PressSelect } from "./PressSelect.tsx";
import type { RigRow } from "./rigRows.ts";

type Pair = NonNullable<Parameters<typeof operations.changeRig.run>[2]["pair"]>;

export const pair = (said: Pair): boolean => performOrTell(operations.changeRig, { pair: said });

const SELF = "itself";
const NOBODY = "nobody";

/** Who takes a control's image: another one, itself, or nobody. */
export function PartnerCell({ row, shot, disabled }: { row: RigRow; shot: Shot; disabled: boolean }) {
  const { control, partner } = row;
  const choose = (id: string) => {
    const to = id === NOBODY ? null : id === SELF ? control.id : id;
    const other = shot.rig.controls.find((one) => one.id === to);
    // A partner that has one already is refused, not taken away.
    const isTaken =
      other && other.id !== control.id && other.partner !== null && other.partner !== control.id && other.partner !== other.id;
    // Whom it was paired with stands alone from then on.
    const left = partner && partner.id !== control.id ? { [partner.id]: { partner: null } } : {};
    const found = to !== null && to !== control.id && !isTaken ? { [to]: { partner: control.id } } : {};
    pair({ ...left, ...found, [control.id]: { partner: to } });
  };
  const isOwn = partner?.id === control.id;
  return (
    <PressSelect
      said={partner === null ? NOBODY : isOwn ? "itself, in the middle" : partner.name}
      label={`Partner of ${control.name}`}
      value={partner === null ? NOBODY : isOwn ? SELF : partner.id}
      disabled={disabled}
      options={[
        { value: SELF, label: "itself, in the middle" },
        { value: NOBODY, label: "nobody: never mirrored" },
        ...shot.rig.controls.filter(({ id }) => id !== control.id).map(({ id, name: label }) => ({ value: id, label })),
      ]}
      onChange={choose}
    />
  );
}

const rules = [
  { value: "mirrored", label: "mirrored" },
  { value: "signs", label: "copied by signs" },
  { value: "left out", label: "left out" },
  { value: "never", label: "never" },
];

/** Mirrored by the rest pose, by signs, left out or never; of both sides at once. */
export function RuleCell({ row, shot, disabled }: { row: RigRow; shot: Shot; disabled: boolean }) {
  const { control, how, partner } = row;
  const both = partner && partner.id !== control.id ? [control.id, partner.id] : [control.id];
  const value = typeof control.mirror === "object" ? "signs" : how;
  const put = (chosen: string) => {
    if (chosen === "never") return pair(Object.fromEntries(both.map((id) => [id, { partner: null }])));
    const rule = (id: string) =>
      chosen === "left out" ? ("left out" as const) : chosen === "signs" ? { flips: likelyFlips(shot.rig, id) } : null;
    return pair(Object.fromEntries(both.map((id) => [id, { mirror: rule(id) }])));
  };
  return (
    <PressSelect
      said={rules.find((one) => one.value === value)?.label ?? value}
      label={`How ${control.name} is mirrored`}
      value={value}
      disabled={disabled || how === "never"}
      options={rules}
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
