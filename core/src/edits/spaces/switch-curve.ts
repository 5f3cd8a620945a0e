/** Space switches: a stepped curve whose value is the target's place in the list. A span is what lies between two of its keys. */
import type { FrameRange } from '../../base/frame-range.ts';
import { bisectRight } from '../../base/bisect.ts';
import { SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { framesOf } from '../../base/frame-range.ts';

/** Which target holds from a frame on. */
export interface Span extends FrameRange {
  readonly target: number;
}

/** The spans of a switch over a range, in order; each ends with the frame before the next begins. */
export function spansOf(curve: Curve, { start, end }: FrameRange): Span[] {
  const spans: Span[] = [];
  const begin = (from: number, target: number) => {
    const last = spans[spans.length - 1];
    if (last?.target === target) return;
    if (last) spans[spans.length - 1] = { ...last, end: from - 1 };
    spans.push({ start: from, end, target });
  };
  begin(start, targetAt(curve, start));
  curve.times.forEach((time, row) => {
    if (time > start && time <= end) begin(time, Math.round(curve.values[row]!));
  });
  return spans;
}

export function targetAt({ times, values }: Curve, frame: number): number {
  if (times.length === 0) return 0;
  return Math.round(values[Math.max(0, bisectRight(times, frame + 1e-9) - 1)]!);
}

/** The switch that gives these spans. */
export const switchThrough = (spans: readonly Span[]): Curve =>
  buildCurve(spans.length, (columns) => {
    spans.forEach(({ start, target }, row) => {
      columns.times[row] = start;
      columns.values[row] = target;
    });
    columns.segments.fill(SEGMENT.stepped);
  });

/** The spans with one target over a range. */
export function withTarget(curve: Curve, shown: FrameRange, range: FrameRange, target: number): Span[] {
  const spans: Span[] = [];
  for (const frame of framesOf(shown)) {
    const now = frame >= range.start && frame <= range.end ? target : targetAt(curve, frame);
    const last = spans[spans.length - 1];
    if (last?.target === now) spans[spans.length - 1] = { ...last, end: frame };
    else spans.push({ start: frame, end: frame, target: now });
  }
  return spans;
}
