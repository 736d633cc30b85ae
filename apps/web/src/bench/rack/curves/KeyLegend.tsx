import type { KeyMark } from "./curveView.ts";
import { Mark } from "./Mark.tsx";

const marks: KeyMark[] = ["auto", "smooth", "flat", "linear", "stepped", "free", "broken"];

/** What the shapes of keys mean. */
export function KeyLegend() {
  return (
    <div className="legend" role="group" aria-label="Key marks">
      {marks.map((mark) => (
        <span key={mark}>
          <Mark mark={mark} />
          {mark}
        </span>
      ))}
    </div>
  );
}
