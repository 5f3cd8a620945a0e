/** Keys a pose into a layer of a shot, so that it shows on top of all passes. What pasting and posing share. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { FLAG, rowAtTime, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { bisectRight } from '../../base/bisect.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { baseValuesAt, readerAt, valuesAt } from '../../shot/evaluation.ts';
import { valuesOnLayer } from '../../shot/passes.ts';
import { curveOf, passOf, rigOf, withCurves } from '../../shot/shot.ts';
import type { ChannelId, Shot } from '../../shot/shot.ts';

export interface WrittenPose {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly findings: readonly Finding[];
  /** Keys that stood on the frame and have another value now. */
  readonly overwritten: number;
}

/**
 * Keys `values` at `frame` on the base (`layer` null) or on a pass. Unknown channels, locked channels, locked keys and
 * channels that cannot show the value are left, and said.
 */
export function writePose(
  shot: Shot,
  layer: string | null,
  values: ReadonlyMap<ChannelId, number>,
  frame: number,
): WrittenPose {
  const rig = rigOf(shot);
  const locks = new Set(shot.locked);
  const lockedChannels = [...values.keys()].filter((id) => locks.has(id));
  const unknown = [...values.keys()].filter((id) => rig.channelIndex(id) < 0);
  const wanted = valuesAt(shot, frame);
  const asked: number[] = [];
  for (const [id, value] of values) {
    const index = rig.channelIndex(id);
    if (index < 0 || locks.has(id)) continue;
    wanted[index] = value;
    asked.push(index);
  }
  const solved = valuesOnLayer(shot, rig, layer, readerAt(frame), baseValuesAt(shot, frame), wanted, asked);
  const changed = new Map<ChannelId, Curve>();
  const hidden: string[] = [];
  let overwritten = 0;
  let lockedKeys = 0;
  const bookends = layer === null ? null : (passOf(shot, layer)?.bookends ?? null);
  for (const [index, value] of solved) {
    const { id } = rig.channels[index]!;
    if (locks.has(id)) continue;
    if (value === null) {
      hidden.push(id);
      continue;
    }
    const before = curveOf(shot, layer, id);
    const row = rowAtTime(before, frame);
    if (row >= 0 && (before.flags[row]! & FLAG.locked) !== 0) {
      lockedKeys += 1;
      continue;
    }
    if (row >= 0 && before.values[row] !== value) overwritten += 1;
    let after = withKey(before, frame, value);
    if (bookends)
      for (const end of [bookends.start, bookends.end])
        if (rowAtTime(after, end) < 0) after = withKey(after, end, 0);
    if (after !== before) changed.set(id, after);
  }
  const findings: Finding[] = [];
  if (hidden.length > 0) findings.push(finding('notReachable', { frame }, hidden));
  if (lockedChannels.length > 0) findings.push(finding('lockedChannels', {}, lockedChannels));
  if (lockedKeys > 0) findings.push(finding('lockedKeys', {}, lockedKeys));
  if (unknown.length > 0) findings.push(finding('unmatchedChannels', {}, unknown));
  return { shot: withCurves(shot, layer, changed), touched: [...changed.keys()], findings, overwritten };
}

/**
 * The curve with a key of this value on the frame. A key that stands there keeps its tangents; a new one takes the
 * ways of the segment that it falls into: steady on curves, straight on straight segments, stepped on stepped ones.
 */
export function withKey(curve: Curve, frame: number, value: number): Curve {
  const row = rowAtTime(curve, frame);
  if (row >= 0) {
    if (curve.values[row] === value) return curve;
    return rebuild(curve, null, (columns) => (columns.values[row] = value));
  }
  const earlier = bisectRight(curve.times, frame) - 1;
  const segment = curve.segments[Math.max(earlier, 0)] ?? SEGMENT.cubic;
  const rows = [...Array.from(curve.times, (_, i) => i), -1];
  return rebuild(curve, rows, (columns) => {
    const at = rows.length - 1;
    columns.times[at] = frame;
    columns.values[at] = value;
    columns.segments[at] = segment;
    columns.tangentsIn[at] = columns.tangentsOut[at] =
      segment === SEGMENT.linear ? TANGENT.linear : TANGENT.steady;
  });
}
