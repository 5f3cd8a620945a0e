/** What lies under the pointer in the curves lane. */
import { bisectRight, evaluate, SEGMENT } from '@kneader/core';
import type { ChannelId, Curve } from '@kneader/core';
import { handlePlace, keyPlace, ownView, valueToY } from './curve-view.ts';
import type { CurveView, ShownCurve } from './curve-view.ts';
import { xToFrame } from './time-axis.ts';

export type Hit =
  | { readonly kind: 'key'; readonly channel: ChannelId; readonly row: number; readonly id: number }
  | {
      readonly kind: 'handle';
      readonly channel: ChannelId;
      readonly row: number;
      readonly id: number;
      readonly side: 'in' | 'out';
    };

const REACH = 7;

type Chosen = Readonly<Record<ChannelId, readonly number[]>>;

/** The handle or key nearest to a place, within reach; handles show on chosen keys only and lie on top. */
export function hitAt(
  view: CurveView,
  curves: readonly ShownCurve[],
  chosen: Chosen,
  x: number,
  y: number,
): Hit | null {
  let best: Hit | null = null;
  let nearest = REACH;
  const consider = (place: readonly [number, number], hit: Hit) => {
    const distance = Math.hypot(place[0] - x, place[1] - y);
    if (distance < nearest) {
      nearest = distance;
      best = hit;
    }
  };
  for (const shown of curves) {
    const { channel, curve } = shown;
    const own = ownView(view, shown);
    for (const id of chosen[channel] ?? []) {
      const row = curve.ids.indexOf(id);
      if (row < 0) continue;
      for (const side of visibleHandles(curve, row)) {
        consider(handlePlace(own, curve, row, side), { kind: 'handle', channel, row, id, side });
      }
    }
  }
  if (best) return best;
  // Of keys that lie on each other the chosen one is meant.
  for (const shown of curves) {
    const own = ownView(view, shown);
    const { channel, curve } = shown;
    for (const id of chosen[channel] ?? []) {
      const row = curve.ids.indexOf(id);
      if (row >= 0) consider(keyPlace(own, curve, row), { kind: 'key', channel, row, id });
    }
  }
  if (best) return best;
  for (const shown of curves) {
    const { channel, curve } = shown;
    const own = ownView(view, shown);
    const first = bisectRight(curve.times, xToFrame(view.axis, x - REACH)) - 1;
    const last = bisectRight(curve.times, xToFrame(view.axis, x + REACH));
    for (let row = Math.max(0, first); row < Math.min(curve.times.length, last + 1); row += 1) {
      consider(keyPlace(own, curve, row), { kind: 'key', channel, row, id: curve.ids[row]! });
    }
  }
  return best;
}

/** The sides on which a key's handle shapes a segment. */
export function visibleHandles(curve: Curve, row: number): ('in' | 'out')[] {
  const sides: ('in' | 'out')[] = [];
  if (row > 0 && curve.segments[row - 1] === SEGMENT.cubic) sides.push('in');
  if (row + 1 < curve.times.length && curve.segments[row] === SEGMENT.cubic) sides.push('out');
  return sides;
}

/** The keys within a box on screen, by channel. */
export function keysInBox(
  view: CurveView,
  curves: readonly ShownCurve[],
  a: readonly [number, number],
  b: readonly [number, number],
): Record<ChannelId, number[]> {
  const [left, right] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
  const [top, bottom] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
  const result: Record<ChannelId, number[]> = {};
  for (const shown of curves) {
    const { channel, curve } = shown;
    const own = ownView(view, shown);
    const ids: number[] = [];
    for (let row = 0; row < curve.times.length; row += 1) {
      const [x, y] = keyPlace(own, curve, row);
      if (x >= left && x <= right && y >= top && y <= bottom) ids.push(curve.ids[row]!);
    }
    if (ids.length > 0) result[channel] = ids;
  }
  return result;
}

/** The curve that runs nearest to the pointer, or null where none is within `reach` pixels. */
export function curveAt(
  view: CurveView,
  curves: readonly ShownCurve[],
  x: number,
  y: number,
  reach: number,
): ShownCurve | null {
  const frame = xToFrame(view.axis, x);
  let best: ShownCurve | null = null;
  let nearest = reach;
  for (const shown of curves) {
    const distance = Math.abs(valueToY(ownView(view, shown), evaluate(shown.curve, frame)) - y);
    if (distance >= nearest) continue;
    nearest = distance;
    best = shown;
  }
  return best;
}
