/** Which channels travel: their end is a place farther on, not a seam that fails to close. */
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { channelKind } from '../../rig/node.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/**
 * Position channels of controls without a parent: those that may travel. Up is none of them unless that is asked: a body that ends a
 * turn higher than it began has not gone anywhere, but up a stair it has.
 */
export function travellers(shot: Shot, rise = false): ReadonlySet<ChannelId> {
  return new Set(
    shot.nodes
      .filter(({ parent }) => parent === null)
      .flatMap(({ id, channels }) =>
        channels
          .filter((name) => channelKind(name) === 'position' && (rise || name !== 'ty'))
          .map((name) => `${id}.${name}`),
      ),
  );
}

/** The part of all that a channel moves through that must remain at the end for it to have travelled. */
const TRAVEL_SHARE = 0.5;

/** Whether most of the way over the range leads somewhere. */
export function travelsOver(curve: Curve, range: FrameRange): boolean {
  const [first, last] = [evaluate(curve, range.start), evaluate(curve, range.end)];
  let low = Math.min(first, last);
  let high = Math.max(first, last);
  curve.times.forEach((time, row) => {
    if (!inRange(range, time)) return;
    low = Math.min(low, curve.values[row]!);
    high = Math.max(high, curve.values[row]!);
  });
  return high - low > 1e-9 && Math.abs(last - first) >= TRAVEL_SHARE * (high - low);
}
