/** Keys a pose into a layer of a shot, so that it shows on top of all passes. What pasting and posing share. */
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { FLAG, rowAtTime } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { keyPlace, withValueAt } from '../../curve/with-key.ts';
import type { RepeatWay } from '../../curve/with-key.ts';
import { solve } from '../../evaluation/solve.ts';
import { curveOf, layerOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { keyedThrough } from './keyed-through.ts';
import { RepeatNotes } from '../shared/repeats-option.ts';

const isLockedAt = (curve: Curve, frame: number): boolean => {
  const row = rowAtTime(curve, frame);
  return row >= 0 && (curve.flags[row]! & FLAG.locked) !== 0;
};

export interface WrittenPose {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly findings: readonly Finding[];
  /** Keys that stood on the frame and have another value now. */
  readonly overwritten: number;
  /** Channels that show another value than was wanted, and why; locked ones are left on purpose. */
  readonly missed: readonly Finding[];
}

/**
 * Keys `values` so that they show at `frame`, on the base (`layer` null) or on a pass; under a filter that shows another time the keys stand there. Unknown channels, locked channels, locked keys and
 * channels that cannot show the value are left, and said. Outside the bookends of a pass nothing is keyed.
 * @param repeats what a key on a repeat of a curve does
 */
export function writePose(
  shot: Shot,
  layer: string | null,
  values: ReadonlyMap<ChannelId, number>,
  frame: number,
  repeats: RepeatWay = 'cycle',
): WrittenPose {
  const range = layer === null ? null : (layerOf(shot, layer)?.range ?? null);
  if (range && (frame < range.start - 1e-6 || frame > range.end + 1e-6))
    refuse('outsideBookends', { frame }, frame, range.start, range.end);
  const { keys, hidden, beyond, blocked, locked, unknown } = solve(shot, layer, frame, {
    kind: 'values',
    values: Object.fromEntries(values),
  });
  const changed = new Map<ChannelId, Curve>();
  const notes = new RepeatNotes();
  let overwritten = 0;
  let lockedKeys = 0;
  for (const [id, { frame: at, value }] of keys) {
    const before = curveOf(shot, layer, id);
    const row = rowAtTime(before, keyPlace(before, at, repeats, shot.range).time);
    if (row >= 0 && (before.flags[row]! & FLAG.locked) !== 0) {
      lockedKeys += 1;
      continue;
    }
    if (row >= 0 && before.values[row] !== value) overwritten += 1;
    const { curve: after, way } = withValueAt(before, at, value, repeats, shot.range);
    notes.add(id, way);
    if (after !== before) changed.set(id, after);
  }
  const missed: Finding[] = [];
  if (hidden.length > 0) missed.push(finding('notReachable', { frame }, hidden));
  if (beyond.length > 0) missed.push(finding('beyondWeight', { frame }, beyond));
  const through: ChannelId[] = [];
  for (const [name, channels] of blocked) {
    const left = channels.filter((id) => {
      const found = keyedThrough(
        withCurves(shot, layer, changed),
        layer,
        id,
        frame,
        values.get(id)!,
        repeats,
      );
      if (!found || isLockedAt(curveOf(shot, layer, id), frame)) return true;
      notes.add(id, found.way);
      changed.set(id, found.curve);
      through.push(id);
      return false;
    });
    if (left.length > 0) missed.push(finding('blockedByLayer', { frame }, name, left));
  }
  const findings: Finding[] = [...missed];
  if (through.length > 0) findings.push(finding('keyedThrough', { frame }, frame, through));
  findings.push(...notes.findings());
  if (locked.length > 0) findings.push(finding('lockedChannels', {}, locked));
  if (lockedKeys > 0) findings.push(finding('lockedKeys', {}, lockedKeys));
  if (unknown.length > 0) findings.push(finding('unmatchedChannels', {}, unknown));
  return {
    shot: withCurves(shot, layer, changed),
    touched: [...changed.keys()],
    findings,
    overwritten,
    missed,
  };
}
