import { type Curve, insertKeyOn, mapKeys, NO_MAP, type Pass, removeKeys, type Shot, withPass } from "@kneader/core";
import { clock } from "../../clock.ts";
import { currentDocument, useDocuments } from "../../documents.ts";
import { changePass } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { frameAt, useTimeAxis, xOf } from "../../timeAxis.ts";
import { isSecondPress } from "./isSecondPress.ts";

/** Something whose weight is drawn in its band and keyed over time: a pass, or a constraint with its strength. */
export interface Weighted {
  readonly weight: Curve;
  /** A shot in which it has another weight, for a look. */
  shown(shot: Shot, weight: Curve): Shot;
  change(weight: Curve): void;
}

/** A pass as something weighted. */
export const weightedPass = (pass: Pass): Weighted => ({
  weight: pass.weight,
  shown: (shot, weight) => withPass(shot, pass.id, (one) => ({ ...one, weight })),
  change: (weight) => changePass(pass.id, { weight }),
});

interface WeightKeysProps {
  of: Weighted;
  /** What the weight is called: "Weight", "Strength". */
  title?: string;
  /** Left edge of the band in pixels, its height, and the weight its full height stands for. */
  left: number;
  height: number;
  most: number;
  /** A key, by its frame, is to be typed. */
  onOpen(frame: number): void;
}

/** Put a key on a weight at the playhead; the weight stays what it is. */
export function keyWeightHere({ weight, change }: Weighted): void {
  const { start, end } = currentDocument()?.range ?? { start: 1, end: 1 };
  const keyed = keyedAt(weight, clock.frame);
  // One key alone would say the same all along: the other end of the shot has one too.
  const other = clock.frame - start > end - clock.frame ? start : end;
  change(keyed.times.length > 1 ? keyed : insertKeyOn(keyed, Math.round(other)));
}

/** The same where the band was pressed. */
export function addWeightKey({ weight, change }: Weighted, event: React.MouseEvent): void {
  const band = event.currentTarget.closest(".plot");
  if (!band) return;
  const frame = Math.round(frameAt(useTimeAxis.getState(), event.clientX - band.getBoundingClientRect().left));
  change(keyedAt(weight, frame));
}

/** A constant weight has a key at frame 0 that stands for all of it; it is left where a range begins instead. */
function keyedAt(weight: Curve, frame: number): Curve {
  const start = Math.round(currentDocument()?.range.start ?? 1);
  const begun =
    weight.times.length === 1 && weight.times[0] < start ? mapKeys(weight, [0], { ...NO_MAP, timeShift: start - weight.times[0] }) : weight;
  return insertKeyOn(begun, frame);
}

/** A weight dragged up or down as a whole, live; one step when let go, Esc gives up. `most` percent at the most. */
export function dragWeight(
  { weight, shown, change }: Weighted,
  { clientY }: React.PointerEvent,
  [least, most]: readonly [number, number],
): void {
  const shot = currentDocument();
  if (!shot) return;
  const { setPreview } = useDocuments.getState();
  let next = weight;
  followPointer({
    move(now) {
      const percent = Math.round((weight.values[0] * 100 + (clientY - now.clientY) * 2) / 5) * 5;
      const by = Math.min(most, Math.max(least, percent)) / 100 - weight.values[0];
      next = { ...weight, values: weight.values.map((value) => value + by) };
      setPreview(shown(shot, next));
    },
    done() {
      setPreview(null);
      if (next !== weight) change(next);
    },
    cancel: () => setPreview(null),
  });
}

/** The keys of a keyed weight: click to type one, drag it in time and height, double-click removes it. */
export function WeightKeys({ of: { weight, shown, change }, title = "Weight", left, height, most, onOpen }: WeightKeysProps) {
  const axis = useTimeAxis();
  const yOf = (value: number) => height - 1 - Math.min(most, Math.max(0, value)) * ((height - 3) / most);

  const drag = (i: number, event: React.PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const shot = currentDocument();
    if (!shot) return;
    const { clientX, clientY } = event;
    const { setPreview } = useDocuments.getState();
    let next = weight;
    followPointer({
      move(now) {
        const a = useTimeAxis.getState();
        const frames = Math.round(frameAt(a, now.clientX - clientX) - frameAt(a, 0));
        const percent = Math.round((((clientY - now.clientY) / (height - 3)) * most * 100) / 5) * 5;
        next = mapKeys(weight, [i], { ...NO_MAP, timeShift: frames, valueShift: percent / 100 });
        setPreview(shown(shot, next));
      },
      done() {
        setPreview(null);
        if (next !== weight) change(next);
        else onOpen(weight.times[i]);
      },
      cancel: () => setPreview(null),
    });
  };

  const remove = (i: number) => {
    const left = removeKeys(weight, [i]);
    if (left) change(left);
  };

  return (
    <>
      {Array.from(weight.times, (time, i) => (
        <g key={time} className="band-weight-key" onPointerDown={(event) => (isSecondPress(event) ? remove(i) : drag(i, event))}>
          <circle className="reach" cx={xOf(axis, time) - left} cy={yOf(weight.values[i])} r={9} />
          <circle cx={xOf(axis, time) - left} cy={yOf(weight.values[i])} r={3.5} />
          <title>{`${title} ${Math.round(weight.values[i] * 100)} % at frame ${time}. Click to type it, drag it, double-click removes it`}</title>
        </g>
      ))}
    </>
  );
}
