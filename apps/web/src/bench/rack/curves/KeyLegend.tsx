import { keyMarks } from "./curveView.ts";
import { Mark } from "./Mark.tsx";

/** What the shapes of keys mean. */
export function KeyLegend() {
  return (
    <div className="legend" role="group" aria-label="Key marks">
      {keyMarks.map((mark) => (
        <span key={mark}>
          <Mark mark={mark} />
          {mark}
        </span>
      ))}
    </div>
  );
}
