import { type ChannelKey, type Curves, layerCurves, pickedCount } from "@kneader/core";
import { memo, useMemo } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { useReadOnly, useShownKeys } from "../../documents.ts";
import { mapPicked } from "../../edits.ts";
import { NumberField } from "../../NumberField.tsx";
import { useSelection } from "../../selection.ts";
import { useSettled } from "../../useSettled.ts";
import { boxMap, type KeyBox, placesOfPicked } from "../plot/keyBox.ts";

/** The picked keys in numbers that can be typed: a key's frame and value, or the sides of the box around several. */
export function KeyNumbers() {
  const { keys, layer } = useSelection();
  const curves = layerCurves(useShownKeys(), layer);
  // Of thousands of keys the numbers wait until a drag is over.
  const heavy = pickedCount(keys) > 1000;
  return <KeyFields curves={useSettled(curves, heavy)} keys={useSettled(keys, heavy)} />;
}

interface KeyFieldsProps {
  readonly curves: Curves;
  readonly keys: Readonly<Record<ChannelKey, readonly number[]>>;
}

const KeyFields = memo(function KeyFields({ curves, keys }: KeyFieldsProps) {
  const readOnly = useReadOnly();
  const wholeFrames = usePreferences((state) => state.wholeFrames);
  const places = useMemo(() => placesOfPicked(curves, keys), [curves, keys]);
  if (!places) return null;
  const { box, count } = places;
  const go = (change: Partial<KeyBox>) => {
    const next = { ...box, ...change };
    if (next.end < next.start || box.start === box.end) {
      // One column of keys, or a side typed past the other: all move.
      const by = (change.start ?? change.end ?? box.start) - (change.start === undefined ? box.end : box.start);
      next.start = box.start + by;
      next.end = box.end + by;
    }
    if (box.low === box.high && (change.low ?? change.high) !== undefined) next.low = next.high = (change.low ?? change.high) as number;
    mapPicked(boxMap(box, next, wholeFrames));
  };
  const field = (label: string, side: keyof KeyBox, decimals: number) => (
    <NumberField
      className="tiny"
      label={label}
      title={`${label}. Arithmetic works: +3, *1.2`}
      decimals={decimals}
      value={box[side]}
      disabled={readOnly}
      onCommit={(value) => go({ [side]: value })}
    />
  );
  const decimals = Number.isInteger(box.start) && Number.isInteger(box.end) ? 0 : 2;
  return (
    <div className="key-numbers" role="group" aria-label={count === 1 ? "The picked key" : `The ${count} picked keys`}>
      <Word text={box.start === box.end ? "Frame" : "Frames"} />
      {field(box.start === box.end ? "Frame of the picked keys" : "First frame of the picked keys", "start", decimals)}
      {box.start !== box.end && <>–{field("Last frame of the picked keys", "end", decimals)}</>}
      <Word text={box.low === box.high ? "Value" : "Values"} />
      {field(box.low === box.high ? "Value of the picked keys" : "Lowest value of the picked keys", "low", 2)}
      {box.low !== box.high && <>–{field("Highest value of the picked keys", "high", 2)}</>}
    </div>
  );
});

/** A word, or where the rack is narrow its first letter. */
function Word({ text }: { text: string }) {
  return (
    <span className="quiet" title={text}>
      {text[0]}
      <span className="rest">{text.slice(1)}</span>
    </span>
  );
}
