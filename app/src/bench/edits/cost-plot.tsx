import { Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';

/** Pixels left and right of the steps: the axis, and room for its last number. */
const [LEFT, RIGHT] = [44, 6];

interface CostPlotProps {
  /** % of what it cost at first, by step. */
  readonly costs: readonly number[];
  /** Steps at which weights were turned. */
  readonly stages: readonly number[];
  readonly onStep: (step: number) => void;
}

/** What each step of a refinement came to; a touch goes back to that step. */
export default function CostPlot({ costs, stages, onStep }: CostPlotProps) {
  const palette = PALETTES[useTheme((state) => state.name)];
  const data = costs.map((cost, step) => ({ step, cost }));
  const font = { fontSize: 12, fill: palette.soft };
  return (
    <div
      className="cost-plot"
      onClick={({ clientX, currentTarget }) => {
        const { left, width } = currentTarget.getBoundingClientRect();
        const last = costs.length - 1;
        const step = Math.round(((clientX - left - LEFT) / Math.max(width - LEFT - RIGHT, 1)) * last);
        if (last > 0) onStep(Math.min(Math.max(step, 1), last));
      }}
      role="img"
      aria-label={
        costs.length === 0
          ? 'Cost by step'
          : `Cost by step: ${costs.at(-1)!.toFixed(1)} % after ${costs.length - 1}`
      }
    >
      <ResponsiveContainer width="100%" height="100%">
        <LineChart
          data={data}
          margin={{ top: 6, right: RIGHT, bottom: 0, left: 0 }}
          accessibilityLayer={false}
        >
          <XAxis
            dataKey="step"
            type="number"
            domain={[0, 'dataMax']}
            tick={font}
            height={20}
            allowDecimals={false}
          />
          <YAxis width={LEFT} domain={[0, 100]} ticks={[0, 50, 100]} tick={font} unit=" %" />
          <Tooltip
            isAnimationActive={false}
            formatter={(value) => [`${Number(value).toFixed(1)} %`, 'cost']}
            labelFormatter={(step: unknown) => `back to step ${Number(step)}`}
            contentStyle={{
              background: palette.sheet,
              borderColor: palette.rule,
              fontSize: 12,
              padding: '2px 8px',
            }}
          />
          {stages.map((step) => (
            <ReferenceLine key={step} x={step} stroke={palette.rule} />
          ))}
          <Line
            dataKey="cost"
            stroke={palette.accent}
            strokeWidth={2}
            dot={false}
            isAnimationActive={false}
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}
