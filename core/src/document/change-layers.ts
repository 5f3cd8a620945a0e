/** Changing curves on all layers at once: what edits of time share. */
import { FLAG, sameShape } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { curvesIn, withCurves } from './shot.ts';
import type { ChannelId, Shot } from './shot.ts';

export interface LayerChanges {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  /** What was left: locked channels, passes by name, and channels where a locked key stands in the way. */
  readonly lockedChannels: readonly ChannelId[];
  readonly lockedPasses: readonly string[];
  readonly lockedKeys: readonly ChannelId[];
}

/**
 * Changes the curves of the given channels, or of all, on the base and on every pass; the same curve back means nothing changed.
 * @param from frames at which the change begins: a curve with a locked key later than that is left as it is
 */
export function changeLayers(
  shot: Shot,
  channels: ReadonlySet<ChannelId> | null,
  from: number,
  change: (curve: Curve, channel: ChannelId, pass: string | null) => Curve,
): LayerChanges {
  const locks = new Set(shot.locked);
  const touched = new Set<ChannelId>();
  const lockedChannels = new Set<ChannelId>();
  const lockedKeys = new Set<ChannelId>();
  const lockedPasses = new Set<string>();
  let after = shot;
  const layers = [
    { id: null, name: '', locked: false, curves: shot.curves },
    ...shot.layers.map((pass) => ({ ...pass, id: pass.id })),
  ];
  for (const layer of layers) {
    const changed = new Map<ChannelId, Curve>();
    for (const [channel, curve] of curvesIn(layer.curves, shot.nodes)) {
      if (channels && !channels.has(channel)) continue;
      // What is locked is not even tried, so that nothing is counted that does not happen.
      if (layer.locked || locks.has(channel) || hasLockedKey(curve, from)) {
        if (!reaches(curve, from)) continue;
        if (layer.locked) lockedPasses.add(layer.name);
        else (locks.has(channel) ? lockedChannels : lockedKeys).add(channel);
        continue;
      }
      const next = change(curve, channel, layer.id);
      if (!sameShape(next, curve)) changed.set(channel, next);
    }
    for (const channel of changed.keys()) touched.add(channel);
    after = withCurves(after, layer.id, changed);
  }
  return {
    shot: after,
    touched: [...touched],
    lockedChannels: [...lockedChannels],
    lockedPasses: [...lockedPasses],
    lockedKeys: [...lockedKeys],
  };
}

/** Whether the curve has anything at a frame or later. */
const reaches = ({ times }: Curve, from: number) =>
  times.length > 0 && times[times.length - 1]! >= from - 1e-6;

function hasLockedKey({ times, flags }: Curve, from: number): boolean {
  for (let row = 0; row < times.length; row += 1)
    if (times[row]! >= from - 1e-6 && (flags[row]! & FLAG.locked) !== 0) return true;
  return false;
}
