import { type Action, figureControls, fitClip, type HandMap, type Pair, splitChannelKey } from "@kneader/core";
import { Button, Select, Tag } from "antd";
import { ChevronDown, ChevronRight } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { download } from "../../export/download.ts";
import { pickFiles, whenPicked } from "../../app/pickFiles.ts";
import { keepMap, keptMap, mapFromText, mapToText } from "../../pantry/maps.ts";
import { tell } from "../notices.ts";
import type { FieldProps } from "./property.ts";
import { SkeletonPicture } from "./SkeletonPicture.tsx";
import { useWork } from "./workStore.ts";
import "./mapping.css";

const ways: Readonly<Record<Pair["by"], string>> = {
  name: "by name",
  path: "by path",
  place: "by place",
  shape: "by shape",
  hand: "by hand",
};

/** Left out on purpose. */
const NOBODY = "*nobody";

/** Who takes whose motion: what was found and how, what was not, and the way to say it by hand. Kept for the two figures. */
export function MappingField({ title, value, shot, disabled, onChange }: FieldProps) {
  const action = useWork((state) => state.settings.action) as Action | undefined;
  const hand = (value ?? {}) as HandMap;
  const [isOpen, setOpen] = useState(false);
  const fitted = useMemo(() => (action ? fitClip(action.clip, shot.rig, { hand }) : null), [action, shot.rig, hand]);
  // What was said for these two figures before holds again.
  useEffect(() => {
    if (!action) return;
    let wanted = true;
    void keptMap(action.clip, shot.rig).then((kept) => {
      const { settings, set } = useWork.getState();
      if (wanted && kept && settings.action === action) set({ ...settings, map: kept });
    });
    return () => {
      wanted = false;
    };
  }, [action, shot.rig]);
  if (!action || !fitted) return null;
  const say = (next: HandMap) => {
    onChange(next);
    void keepMap(action.clip, shot.rig, next);
  };
  const moved = new Set(Object.keys(action.clip.curves).map((key) => splitChannelKey(key).control));
  const missing = [...moved].filter((id) => fitted.match.open.includes(id) && !fitted.match.bridged.from.includes(id));
  const load = () => {
    whenPicked((files) => void files[0]?.text().then((text) => say(mapFromText(text)), tell));
    pickFiles();
  };
  return (
    <div className="setting mapping">
      <button type="button" className="mapping-head" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
        <span className="setting-title">{title}</span>
        <Tag color={missing.length + fitted.match.contested.length > 0 ? "gold" : "green"}>
          {moved.size - missing.length} of {moved.size}
          {missing.length > 0 ? `, ${missing.length} without a place` : ""}
        </Tag>
      </button>
      {isOpen && (
        <>
          <MappingRows action={action} fitted={fitted} hand={hand} shot={shot} disabled={disabled} onSay={say} />
          <div className="mapping-tools">
            <Button size="small" disabled={Object.keys(hand).length === 0} onClick={() => say({})}>
              Forget what was said
            </Button>
            <Button size="small" onClick={() => download(mapToText(hand), "who-takes-whose-motion.json")}>
              Save map
            </Button>
            <Button size="small" disabled={disabled} onClick={load}>
              Load map
            </Button>
          </div>
        </>
      )}
    </div>
  );
}

interface RowsProps {
  readonly action: Action;
  readonly fitted: NonNullable<ReturnType<typeof fitClip>>;
  readonly hand: HandMap;
  readonly shot: FieldProps["shot"];
  readonly disabled: boolean;
  onSay(next: HandMap): void;
}

function MappingRows({ action, fitted, hand, shot, disabled, onSay }: RowsProps) {
  const { match } = fitted;
  const [at, setAt] = useState<string | null>(null);
  const pairs = new Map(match.pairs.map((pair) => [pair.from, pair]));
  const moved = new Set(Object.keys(action.clip.curves).map((key) => splitChannelKey(key).control));
  const contested = new Set(match.contested.flatMap(({ from }) => from));
  const rank = (id: string) =>
    contested.has(id) ? 0 : pairs.has(id) ? 2 + (pairs.get(id)?.sure ?? 0) : match.bridged.from.includes(id) ? 1.5 : 1;
  const rows = action.clip.controls.filter(({ id }) => moved.has(id)).sort((a, b) => rank(a.id) - rank(b.id));
  const options = [
    { value: NOBODY, label: "Nobody: left out" },
    ...figureControls(shot.rig).map(({ id, name }) => ({ value: id, label: name })),
  ];
  const set = (id: string, to: string | undefined) => {
    const { [id]: _, ...others } = hand;
    onSay(to === undefined ? others : { ...others, [id]: to === NOBODY ? null : to });
  };
  const stateOf = (id: string) => {
    const pair = pairs.get(id);
    if (pair) return pair.by === "hand" ? ways.hand : `${ways[pair.by]}, ${Math.round(pair.sure * 100)} %`;
    if (hand[id] === null) return "left out";
    if (contested.has(id)) return "two could be it";
    return match.bridged.from.includes(id) ? "bridged" : "no place";
  };
  return (
    <div className="mapping-rows">
      <SkeletonPicture controls={action.clip.controls} at={at ?? rows[0]?.id ?? null} />
      <ul>
        {rows.map(({ id, name }) => (
          <li key={id} onPointerEnter={() => setAt(id)} onFocus={() => setAt(id)} className={pairs.has(id) ? "" : "open"}>
            <span className="mapping-name" title={name}>
              {name}
            </span>
            <Select
              size="small"
              showSearch={{ optionFilterProp: "label" }}
              allowClear
              aria-label={`Takes the motion of ${name}`}
              placeholder="Nobody yet"
              disabled={disabled}
              value={hand[id] === null ? NOBODY : pairs.get(id)?.to}
              options={options}
              onChange={(to) => set(id, to)}
            />
            <span className="quiet">{stateOf(id)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
