import { curvesInScope, framesPerSecond, keyTimes, operations, rateFromFps } from "@kneader/core";
import { Button, Tooltip } from "antd";
import { ChevronFirst, ChevronLast, Infinity as InfinityIcon, Pause, Play, Repeat, StepBack, StepForward } from "lucide-react";
import { useState } from "react";
import { clock, useFrame, usePlaying } from "../clock.ts";
import { currentDocument, shownDocument, useReadOnly, useShownPart } from "../documents.ts";
import { NumberField } from "../NumberField.tsx";
import { performOrTell } from "../perform.ts";
import { currentScope } from "../selection.ts";

/** The next or previous key of what is in scope, or null. */
function neighbourKey(direction: 1 | -1): number | null {
  const shot = currentDocument();
  if (!shot) return null;
  const scope = { ...currentScope(), keys: null };
  const times = keyTimes(shot, scope.layer, curvesInScope(shot, scope));
  const found = direction > 0 ? times.find((t) => t > clock.frame + 0.5) : times.findLast((t) => t < clock.frame - 0.5);
  return found ?? null;
}

export function stepKey(direction: 1 | -1): void {
  const frame = neighbourKey(direction);
  if (frame !== null) clock.set(frame);
}

const ICON = 16;

/** Play, step, and the frame number. Only the number is drawn anew while the shot plays. */
export function Transport() {
  return (
    <section className="panel transport" aria-label="Playback">
      <PlayButtons />
      <FrameField />
      <LoopButton />
      <CycleButton />
    </section>
  );
}

function goToEnd(end: "start" | "end"): void {
  const shot = shownDocument();
  if (shot) clock.set(shot.range[end]);
}

function PlayButtons() {
  const playing = usePlaying();
  return (
    <>
      <Tooltip title="First frame (Home)">
        <Button type="text" aria-label="First frame" icon={<ChevronFirst size={ICON} />} onClick={() => goToEnd("start")} />
      </Tooltip>
      <Tooltip title="Previous key (Shift ←)">
        <Button type="text" aria-label="Previous key" icon={<StepBack size={ICON} />} onClick={() => stepKey(-1)} />
      </Tooltip>
      <Tooltip title="Play (Space)">
        <Button
          type="primary"
          aria-label={playing ? "Pause" : "Play"}
          icon={playing ? <Pause size={ICON} /> : <Play size={ICON} />}
          onClick={() => clock.toggle()}
        />
      </Tooltip>
      <Tooltip title="Next key (Shift →)">
        <Button type="text" aria-label="Next key" icon={<StepForward size={ICON} />} onClick={() => stepKey(1)} />
      </Tooltip>
      <Tooltip title="Last frame (End)">
        <Button type="text" aria-label="Last frame" icon={<ChevronLast size={ICON} />} onClick={() => goToEnd("end")} />
      </Tooltip>
    </>
  );
}

function FrameField() {
  const rate = useShownPart((shot) => shot.rate);
  const playing = usePlaying();
  const readOnly = useReadOnly();
  const frame = useFrame();
  const fps = framesPerSecond(rate);
  const dropped = playing && clock.shownPerSecond > 0 && clock.shownPerSecond < fps * 0.9;
  return (
    <>
      <NumberField
        className="frame-field"
        label="Frame"
        title="The frame at the playhead"
        decimals={0}
        value={frame}
        onCommit={(value) => clock.set(value)}
      />
      {dropped ? (
        <span className="quiet fps" title="Frames are dropped so that the speed stays true">
          {`${clock.shownPerSecond} of ${round(fps)} fps`}
        </span>
      ) : (
        <NumberField
          className="fps"
          label="Frames per second"
          title="Frames per second. Keys stay on their frames: the shot plays quicker or slower"
          suffix=" fps"
          decimals={Number.isInteger(fps) ? 0 : 3}
          min={1}
          max={1000}
          value={fps}
          disabled={readOnly}
          onCommit={(value) => performOrTell(operations.changeShot, { rate: rateFromFps(value) })}
        />
      )}
    </>
  );
}

function LoopButton() {
  const [loop, setLoop] = useState(clock.loop);
  return (
    <Tooltip title="Loop the range">
      <Button
        type={loop ? "default" : "text"}
        className={loop ? "on" : ""}
        aria-label="Loop"
        aria-pressed={loop}
        icon={<Repeat size={ICON} />}
        onClick={() => {
          clock.loop = !loop;
          setLoop(!loop);
        }}
      />
    </Tooltip>
  );
}

function CycleButton() {
  const cyclic = useShownPart((shot) => shot.cyclic);
  const readOnly = useReadOnly();
  return (
    <Tooltip title="A cycle: the last frame is the first again, so looped playback leaves it out">
      <Button
        type={cyclic ? "default" : "text"}
        className={cyclic ? "on" : ""}
        aria-label="Cycle"
        aria-pressed={cyclic}
        disabled={readOnly}
        icon={<InfinityIcon size={ICON} />}
        onClick={() => performOrTell(operations.changeShot, { cyclic: !cyclic })}
      />
    </Tooltip>
  );
}

function round(value: number): string {
  return String(Math.round(value * 1000) / 1000);
}
