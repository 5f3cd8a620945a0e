import { useRef } from 'react';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { frameToX, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Pixels from a point within which it is meant. */
const REACH = 9;
/** Weights at the lane's edges: in its middle staying close counts once. */
const TEN_TO = 2;

interface ClosenessCurveProps {
  readonly axis: TimeAxis;
  readonly height: number;
}

/** How much staying close counts along time, while a motion is refined: touched it has a point more, a point is dragged, double-clicked it goes. */
export function ClosenessCurve({ axis, height }: ClosenessCurveProps) {
  const close = useBench((state) => state.closeness);
  const range = useBench((state) => state.session.shot.range);
  const palette = PALETTES[useTheme((state) => state.name)];
  const held = useRef<number | null>(null);
  if (close === null || close.frames.length !== close.weights.length) return null;
  const yOf = (weight: number) =>
    Math.min(height - 3, Math.max(3, (height / 2) * (1 - Math.log10(Math.max(weight, 1e-9)) / TEN_TO)));
  const weightAt = (y: number) => {
    if (y >= height - 4) return 0;
    return Number((10 ** (TEN_TO * (1 - (2 * y) / height))).toPrecision(2));
  };
  const points = close.frames.map((frame, k) => [frame, close.weights[k]!] as const);
  const set = (next: readonly (readonly [number, number])[]) =>
    bench.setCloseness({ frames: next.map(([frame]) => frame), weights: next.map(([, weight]) => weight) });
  const placeOf = (event: React.PointerEvent | React.MouseEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top] as const;
  };
  const pointAt = (x: number, y: number) =>
    points.findIndex(([frame, weight]) => Math.hypot(frameToX(axis, frame) - x, yOf(weight) - y) < REACH);
  const ends = [points[0]?.[1] ?? 1, points.at(-1)?.[1] ?? 1] as const;
  const line = [[range.start, ends[0]] as const, ...points, [range.end, ends[1]] as const];
  return (
    <div
      className="closeness-curve"
      role="application"
      aria-label="Staying close along time"
      data-points={points.map(([frame, weight]) => `${frame}:${weight}`).join(' ')}
      title="Staying close along time: touch to add a point, drag it, double-click to remove it"
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        const [x, y] = placeOf(event);
        const hit = pointAt(x, y);
        held.current = hit >= 0 ? hit : null;
        if (hit >= 0) return;
        const frame = Math.round(xToFrame(axis, x));
        if (frame < range.start || frame > range.end || close.frames.includes(frame)) return;
        const next = [...points, [frame, weightAt(y)] as const].sort((a, b) => a[0] - b[0]);
        held.current = next.findIndex(([at]) => at === frame);
        set(next);
      }}
      onPointerMove={(event) => {
        const k = held.current;
        if (k === null) return;
        const [, y] = placeOf(event);
        set(points.map((point, i) => (i === k ? ([point[0], weightAt(y)] as const) : point)));
      }}
      onPointerUp={() => (held.current = null)}
      onDoubleClick={(event) => {
        const k = pointAt(...placeOf(event));
        if (k >= 0) set(points.filter((_, i) => i !== k));
      }}
    >
      <svg width={axis.width} height={height} aria-hidden>
        <polyline
          points={line.map(([frame, weight]) => `${frameToX(axis, frame)},${yOf(weight)}`).join(' ')}
          fill="none"
          stroke={palette.ink}
          strokeWidth={1.5}
        />
        {points.map(([frame, weight]) => (
          <g key={frame}>
            <circle
              cx={frameToX(axis, frame)}
              cy={yOf(weight)}
              r={4.5}
              fill={palette.sheet}
              stroke={palette.ink}
              strokeWidth={1.5}
            />
            <text
              x={frameToX(axis, frame) + 8}
              y={yOf(weight) + (yOf(weight) < 16 ? 12 : -4)}
              fill={palette.ink}
              fontSize={12}
            >
              {weight} ×
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}
