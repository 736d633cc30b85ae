import { type Curve, insertKeyOn, mapKeys, NO_MAP, type Pass, removeKeys, withPass } from "@kneader/core";
import { clock } from "../../clock.ts";
import { currentDocument, useDocuments } from "../../documents.ts";
import { changePass } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { frameAt, useTimeAxis, xOf } from "../../timeAxis.ts";
import { isSecondPress } from "./isSecondPress.ts";

interface WeightKeysProps {
  pass: Pass;
  /** Left edge of the band in pixels, its height, and the weight its full height stands for. */
  left: number;
  height: number;
  most: number;
  /** A key, by its frame, is to be typed. */
  onOpen(frame: number): void;
}

/** Put a key on a pass's weight at the playhead; the weight stays what it is. */
export function keyWeightHere(pass: Pass): void {
  const { start, end } = currentDocument()?.range ?? { start: 1, end: 1 };
  const keyed = keyedAt(pass.weight, clock.frame);
  // One key alone would say the same all along: the other end of the shot has one too.
  const other = clock.frame - start > end - clock.frame ? start : end;
  changePass(pass.id, { weight: keyed.times.length > 1 ? keyed : insertKeyOn(keyed, Math.round(other)) });
}

/** The same where the band was pressed. */
export function addWeightKey(pass: Pass, event: React.MouseEvent): void {
  const band = event.currentTarget.closest(".plot");
  if (!band) return;
  const frame = Math.round(frameAt(useTimeAxis.getState(), event.clientX - band.getBoundingClientRect().left));
  changePass(pass.id, { weight: keyedAt(pass.weight, frame) });
}

/** A constant weight has a key at frame 0 that stands for all of it; it is left where a range begins instead. */
function keyedAt(weight: Curve, frame: number): Curve {
  const start = Math.round(currentDocument()?.range.start ?? 1);
  const begun =
    weight.times.length === 1 && weight.times[0] < start ? mapKeys(weight, [0], { ...NO_MAP, timeShift: start - weight.times[0] }) : weight;
  return insertKeyOn(begun, frame);
}

/** The keys of a keyed weight: click to type one, drag it in time and height, double-click removes it. */
export function WeightKeys({ pass, left, height, most, onOpen }: WeightKeysProps) {
  const axis = useTimeAxis();
  const yOf = (weight: number) => height - 1 - Math.min(most, Math.max(0, weight)) * ((height - 3) / most);

  const drag = (i: number, event: React.PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const shot = currentDocument();
    if (!shot) return;
    const { clientX, clientY } = event;
    const { setPreview } = useDocuments.getState();
    let next = pass;
    followPointer({
      move(now) {
        const a = useTimeAxis.getState();
        const frames = Math.round(frameAt(a, now.clientX - clientX) - frameAt(a, 0));
        const percent = Math.round((((clientY - now.clientY) / (height - 3)) * most * 100) / 5) * 5;
        next = { ...pass, weight: mapKeys(pass.weight, [i], { ...NO_MAP, timeShift: frames, valueShift: percent / 100 }) };
        setPreview(withPass(shot, pass.id, () => next));
      },
      done() {
        setPreview(null);
        if (next !== pass) changePass(pass.id, { weight: next.weight });
        else onOpen(pass.weight.times[i]);
      },
      cancel: () => setPreview(null),
    });
  };

  const remove = (i: number) => {
    const weight = removeKeys(pass.weight, [i]);
    if (weight) changePass(pass.id, { weight });
  };

  return (
    <>
      {Array.from(pass.weight.times, (time, i) => (
        <g key={time} className="band-weight-key" onPointerDown={(event) => (isSecondPress(event) ? remove(i) : drag(i, event))}>
          <circle className="reach" cx={xOf(axis, time) - left} cy={yOf(pass.weight.values[i])} r={9} />
          <circle cx={xOf(axis, time) - left} cy={yOf(pass.weight.values[i])} r={3.5} />
          <title>{`Weight ${Math.round(pass.weight.values[i] * 100)} % at frame ${time}. Click to type it, drag it, double-click removes it`}</title>
        </g>
      ))}
    </>
  );
}
