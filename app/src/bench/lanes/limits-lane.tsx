import { Select } from 'antd';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { contactCurves } from '@kneader/core';
import type { ContactCurves } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { Lane } from './lane.tsx';
import { frameToX } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Pixels. */
const HEIGHT = 96;
/** A curve shows so many times what stands lies below: what is higher is in the air anyway. */
const TIMES = 4;
const NOTHING_SAID = {};

/** What contacts are found by, while they are looked for: height and speed of a point along time, with the limits as lines over both. */
export function LimitsLane() {
  return useBench((state) => state.openEdit === 'contacts.find') ? <Limits /> : null;
}

function Limits() {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const options = useDeferredValue(
    useBench((state) => (state.preview?.edit === 'contacts.find' ? state.preview.options : NOTHING_SAID)),
  );
  const curves = useMemo(() => contactCurves(shot, selection, options), [shot, selection, options]);
  const [name, setName] = useState<string | null>(null);
  const point = curves?.points.find((one) => one.name === name) ?? curves?.points[0];
  return (
    <Lane
      id="limits"
      name="Stands below"
      height={HEIGHT}
      head={
        curves && point ? (
          <Select
            size="small"
            aria-label="Height and speed of"
            value={point.name}
            options={curves.points.map((one) => ({ value: one.name, label: one.name }))}
            onChange={setName}
          />
        ) : (
          <span className="soft">Nothing that may stand.</span>
        )
      }
      track={curves && point && <LimitsTrack curves={curves} point={point} />}
    />
  );
}

interface LimitsTrackProps {
  readonly curves: ContactCurves;
  readonly point: ContactCurves['points'][number];
}

function LimitsTrack({ curves: { frames, limits }, point }: LimitsTrackProps) {
  const holder = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(holder);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const palette = PALETTES[useTheme((state) => state.name)];
  const axis: TimeAxis = { from, to, width: Math.max(width, 1) };
  const half = height / 2;
  const rows = [
    { words: 'height', values: point.lifts, lines: [limits.low], unit: 'legs', bottom: half - 3 },
    {
      words: 'speed',
      values: point.speeds,
      lines: [limits.slow, limits.fast],
      unit: 'legs/s',
      bottom: height - 3,
    },
  ];
  return (
    <div ref={holder} className="rough-track">
      <svg
        width={axis.width}
        height={height}
        role="img"
        aria-label={`${point.name} stands below ${limits.low.toFixed(2)} legs and ${limits.slow.toFixed(2)} legs a second`}
      >
        {rows.map(({ words, values, lines, unit, bottom }) => {
          const top = lines[0]! * TIMES;
          const yOf = (value: number) => bottom - (half - 8) * Math.min(1, value / Math.max(top, 1e-9));
          const path = Array.from(
            frames,
            (frame, k) =>
              `${k === 0 ? 'M' : 'L'} ${frameToX(axis, frame).toFixed(1)} ${yOf(values[k]!).toFixed(1)}`,
          ).join(' ');
          return (
            <g key={words}>
              <path d={path} fill="none" stroke={palette.ink} strokeWidth={1.2} />
              {lines.map((line, k) => (
                <line
                  key={k}
                  x1={0}
                  x2={axis.width}
                  y1={yOf(line)}
                  y2={yOf(line)}
                  stroke={palette.accent}
                  strokeDasharray={k === 0 ? undefined : '4 3'}
                />
              ))}
              <text
                className="limit-word"
                x={axis.width - 6}
                y={yOf(lines[0]!) - 3}
                textAnchor="end"
                fill={palette.accent}
              >
                {words} {lines[0]!.toFixed(2)} {unit}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
