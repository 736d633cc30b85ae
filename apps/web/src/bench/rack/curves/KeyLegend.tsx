import { useEffect, useRef } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { drawMark } from "./drawCurves.ts";
import type { KeyMark } from "./curveView.ts";

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

function Mark({ mark }: { mark: KeyMark }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = usePreferences((state) => state.theme);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    context.setTransform(2, 0, 0, 2, 0, 0);
    context.clearRect(0, 0, 18, 12);
    context.fillStyle = palettes[theme].quiet;
    context.strokeStyle = palettes[theme].quiet;
    drawMark(context, mark, 9, 6, 4, palettes[theme].panel);
  }, [mark, theme]);
  return <canvas ref={canvas} width={36} height={24} aria-hidden />;
}
