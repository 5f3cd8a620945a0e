import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { beginDrag } from '../gestures/drag.ts';
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
  if (close === null || close.frames.length !== close.weights.length) return null;
  const yOf = (weight: number) =>
    Math.min(height - 3, Math.max(3, (height / 2) * (1 - Math.log10(Math.max(weight, 1e-9)) / TEN_TO)));
  const weightAt = (y: number) => {
    if (y >= height - 4) return 0;
    return Number((10 ** (TEN_TO * (1 - (2 * y) / height))).toPrecision(2));
  };
  const points = close.frames.map((frame, k) => [frame, close.weights[k]!] as const);
  const sorted = (all: (readonly [number, number])[]) => all.sort((a, b) => a[0] - b[0]);
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
        const frame = points[pointAt(x, y)]?.[0] ?? Math.round(xToFrame(axis, x));
        const others = points.filter(([at]) => at !== frame);
        if (others.length === points.length) {
          if (frame < range.start || frame > range.end) return;
          set(sorted([...points, [frame, weightAt(y)]]));
        }
        const top = event.clientY - y;
        beginDrag(event, {
          move: (at) => set(sorted([...others, [frame, weightAt(at.y - top)]])),
          cancel: () => set(points),
        });
      }}
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
