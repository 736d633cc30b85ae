import { CartesianGrid, Legend, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import { palettes, type ThemeName } from "../app/theme.ts";
import { clock, useRestingFrame } from "../bench/clock.ts";
import type { Difference } from "./differences.ts";

/** So many controls are drawn; the others are in the list. */
const MOST = 5;
const dashes = ["", "7 3", "2 3", "8 3 2 3", "4 4"];

interface DifferenceChartProps {
  frames: readonly number[];
  controls: readonly Difference[];
  /** Shown numbers a scene unit, and what they are. */
  factor: number;
  unit: string;
  theme: ThemeName;
}

/** How far apart the two sides are, control by control, over time. A click goes there. */
export function DifferenceChart({ frames, controls, factor, unit, theme }: DifferenceChartProps) {
  const frame = useRestingFrame();
  const palette = palettes[theme];
  const inks = [palette.plum, palette.teal, palette.ochre, palette.z, palette.y];
  const drawn = controls.slice(0, MOST);
  const data = frames.map((at, n) => ({ frame: at, ...Object.fromEntries(drawn.map(({ name, apart }) => [name, apart[n] * factor])) }));
  return (
    <ResponsiveContainer width="100%" height="100%">
      <LineChart
        data={data}
        margin={{ top: 6, right: 12, bottom: 0, left: 0 }}
        onClick={({ activeLabel }) => activeLabel !== undefined && clock.set(Number(activeLabel))}
      >
        <CartesianGrid stroke={palette.line} vertical={false} />
        <XAxis dataKey="frame" type="number" domain={["dataMin", "dataMax"]} stroke={palette.quiet} fontSize={12} />
        <YAxis stroke={palette.quiet} fontSize={12} width={58} unit={` ${unit}`} />
        <Tooltip formatter={(value) => `${Number(value).toFixed(1)} ${unit}`} labelFormatter={(at) => `Frame ${at}`} />
        <Legend wrapperStyle={{ fontSize: 12 }} />
        <ReferenceLine x={frame} stroke={palette.plum} />
        {drawn.map(({ name }, i) => (
          <Line
            key={name}
            dataKey={name}
            stroke={inks[i]}
            strokeDasharray={dashes[i]}
            dot={false}
            strokeWidth={1.8}
            isAnimationActive={false}
          />
        ))}
      </LineChart>
    </ResponsiveContainer>
  );
}
