import { type Action, framesPerSecond } from "@kneader/core";
import { Button, Slider } from "antd";
import { Pause, Play } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { useThumbnail } from "../bench/rack/poses/useThumbnail.ts";
import { actionShot } from "./actionShot.ts";

/** An action playing by itself; drag the slider to look at a frame. */
export function ActionPlayer({ action, small = false, onFrame }: { action: Action; small?: boolean; onFrame?(frame: number): void }) {
  const { length, rate } = action.clip;
  const [frame, setFrame] = useState(0);
  const [playing, setPlaying] = useState(false);
  const shown = useRef(frame);
  shown.current = frame;
  const picture = useThumbnail(actionShot(action), frame, small ? 200 : 360, small ? 140 : 240, 0);
  useEffect(() => onFrame?.(frame), [frame, onFrame]);
  useEffect(() => {
    if (!playing || length === 0) return;
    // Small pictures are drawn one by one; twelve a second is what a preview needs.
    const fps = framesPerSecond(rate);
    const start = performance.now();
    const from = shown.current;
    const timer = setInterval(() => setFrame(Math.round(from + ((performance.now() - start) / 1000) * fps) % (length + 1)), 83);
    return () => clearInterval(timer);
  }, [playing, length, rate]);
  return (
    <div className={small ? "action-player small" : "action-player"}>
      <div className="action-stage">{picture && <img src={picture} alt={`${action.card.name}, frame ${frame}`} draggable={false} />}</div>
      {length > 0 && (
        <div className="action-bar">
          <Button
            type="primary"
            size="small"
            aria-label={playing ? "Pause" : "Play"}
            icon={playing ? <Pause size={14} /> : <Play size={14} />}
            onClick={() => setPlaying(!playing)}
          />
          <Slider
            min={0}
            max={length}
            value={frame}
            ariaLabelForHandle="Frame"
            tooltip={{ open: false }}
            onChange={(value) => {
              setPlaying(false);
              setFrame(value);
            }}
          />
          <span className="mono">
            {frame}/{length}
          </span>
        </div>
      )}
    </div>
  );
}
