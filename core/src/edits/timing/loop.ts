/**
 * Loop: the ends of a range made to agree in value and slope over a blend, then repeated, as keys or as what the curve does
 * after them. The travel of the root is carried on. A seam has one key, so that no frame is doubled: a cycle of 24 frames has its
 * last key on frame 25, equal to frame 1, and plays 1–24 (common practice, no source).
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import type { Curve } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { closeSeam, seamGap, SEAM_WINNERS } from '../../curve/seam.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { channelKind, unitOf } from '../../rig/node.ts';
import { changeLayers } from '../../shot/layers.ts';
import { splitChannel } from '../../shot/shot.ts';
import type { ChannelId } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { travellers, travelsOver } from '../travel.ts';
import { channelsIn, leftAlone, rangeIn, scopeOption } from './scope.ts';

export const loop = defineEdit({
  id: 'timing.loop',
  title: 'Loop',
  summary: 'Makes first and last agree, and repeats the range; travel is carried on.',
  group: 'timing',
  locks: 'none',
  options: z.object({
    times: z.number().int().min(1).max(1000).default(2).meta({
      title: 'Times',
      unit: '',
      step: 1,
      description: 'How often it plays in all; 1 only mends the seam.',
    }),
    as: z
      .enum(['keys', 'leadOut'])
      .default('keys')
      .meta({
        title: 'Repeats',
        labels: { keys: 'as keys', leadOut: 'as lead-out' },
        description: 'as keys: to be changed one by one; as lead-out: they follow the source.',
      }),
    winner: z
      .enum(SEAM_WINNERS)
      .default('middle')
      .meta({
        title: 'Which end wins',
        labels: { first: 'the first', last: 'the last', middle: 'they meet' },
        description: 'The other end gives way over the blend.',
      }),
    blend: z.number().int().min(1).max(100000).default(6).meta({
      title: 'Blend',
      unit: 'frames',
      step: 1,
      description: 'Over so many frames at an end the difference fades out.',
    }),
    carry: z.boolean().default(true).meta({
      title: 'Carry travel on',
      description: 'Controls without a parent go on from where they stand.',
    }),
    scope: scopeOption,
  }),
  run(shot, selection, { times, as, winner, blend, carry, scope }) {
    const range = rangeIn(shot, selection);
    const length = range.end - range.start;
    const travels = travellers(shot);
    const gaps = new Map<string, Measure>();
    let outside = 0;
    const changes = changeLayers(shot, channelsIn(shot, selection, scope), range.start, (curve, channel) => {
      if (curve.times.length < 2) return curve;
      const carries = carry && travels.has(channel) && travelsOver(curve, range);
      const whole = addKeysKeepingShape(curve, [range.start, range.end]);
      const ended = cutTo(whole, range);
      outside += whole.times.length - ended.times.length;
      note(gaps, channel, seamGap(ended, range.start, range.end).value, carries);
      const closed = closeSeam(ended, range.start, range.end, blend, winner, carries);
      const kind = carries ? 'loopCarry' : 'loop';
      const repeating: Curve = { ...closed, leadOut: kind, leadOutCount: times - 1 };
      if (times === 1) return closed;
      return as === 'leadOut' ? repeating : bakeLeads(repeating, range.start, range.start + times * length);
    });
    // Where the last key equals the first, its frame belongs to the next turn.
    const end = range.start + times * length - (length > 1 ? 1 : 0);
    const grown = changes.shot === shot ? shot : { ...changes.shot, range: { start: range.start, end } };
    const findings = leftAlone(changes);
    if (outside > 0) findings.push(finding('keysGone', {}, outside, 'what lies outside the cycle'));
    if (end > shot.range.end && grown !== shot) findings.push(finding('rangeGrown', {}, end));
    return outcome(
      shot,
      grown,
      { ...selection, range: null },
      {
        touched: changes.touched,
        findings,
        measures: [
          { name: 'curves', value: changes.touched.length, unit: '' },
          { name: 'plays', value: end - range.start + 1, unit: 'frames' },
          ...gaps.values(),
        ],
      },
    );
  },
});

/** The curve without keys outside the range: a loop is its cycle. */
function cutTo(curve: Curve, range: FrameRange): Curve {
  const rows = allRows(curve).filter((row) => inRange(range, curve.times[row]!));
  return rows.length === curve.times.length ? curve : rebuild(curve, rows);
}

/** Keeps the widest gap of each kind of channel that had to be closed. */
function note(gaps: Map<string, Measure>, channel: ChannelId, value: number, carries: boolean): void {
  const { name } = splitChannel(channel);
  const title = carries ? 'carried on' : `widest seam, ${channelKind(name)}`;
  const key = carries ? channel : title;
  if (carries ? Math.abs(value) < 1e-9 : Math.abs(value) <= Math.abs(gaps.get(key)?.value ?? 0)) return;
  gaps.set(key, {
    name: title,
    value: carries ? value : Math.abs(value),
    unit: unitOf(name),
    where: { channel },
  });
}
