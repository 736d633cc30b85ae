import type { Constraint } from "@kneader/core";
import { useShownPart } from "../../documents.ts";
import { useTimeAxis, xOf } from "../../timeAxis.ts";

const HEIGHT = 22;

/** A constraint that has no strength over time, as a carrier: a band as long as the shot. */
export function WholeBand({ tie, chosen, onChoose }: { tie: Constraint; chosen: boolean; onChoose(): void }) {
  const axis = useTimeAxis();
  const range = useShownPart((shot) => shot.range);
  const left = xOf(axis, range.start);
  const width = Math.max(4, xOf(axis, range.end) - left);
  return (
    <svg
      className={`band tie ${chosen ? "chosen" : ""}`}
      data-colour={tie.colour ?? undefined}
      width={width}
      height={HEIGHT}
      style={{ left }}
      aria-hidden
    >
      <rect className="band-body" x={0.5} y={0.5} width={Math.max(1, width - 1)} height={HEIGHT - 1} rx={5} onPointerDown={onChoose} />
    </svg>
  );
}
