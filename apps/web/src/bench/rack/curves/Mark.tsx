import { useEffect, useRef } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import type { KeyMark } from "./curveView.ts";
import { drawMark } from "./drawCurves.ts";

/** The mark of one kind of key, as the curve tray draws it. */
export function Mark({ mark }: { mark: KeyMark }) {
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
  return <canvas ref={canvas} className="mark" width={36} height={24} aria-hidden />;
}
