import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { greatestOf } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import type { Compared } from '../../worker/compared-shots.ts';
import { bench, useBench } from '../bench-store.ts';
import { useCompare } from './compare-store.ts';

/** Points that a plot shows: more than a pixel each would not be seen. */
const MOST_POINTS = 400;
const [LEFT, RIGHT] = [46, 8];

interface PlotLine {
  readonly name: string;
  readonly values: ArrayLike<number>;
  readonly colour: string;
  readonly dash?: string;
}

interface PlotProps {
  readonly title: string;
  readonly frames: Float64Array;
  readonly lines: readonly PlotLine[];
  readonly unit: string;
  readonly height?: number;
}

/** mm, degrees or frames: what changes by less is level. */
const FLAT = 0.01;

/** Values over frames under the play-head; a touch goes to the frame. */
export function Plot({ title, frames, lines, unit, height = 132 }: PlotProps) {
  const palette = PALETTES[useTheme((state) => state.name)];
  const frame = useBench((state) => state.frame);
  const data = useMemo(() => {
    const step = Math.max(1, Math.ceil(frames.length / MOST_POINTS));
    return Array.from({ length: Math.ceil(frames.length / step) }, (_, k) => {
      const from = k * step;
      const point: Record<string, number> = { frame: frames[from]! };
      lines.forEach(({ values }, i) => {
        // The value that is farthest from 0 within the step, so that no peak is lost.
        let best = values[from] ?? 0;
        for (let f = from + 1; f < Math.min(from + step, frames.length); f += 1)
          if (Math.abs(values[f]!) > Math.abs(best)) best = values[f]!;
        point[`v${i}`] = best;
      });
      return point;
    });
  }, [frames, lines]);
  const [domain, isLevel] = useMemo(() => {
    const all = data.flatMap((point) => lines.map((_, i) => point[`v${i}`]!));
    const [low, high] = [Math.min(...all), Math.max(...all)];
    // Rounding is no hill.
    return high - low < FLAT
      ? ([[Math.floor(low), Math.floor(low) + 1], true] as const)
      : ([['auto', 'auto'], false] as const);
  }, [data, lines]);
  const font = { fontSize: 12, fill: palette.soft };
  const [first, last] = [frames[0] ?? 0, frames.at(-1) ?? 1];
  return (
    <figure
      className="compare-plot"
      onClick={({ clientX, currentTarget }) => {
        const box = currentTarget.getBoundingClientRect();
        const part = (clientX - box.left - LEFT) / Math.max(box.width - LEFT - RIGHT, 1);
        if (part >= 0 && part <= 1) bench.goToFrame(first + part * (last - first));
      }}
    >
      <figcaption>
        {title}
        {lines.length > 1 &&
          lines.map(({ name, colour }) => (
            <span key={name} style={{ color: colour }}>
              {name}
            </span>
          ))}
      </figcaption>
      <div style={{ height }}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart
            data={data}
            margin={{ top: 6, right: RIGHT, bottom: 0, left: 0 }}
            accessibilityLayer={false}
          >
            <XAxis
              dataKey="frame"
              type="number"
              domain={[first, last]}
              tick={font}
              height={20}
              allowDecimals={false}
            />
            <YAxis
              width={LEFT}
              tick={font}
              domain={domain}
              // One unit has no even thirds.
              tickCount={isLevel ? 3 : 4}
              tickFormatter={(value: number) => String(Number(value.toPrecision(3)))}
            />
            <Tooltip
              isAnimationActive={false}
              formatter={(value, key) => [
                `${Number(value).toFixed(1)} ${unit}`,
                lines[Number(String(key).slice(1))]?.name ?? '',
              ]}
              labelFormatter={(at: unknown) => `Frame ${Number(at)}`}
              contentStyle={{
                background: palette.sheet,
                borderColor: palette.rule,
                fontSize: 12,
                padding: '2px 8px',
              }}
            />
            <ReferenceLine x={Math.min(Math.max(frame, first), last)} stroke={palette.ink} />
            {lines.map(({ name, colour, dash }, i) => (
              <Line
                key={name}
                dataKey={`v${i}`}
                name={name}
                stroke={colour}
                strokeWidth={1.6}
                {...(dash && { strokeDasharray: dash })}
                dot={false}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      </div>
    </figure>
  );
}

interface DifferencePlotsProps {
  readonly a: Shot;
  readonly b: Shot;
  readonly names: readonly [string, string];
  readonly compared: Compared;
}

/** Of one joint how far apart, how much turned, and how far it goes from frame to frame in both. */
export default function DifferencePlots({ a, b, names, compared }: DifferencePlotsProps) {
  const palette = PALETTES[useTheme((state) => state.name)];
  const { differences, paired } = compared;
  const wanted = useCompare((state) => state.joint);
  const named = differences.names.indexOf(wanted ?? '');
  // Until one is chosen, the one that parts most.
  const joint = named < 0 ? greatestOf(differences, differences.mm).joint : named;
  const pair = paired.pairs[joint];
  const { data: spacing } = useQuery({
    queryKey: ['spacing', compared.differences, joint],
    queryKeyHashFn: () => `spacing ${spacingKey(compared)} ${joint}`,
    queryFn: () => bridge.spacing(a, b, pair!, differences),
    enabled: pair !== undefined,
    gcTime: 0,
    structuralSharing: false,
  });
  if (!pair) return <p className="soft">The two have no joint in common.</p>;
  const { frames, mm, degrees } = differences;
  const own = (table: Float32Array) => table.subarray(joint * frames.length, (joint + 1) * frames.length);
  return (
    <>
      <h2 className="compare-joint">{pair.name}</h2>
      <Plot
        title="Apart, mm"
        frames={frames}
        unit="mm"
        lines={[{ name: 'apart', values: own(mm), colour: palette.accent }]}
      />
      <Plot
        title="Turned, degrees"
        frames={frames}
        unit="°"
        lines={[{ name: 'turned', values: own(degrees), colour: palette.accent }]}
      />
      {spacing && (
        <Plot
          title="Spacing, mm a frame"
          frames={frames}
          unit="mm"
          lines={[
            { name: names[0], values: spacing[0], colour: palette.ink },
            { name: names[1], values: spacing[1], colour: palette.left, dash: '5 3' },
          ]}
        />
      )}
    </>
  );
}

const keys = new WeakMap<Compared, number>();
let count = 0;
function spacingKey(compared: Compared): number {
  const known = keys.get(compared) ?? (count += 1);
  keys.set(compared, known);
  return known;
}

/** One time against the other. */
export function TimePlot({ compared, names }: Pick<DifferencePlotsProps, 'compared' | 'names'>) {
  const palette = PALETTES[useTheme((state) => state.name)];
  const { frames, beside } = compared.differences;
  return (
    <Plot
      title={`Frame of ${names[1]} beside each of ${names[0]}`}
      frames={frames}
      unit=""
      height={220}
      lines={[{ name: names[1], values: beside, colour: palette.left }]}
    />
  );
}
