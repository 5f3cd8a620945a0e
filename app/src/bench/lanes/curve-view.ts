/** How curves lie in their lane: the time axis and the values at its lower and upper edge. */
import { sampleInto } from '@kneader/core';
import type { ChannelId, Curve } from '@kneader/core';
import { frameToX } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

export interface CurveView {
  readonly axis: TimeAxis;
  readonly low: number;
  readonly high: number;
  /** Pixels. */
  readonly height: number;
}

/** The values that stand for 0 and 1 where each curve is drawn in its own measure. */
export interface Span {
  readonly low: number;
  readonly high: number;
}

export interface ShownCurve {
  readonly channel: ChannelId;
  readonly curve: Curve;
  /** In the normalised view; the lane's values are then parts of it. */
  readonly span?: Span;
}

/** The view in the curve's own values. */
export function ownView(view: CurveView, { span }: Pick<ShownCurve, 'span'>): CurveView {
  if (!span) return view;
  const size = span.high - span.low;
  return { ...view, low: span.low + view.low * size, high: span.low + view.high * size };
}

export function valueToY(view: CurveView, value: number): number {
  return view.height - ((value - view.low) / (view.high - view.low)) * view.height;
}

export function yToValue(view: CurveView, y: number): number {
  return view.low + ((view.height - y) / view.height) * (view.high - view.low);
}

/** The values that curves take over frames, with a margin; a level curve gets room on both sides. */
export function fitValues(
  curves: readonly ShownCurve[],
  from: number,
  to: number,
): { low: number; high: number } {
  let low = Infinity;
  let high = -Infinity;
  const times = Float64Array.from({ length: 200 }, (_, i) => from + ((to - from) * i) / 199);
  const values = new Float64Array(200);
  for (const { curve, span } of curves) {
    if (curve.times.length === 0) continue;
    sampleInto(values, 0, 1, curve, times);
    for (const value of values) {
      const shown = span ? (value - span.low) / (span.high - span.low) : value;
      low = Math.min(low, shown);
      high = Math.max(high, shown);
    }
  }
  if (!Number.isFinite(low)) return { low: -1, high: 1 };
  const room = Math.max((high - low) * 0.1, Math.abs(high) * 1e-6, high === low ? 1 : 0);
  return { low: low - room, high: high + room };
}

/** Whether values no longer lie well in a view: far out of it, or in a small part of it. */
export function isMisfit(view: Span, fit: Span): boolean {
  const [size, needed] = [view.high - view.low, fit.high - fit.low];
  const outside = Math.max(fit.high - view.high, view.low - fit.low);
  return outside > 0.25 * size || needed < 0.3 * size;
}

/** The place of a key on screen; the view is the curve's own. */
export function keyPlace(view: CurveView, curve: Curve, row: number): [number, number] {
  return [frameToX(view.axis, curve.times[row]!), valueToY(view, curve.values[row]!)];
}

/** The place of the end of a key's handle on screen; the view is the curve's own. */
export function handlePlace(
  view: CurveView,
  curve: Curve,
  row: number,
  side: 'in' | 'out',
): [number, number] {
  const way = side === 'in' ? -1 : 1;
  const length = side === 'in' ? curve.lengthsIn[row]! : curve.lengthsOut[row]!;
  const slope = side === 'in' ? curve.slopesIn[row]! : curve.slopesOut[row]!;
  return [
    frameToX(view.axis, curve.times[row]! + way * length),
    valueToY(view, curve.values[row]! + way * length * slope),
  ];
}
