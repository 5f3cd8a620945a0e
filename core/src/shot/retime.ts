/**
 * Everything that time carries, moved along: keys on all layers, weights of passes, bookends, pose columns set by hand, and
 * the shot's range. Whoever changes when something happens goes through here, so that nothing is left behind.
 */
import type { Curve } from '../curve/curve.ts';
import { changeLayers } from './layers.ts';
import type { LayerChanges } from './layers.ts';
import type { ChannelId, Shot } from './shot.ts';

export interface Retiming {
  /** The channels that move; null is everything, and then what belongs to no channel moves too. */
  readonly channels: ReadonlySet<ChannelId> | null;
  /** Nothing ahead of this frame changes. */
  readonly from: number;
  readonly curve: (curve: Curve, channel: ChannelId, pass: string | null) => Curve;
  /** Where a frame comes to lie. */
  readonly frame: (frame: number) => number;
  /** Frames by which the shot's end moves; it moves forward only where `shrink` is on. */
  readonly grow: number;
  readonly shrink?: boolean;
}

export function retimeShot(shot: Shot, retiming: Retiming): LayerChanges {
  const changes = changeLayers(shot, retiming.channels, retiming.from, retiming.curve);
  if (changes.shot === shot && retiming.channels !== null) return changes;
  const end = shot.range.end + (retiming.grow > 0 || retiming.shrink ? retiming.grow : 0);
  const range = end === shot.range.end ? shot.range : { ...shot.range, end: Math.max(end, shot.range.start) };
  let after = changes.shot;
  if (range !== shot.range) after = { ...after, range };
  if (retiming.channels === null) after = withLoose(after, retiming);
  return { ...changes, shot: after };
}

/** What belongs to no channel: weights, bookends, columns set by hand. */
function withLoose(shot: Shot, { curve, frame }: Retiming): Shot {
  let changed = false;
  const passes = shot.passes.map((pass) => {
    if (pass.locked) return pass;
    const weight = pass.weight.times.length > 1 ? curve(pass.weight, '', pass.id) : pass.weight;
    const { bookends } = pass;
    const moved = bookends && { start: frame(bookends.start), end: frame(bookends.end) };
    const same = !bookends || !moved || (moved.start === bookends.start && moved.end === bookends.end);
    if (weight === pass.weight && same) return pass;
    changed = true;
    return { ...pass, weight, bookends: same ? bookends : moved };
  });
  const columns = shot.poseColumns;
  const moved = columns && {
    ...columns,
    added: [...new Set(columns.added.map(frame))],
    removed: [...new Set(columns.removed.map(frame))],
  };
  const moves = moved && JSON.stringify(moved) !== JSON.stringify(columns);
  if (!changed && !moves) return shot;
  return { ...shot, ...(changed ? { passes } : {}), ...(moves ? { poseColumns: moved } : {}) };
}
