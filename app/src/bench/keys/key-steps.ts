/** Going from key to key, and choosing keys without a pointer. */
import type { ChannelId, Selection } from '@kneader/core';
import type { ShownCurve } from '../lanes/curve-view.ts';

type Keys = Selection['keys'];

const NEAR = 1e-6;

/** The frames on which the curves have keys, rising. */
export function keyFrames(curves: readonly ShownCurve[]): number[] {
  return [...new Set(curves.flatMap(({ curve }) => [...curve.times]))].sort((a, b) => a - b);
}

/** The nearest of the frames beyond `from`; null where there is none that way. @param way 1 is later, −1 earlier */
export function nextFrame(frames: readonly number[], from: number, way: 1 | -1): number | null {
  const beyond = frames.filter((frame) => (frame - from) * way > NEAR);
  if (beyond.length === 0) return null;
  return way > 0 ? Math.min(...beyond) : Math.max(...beyond);
}

/** The keys of all curves on a frame. */
export function keysOn(curves: readonly ShownCurve[], frame: number): Keys {
  return keysWhere(curves, (time) => Math.abs(time - frame) < NEAR);
}

export function allKeys(curves: readonly ShownCurve[]): Keys {
  return keysWhere(curves, () => true);
}

/** The keys of the curves that are not chosen. */
export function invertedKeys(curves: readonly ShownCurve[], chosen: Keys): Keys {
  return keysWhere(curves, (_, id, channel) => !(chosen[channel] ?? []).includes(id));
}

function keysWhere(
  curves: readonly ShownCurve[],
  meant: (time: number, id: number, channel: ChannelId) => boolean,
): Keys {
  const entries = curves.flatMap(({ channel, curve }) => {
    const ids = [...curve.ids].filter((id, row) => meant(curve.times[row]!, id, channel));
    return ids.length > 0 ? [[channel, ids] as const] : [];
  });
  return Object.fromEntries(entries);
}

export function unitedKeys(a: Keys, b: Keys): Keys {
  const result: Record<ChannelId, readonly number[]> = { ...a };
  for (const [channel, ids] of Object.entries(b))
    result[channel] = [...new Set([...(a[channel] ?? []), ...ids])];
  return result;
}

/** How many keys are chosen. */
export const countKeys = (keys: Keys): number =>
  Object.values(keys).reduce((sum, ids) => sum + ids.length, 0);
