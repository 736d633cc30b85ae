import { type Pass, playedAction, playOf, stretchOf } from "@kneader/core";
import { useShownPart } from "../../documents.ts";
import { useTimeAxis, xOf } from "../../timeAxis.ts";

/** Inside a band that plays an action: its name, which of its frames, how fast and how often, and where each round begins. */
export function PlayLabel({ pass, left, width, height }: { pass: Pass; left: number; width: number; height: number }) {
  const axis = useTimeAxis();
  const action = useShownPart((shot) => playedAction(shot, pass));
  const rate = useShownPart((shot) => shot.rate);
  const { start, from, to, speed, rounds } = playOf(pass);
  const length = action?.clip.length ?? to;
  const said = [
    action?.card.name ?? "missing",
    from > 0 || to < length ? `${short(from)}–${short(to)} of ${short(length)}` : "",
    Math.abs(speed - 100) > 0.5 ? `${Math.round(speed)} %` : "",
    rounds > 1 ? `${rounds} ×` : "",
  ]
    .filter(Boolean)
    .join(" · ");
  const period = action ? (to - from) * stretchOf(action.clip, rate, speed) : 0;
  const seams = Array.from({ length: Math.min(200, rounds - 1) }, (_, n) => xOf(axis, start + (n + 1) * period) - left);
  return (
    <g className="play-label">
      <path className="play-seams" d={seams.map((x) => `M${x.toFixed(1)} 1v${height - 2}`).join("")} />
      <svg x={0} y={0} width={Math.max(0, width - 8)} height={height}>
        <text x={Math.max(10, 6 - left)} y={height - 7}>
          {said}
        </text>
      </svg>
    </g>
  );
}

const short = (frame: number) => Math.round(frame * 10) / 10;
