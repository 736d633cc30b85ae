import type { Curve, RunOn } from "./curve.ts";

/** Does a run play the keys again? */
export function repeats({ kind }: RunOn): boolean {
  return kind !== "hold" && kind !== "straight";
}

/** Where a time outside the keys is read: a time within them and a value to add. */
interface RunPlace {
  time: number;
  offset: number;
}

/**
 * Fold a time before the first key or after the last one back into the keyed span, by the curve's
 * run-in or run-out. Past the last round the curve holds where that round ended.
 */
export function mapRun(curve: Curve, time: number): RunPlace {
  const { times, values } = curve;
  const last = times.length - 1;
  const first = times[0];
  const end = times[last];
  const before = time < first;
  const run = before ? curve.runIn : curve.runOut;
  const edge = before ? first : end;
  const span = end - first;
  if (run.kind === "straight") {
    const slope = before ? curve.slopeIn[0] : curve.slopeOut[last];
    return { time: edge, offset: slope * (time - edge) };
  }
  if (run.kind === "hold" || span <= 0) return { time: edge, offset: 0 };

  const away = before ? first - time : time - end;
  const travelStep = run.kind === "travel" ? values[last] - values[0] : 0;
  const limit = run.rounds > 0 ? run.rounds * span : Number.POSITIVE_INFINITY;
  const sign = before ? -1 : 1;
  if (away >= limit) {
    const swapped = run.kind === "pingpong" && run.rounds % 2 === 1;
    const atEnd = before === swapped;
    return { time: atEnd ? end : first, offset: sign * run.rounds * travelStep };
  }
  // A seam between rounds belongs to the round nearer to the keys.
  const round = Math.max(0, Math.ceil(away / span - 1e-9) - 1);
  const into = Math.min(span, away - round * span);
  const offset = sign * (round + 1) * travelStep;
  if (run.kind === "pingpong") {
    const backward = round % 2 === 0;
    return { time: before === backward ? first + into : end - into, offset: 0 };
  }
  return { time: before ? end - into : first + into, offset };
}
