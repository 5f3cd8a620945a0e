import { useEffect, useRef } from 'react';
import { warpOf } from '@kneader/core';
import type { WarpPoint } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { beginDrag } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { Lane } from './lane.tsx';
import { frameToX, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

const HEIGHT = 132;
const REACH = 9;
const MARGIN = 10;

/** Time against time, while *Warp* is open: along the axis old frames, upward new ones. */
export function WarpLane() {
  const open = useBench((state) => state.openEdit === 'timing.warp');
  return open ? (
    <Lane
      id="warp"
      name="Warp"
      height={HEIGHT}
      head={
        <span className="soft lane-hint">
          Old frames along, new ones up. Touch to add a point, drag it, double-click to remove it.
        </span>
      }
      track={<WarpTrack />}
    />
  ) : null;
}

/** The points of the warp; the ends of the shot when none were set. */
function warpPoints(
  points: readonly WarpPoint[] | null,
  range: { start: number; end: number },
): readonly WarpPoint[] {
  return (
    points ?? [
      [range.start, range.start],
      [range.end, range.end],
    ]
  );
}

function WarpTrack() {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const range = useBench((state) => state.session.shot.range);
  const set = useBench((state) => state.warp);
  const points = warpPoints(set, range);
  const axis: TimeAxis = { from, to, width: Math.max(width, 1) };
  const yOf = (frame: number) =>
    height - MARGIN - ((frame - range.start) / Math.max(range.end - range.start, 1)) * (height - 2 * MARGIN);
  const frameAtY = (y: number) =>
    range.start + ((height - MARGIN - y) / Math.max(height - 2 * MARGIN, 1)) * (range.end - range.start);

  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context || width < 2) return;
    const shown: TimeAxis = { from, to, width };
    const line = (timeOf: (frame: number) => number, colour: string) => {
      context.beginPath();
      for (let x = frameToX(shown, range.start); x <= frameToX(shown, range.end) + 0.5; x += 2)
        context.lineTo(x, yOf(timeOf(xToFrame(shown, x))));
      context.strokeStyle = colour;
      context.lineWidth = 1.5;
      context.stroke();
    };
    line((frame) => frame, palette.rule);
    line(warpOf(points), palette.accent);
    for (const [old, now] of points) {
      context.beginPath();
      context.arc(frameToX(shown, old), yOf(now), 5, 0, 2 * Math.PI);
      context.fillStyle = palette.sheet;
      context.fill();
      context.strokeStyle = palette.accent;
      context.stroke();
      context.fillStyle = palette.soft;
      context.font = "12px 'Recursive Variable'";
      if (old !== now)
        context.fillText(`${Math.round(old)} → ${Math.round(now)}`, frameToX(shown, old) + 8, yOf(now) + 12);
    }
  });

  const placeOf = (event: React.PointerEvent | React.MouseEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top] as const;
  };
  const pointAt = (x: number, y: number) =>
    points.findIndex(([old, now]) => Math.hypot(frameToX(axis, old) - x, yOf(now) - y) < REACH);
  return (
    <div
      ref={holder}
      className="warp-lane"
      role="application"
      aria-label="Warp"
      data-points={points.map(([old, now]) => `${old}:${now}`).join(' ')}
      onPointerDown={(event) => {
        const [x, y] = placeOf(event);
        event.currentTarget.setPointerCapture(event.pointerId);
        const old = points[pointAt(x, y)]?.[0] ?? Math.round(xToFrame(axis, x));
        const others = points.filter(([frame]) => frame !== old);
        const withPoint = (at: number) =>
          bench.setWarp([...others, [old, Math.round(frameAtY(at))] as const].sort((a, b) => a[0] - b[0]));
        if (others.length === points.length) {
          if (old <= range.start || old >= range.end) return;
          withPoint(y);
        }
        const top = event.clientY - y;
        beginDrag(event, { move: (at) => withPoint(at.y - top), cancel: () => bench.setWarp(set) });
      }}
      onDoubleClick={(event) => {
        const k = pointAt(...placeOf(event));
        if (k > 0 && k < points.length - 1) bench.setWarp(points.filter((_, i) => i !== k));
      }}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}
