import { controlById, type OffPlace, type Shot } from "@kneader/core";
import { useState } from "react";
import { clock } from "../clock.ts";
import { useSelection } from "../selection.ts";
import { sayAngle, sayLength } from "../units.ts";

/** So many are listed before the rest is asked for. */
const FEW = 3;

/** Controls that are not where they should be, the worst first; pressed, the bench goes there and picks it. */
export function OffList({ off, shot }: { off: readonly OffPlace[]; shot: Shot }) {
  const [all, setAll] = useState(false);
  return (
    <div className="report-row off-list">
      <span className="quiet" title="How far each lands beside the reflection of its partner">
        Beside
      </span>
      <span className="worst">
        {(all ? off : off.slice(0, FEW)).map(({ control, frame, distance, turn }) => {
          const name = controlById(shot.rig, control)?.name ?? control;
          const by = [distance > 0 && sayLength(distance, shot), turn > 0.005 && sayAngle(turn)].filter(Boolean).join(", ");
          return (
            <button
              key={control}
              type="button"
              className="link"
              tabIndex={-1}
              title={`${name} is worst at frame ${frame}. Press to go there`}
              aria-label={`${name} beside by ${by} at frame ${frame}`}
              onClick={() => {
                clock.set(frame);
                useSelection.getState().pickControls([control]);
              }}
            >
              {name} <b className="mono">{by}</b>
            </button>
          );
        })}
        {off.length > FEW && (
          <button type="button" className="link" tabIndex={-1} onClick={() => setAll(!all)}>
            {all ? "fewer" : `${off.length - FEW} more`}
          </button>
        )}
      </span>
    </div>
  );
}
