import {
  computedKind,
  envelope,
  keyOn,
  type Pass,
  type PassRange,
  passKind,
  playPass,
  sampleCurve,
  setKey,
  type Shot,
  unionOfTimes,
  WARP_FRAME,
  warpPass,
} from "@kneader/core";
import { useMemo, useState } from "react";
import { changePass } from "../../edits.ts";
import { NumberField } from "../../NumberField.tsx";
import { dragBand, type Grip } from "./dragBand.ts";
import { dragPlay } from "./dragPlay.ts";
import { PlayLabel } from "./PlayLabel.tsx";
import { addWeightKey, dragWeight, WeightKeys, weightedPass } from "./WeightKeys.tsx";
import { useShownPart } from "../../documents.ts";
import { useTimeAxis, xOf } from "../../timeAxis.ts";

const HEIGHT = 22;
/** Full height of the band is this much weight, so that pushing past 100 % shows. */
const MOST = 2;

interface PassBandProps {
  pass: Pass;
  chosen: boolean;
  onChoose(): void;
  /** Its ends and weight can be dragged; base motion has none. */
  editable?: boolean;
}

/** A pass over time: as long as its range, its weight drawn inside, key ticks; its ends and eases are draggable. */
export function PassBand({ pass, chosen, onChoose, editable = false }: PassBandProps) {
  const axis = useTimeAxis();
  const whole = useShownPart((shot) => shot.range);
  const rig = useShownPart((shot) => shot.rig);
  const base = useShownPart((shot) => shot.base);
  const range = useMemo(() => bandRange(pass, whole), [pass, whole]);
  const left = xOf(axis, range.start);
  const width = Math.max(4, xOf(axis, range.end) - left);
  const plays = pass.kind === playPass.id;
  const [typed, setTyped] = useState<number | null>(null);
  const ticks = useMemo(() => markedFrames(pass, range, { rig, base }), [pass, range, rig, base]);

  const weightLine = useMemo(() => {
    if (!editable) return "";
    const steps = pass.weight.times.length > 1 || pass.range ? 48 : 1;
    const points: string[] = [];
    for (let i = 0; i <= steps; i++) {
      const frame = range.start + ((range.end - range.start) * i) / steps;
      const weight = sampleCurve(pass.weight, frame) * envelope(pass.range, frame);
      points.push(`${(i / steps) * width},${HEIGHT - 1 - Math.min(MOST, Math.max(0, weight)) * ((HEIGHT - 3) / MOST)}`);
    }
    return points.join(" ");
  }, [pass, editable, width, range.start, range.end]);

  const drag = (grip: Grip | "weight") => (event: React.PointerEvent) => {
    onChoose();
    if (!editable || event.button !== 0) return;
    event.stopPropagation();
    if (grip === "weight") dragWeight(weightedPass(pass), event, [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY]);
    else if (plays && (grip === "start" || grip === "end" || grip === "whole")) dragPlay(pass, grip, event);
    else dragBand(pass, range, grip, event);
  };
  const ease = (frames: number) => Math.max(0, (frames / Math.max(1e-6, range.end - range.start)) * width);
  const at = typed === null ? -1 : keyOn(pass.weight, typed);
  return (
    <>
      {typed !== null && at >= 0 && (
        <span className="weight-key-field" style={{ left: xOf(axis, typed) }}>
          <NumberField
            autoFocus
            label={`Weight of ${pass.name} at frame ${typed}, percent`}
            decimals={0}
            min={-400}
            max={400}
            suffix=" %"
            value={Math.round(pass.weight.values[at] * 100)}
            onCommit={(percent) => changePass(pass.id, { weight: setKey(pass.weight, typed, percent / 100) })}
            onLeave={() => setTyped(null)}
          />
        </span>
      )}
      <svg
        className={`band ${chosen ? "chosen" : ""} ${computedKind(pass.kind) ? "computed" : pass.kind}`}
        data-colour={pass.colour ?? undefined}
        width={width}
        height={HEIGHT}
        style={{ left }}
        aria-hidden
      >
        <rect
          className="band-body"
          x={0.5}
          y={0.5}
          width={Math.max(1, width - 1)}
          height={HEIGHT - 1}
          rx={5}
          onPointerDown={drag(pass.range || pass.kind === warpPass.id ? "whole" : "weight")}
        />
        <path className="band-tick" d={ticks.map((frame) => `M${(xOf(axis, frame) - left).toFixed(1)} ${HEIGHT - 8}v6`).join("")} />
        {editable && (
          <>
            <polyline className="band-weight" points={weightLine} />
            <polyline
              className="band-grab"
              points={weightLine}
              onPointerDown={(event) => (event.altKey ? addWeightKey(weightedPass(pass), event) : drag("weight")(event))}
            >
              <title>Drag up or down: weight. Alt-click: a key on it</title>
            </polyline>
            {pass.weight.times.length > 1 && (
              <WeightKeys of={weightedPass(pass)} left={left} height={HEIGHT} most={MOST} onOpen={setTyped} />
            )}
            <rect className="band-end" x={0} y={0} width={6} height={HEIGHT} onPointerDown={drag("start")}>
              <title>{plays ? "Drag: its first frame; with Alt quicker or slower" : "Drag: where the pass starts"}</title>
            </rect>
            <rect className="band-end" x={width - 6} y={0} width={6} height={HEIGHT} onPointerDown={drag("end")}>
              <title>
                {plays ? "Drag: its last frame; with Alt quicker or slower, with Shift more rounds" : "Drag: where the pass ends"}
              </title>
            </rect>
            {pass.range && pass.kind !== warpPass.id && (
              <>
                <circle
                  className="band-ease"
                  cx={Math.min(width - 8, Math.max(9, ease(range.easeIn)))}
                  cy={4}
                  r={3.5}
                  onPointerDown={drag("easeIn")}
                >
                  <title>Drag: frames to come in</title>
                </circle>
                <circle
                  className="band-ease"
                  cx={Math.max(8, Math.min(width - 9, width - ease(range.easeOut)))}
                  cy={4}
                  r={3.5}
                  onPointerDown={drag("easeOut")}
                >
                  <title>Drag: frames to go out</title>
                </circle>
              </>
            )}
          </>
        )}
        {plays && <PlayLabel pass={pass} left={left} width={width} height={HEIGHT} />}
      </svg>
      {editable && plays && (
        // Above what stands at the right end of the row, which else covers the end of a band that is as long as the shot.
        <i className="band-end-over" style={{ left: left + width - 5 }} onPointerDown={drag("end")} aria-hidden />
      )}
    </>
  );
}

/** Where a pass applies; a warp does so between the ends of its curve. */
function bandRange(pass: Pass, whole: Shot["range"]): PassRange {
  const curve = pass.kind === warpPass.id ? pass.curves[WARP_FRAME] : undefined;
  if (curve && pass.range === null) return { start: curve.times[0], end: curve.times[curve.times.length - 1], easeIn: 0, easeOut: 0 };
  return pass.range ?? { ...whole, easeIn: 0, easeOut: 0 };
}

/** What the band marks: the frames a stepping pass shows, the frames with a key of any other. */
function markedFrames(pass: Pass, range: PassRange, { rig, base }: Pick<Shot, "rig" | "base">): number[] {
  const kind = passKind(pass.kind);
  if (kind?.id !== "stepping" || kind.reads !== "time" || range.end - range.start > 2000) return keyFrames(pass);
  const read = kind.reader(pass, { range, rig, base })("");
  const shown: number[] = [];
  for (let frame = Math.ceil(range.start); frame <= range.end; frame++) if (read(frame) === frame) shown.push(frame);
  const every = Math.ceil(shown.length / 160);
  return shown.filter((_, i) => i % every === 0);
}

/** Frames with a key, thinned so that a band never draws more marks than it has room for. */
function keyFrames(pass: Pass): number[] {
  const all = unionOfTimes(Object.values(pass.curves).map(({ times }) => times));
  const every = Math.ceil(all.length / 160);
  return Array.from(all.filter((_, i) => i % every === 0));
}
