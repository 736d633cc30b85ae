import { type Constraint, keyOn, sampleCurve, setKey } from "@kneader/core";
import { useMemo, useState } from "react";
import { useReadOnly, useShownPart } from "../../documents.ts";
import { NumberField } from "../../NumberField.tsx";
import { useTimeAxis, xOf } from "../../timeAxis.ts";
import { addWeightKey, dragWeight, WeightKeys } from "../passes/WeightKeys.tsx";
import { strengthOf, weightedTie } from "./tieEdits.ts";

const HEIGHT = 22;
/** Full height of the band is full strength and a little, so that a line at the top is seen. */
const MOST = 1.1;
const STEPS = 60;

/** A constraint over the shot with its strength drawn inside, dragged and keyed like the weight of a pass. */
export function StrengthBand({ tie, chosen, onChoose }: { tie: Constraint; chosen: boolean; onChoose(): void }) {
  const axis = useTimeAxis();
  const readOnly = useReadOnly();
  const range = useShownPart((shot) => shot.range);
  const [typed, setTyped] = useState<number | null>(null);
  const strength = strengthOf(tie);
  const left = xOf(axis, range.start);
  const width = Math.max(4, xOf(axis, range.end) - left);
  const line = useMemo(() => {
    const steps = strength.times.length > 1 ? STEPS : 1;
    return Array.from({ length: steps + 1 }, (_, i) => {
      const value = sampleCurve(strength, range.start + ((range.end - range.start) * i) / steps);
      return `${(i / steps) * width},${HEIGHT - 1 - Math.min(MOST, Math.max(0, value)) * ((HEIGHT - 3) / MOST)}`;
    }).join(" ");
  }, [strength, range, width]);
  const weighted = weightedTie(tie);
  const press = (event: React.PointerEvent) => {
    onChoose();
    if (event.button !== 0 || readOnly) return;
    event.stopPropagation();
    if (event.altKey) addWeightKey(weighted, event);
    else dragWeight(weighted, event, [0, 100]);
  };
  const at = typed === null ? -1 : keyOn(strength, typed);
  return (
    <>
      {typed !== null && at >= 0 && (
        <span className="weight-key-field" style={{ left: xOf(axis, typed) }}>
          <NumberField
            autoFocus
            label={`Strength of ${tie.name} at frame ${typed}, percent`}
            decimals={0}
            min={0}
            max={100}
            suffix=" %"
            value={Math.round(strength.values[at] * 100)}
            onCommit={(percent) => weighted.change(setKey(strength, typed, percent / 100))}
            onLeave={() => setTyped(null)}
          />
        </span>
      )}
      <svg
        className={`band tie ${chosen ? "chosen" : ""}`}
        data-colour={tie.colour ?? undefined}
        width={width}
        height={HEIGHT}
        style={{ left }}
        aria-hidden
      >
        <rect className="band-body" x={0.5} y={0.5} width={Math.max(1, width - 1)} height={HEIGHT - 1} rx={5} onPointerDown={press}>
          <title>Drag up or down: strength. Alt-click: a key on it</title>
        </rect>
        <polyline className="band-weight" points={line} />
        <polyline className="band-grab" points={line} onPointerDown={press} />
        {strength.times.length > 1 && (
          <WeightKeys of={weighted} title="Strength" left={left} height={HEIGHT} most={MOST} onOpen={setTyped} />
        )}
      </svg>
    </>
  );
}
