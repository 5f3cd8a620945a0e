/**
 * Record: what a hand or a feed drove, a value on every frame, becomes dense curves on a replace pass. Recorded over such a pass again, only the recorded
 * channels change, and only in the recorded frames.
 */
import { effectOf, isKeyed } from '../../layers/kinds.ts';
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { later } from '../../curve/later.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { wholeTurns } from '../../math/euler.ts';
import { channelKind } from '../../rig/node.ts';
import { layerOf, rigOf, splitChannel, withCurves, withLayer } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { replacePart } from '../shared/lay-part.ts';
import { underFilters } from '../passes/under-filters.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { nameOption } from '../shared/name-option.ts';

/** Frames that one take may have. */
const MOST_FRAMES = 100_000;

export const recordTake = defineEdit({
  id: 'actions.record',
  title: 'Record',
  summary: 'Drives controls with the pointer, or from a capture feed, while the shot plays.',
  words: 'capture live hand perform motion stream take overdub',
  group: 'actions',
  locks: 'none',
  options: z.object({
    name: nameOption('“Take” and a number'),
    start: frameOption('From', 'The frame of the first value.'),
    values: z
      .record(z.string(), z.array(z.number()).min(1).max(MOST_FRAMES))
      .default({})
      .meta({ title: 'Values', description: 'By channel, one for each frame.' }),
    onto: z.string().nullable().default(null).meta({
      title: 'Onto',
      description: 'The id of a replace pass that is recorded over; left out, a new one.',
    }),
  }),
  run(shot, selection, { name, start, values, onto }) {
    const rig = rigOf(shot);
    const locks = new Set(shot.locked);
    const channels = Object.keys(values);
    if (channels.length === 0) return refused(shot, selection, finding('nothingRecorded', {}));
    const missing = channels.filter((id) => rig.channelIndex(id) < 0);
    const locked = channels.filter((id) => locks.has(id));
    const taken = channels.filter((id) => rig.channelIndex(id) >= 0 && !locks.has(id));
    const findings = [
      ...(missing.length > 0 ? [finding('unmatchedChannels', {}, missing)] : []),
      ...(locked.length > 0 ? [finding('lockedChannels', {}, locked)] : []),
    ];
    if (taken.length === 0) return refused(shot, selection, ...findings);
    const length = Math.max(...taken.map((id) => values[id]!.length)) - 1;
    const range = { start, end: start + length };
    if (range.end > LIMITS.frame) refuse('beyondFrames', {}, LIMITS.frame);
    const nodes = [...new Set(taken.map((id) => splitChannel(id).node))];
    const { shot: ready, pass } = passFor(shot, onto, name, nodes, range);
    const curves = new Map<ChannelId, Curve>();
    let overwritten = 0;
    for (const id of taken) {
      const { node, name: channel } = splitChannel(id);
      const given = channelKind(channel) === 'rotation' ? unwrapped(values[id]!) : values[id]!;
      const take = denseCurve(given, length);
      const before = layerOf(ready, pass)!.curves[rig.indexOf(node)]?.[channel];
      if (!before) curves.set(id, later(take, start));
      else {
        const laid = replacePart(before, take, range, shot.range);
        overwritten += laid.overwritten;
        curves.set(id, laid.curve);
      }
    }
    const { shot: after, finding: grown } = grownTo(withCurves(ready, pass, curves), range.end);
    return outcome(shot, after, selection, {
      selection: { ...selection, layer: pass, keys: {} },
      touched: taken,
      findings: [
        ...findings,
        finding('bookends', {}, range.start, range.end),
        ...(overwritten > 0 ? [finding('keysOverwritten', {}, overwritten)] : []),
        ...(grown ? [grown] : []),
      ],
      measures: [
        { name: 'channels', value: taken.length, unit: '' },
        { name: 'frames', value: length + 1, unit: '' },
      ],
    });
  },
});

/** The pass that is recorded onto, its range and its controls wide enough. */
function passFor(
  shot: Shot,
  onto: string | null,
  name: string,
  nodes: readonly string[],
  range: { readonly start: number; readonly end: number },
): { readonly shot: Shot; readonly pass: string } {
  if (onto === null) {
    const pass = freshLayer(shot, name, 'Take', {
      kind: 'replace',
      members: nodes,
      settings: { rotations: 'orientations' },
      range: { ...range, rampIn: 0, rampOut: 0 },
    });
    return { shot: underFilters(shot, pass), pass: pass.id };
  }
  const known = layerOf(shot, onto);
  if (!known || !isKeyed(known) || effectOf(known) !== 'covers') return refuse('unknownPass', {}, onto);
  if (known.locked) return refuse('lockedPass', {}, known.name);
  const wider = withLayer(shot, onto, (was) => ({
    ...was,
    members: [...new Set([...was.members, ...nodes])],
    range: was.range && {
      ...was.range,
      start: Math.min(was.range.start, range.start),
      end: Math.max(was.range.end, range.end),
    },
  }));
  return { shot: wider, pass: onto };
}

/** Angles that go on: what a feed wraps at half a turn is the nearest to the frame before. */
function unwrapped(values: readonly number[]): number[] {
  const result: number[] = [];
  for (const value of values) result.push(value - 360 * wholeTurns(value - (result.at(-1) ?? value)));
  return result;
}

/** A key on every frame from 0; one that is short holds its last value. */
function denseCurve(values: readonly number[], length: number): Curve {
  return buildCurve(length + 1, (columns) => {
    for (let i = 0; i <= length; i += 1) {
      columns.times[i] = i;
      columns.values[i] = values[Math.min(i, values.length - 1)]!;
    }
    columns.segments.fill(SEGMENT.linear);
    columns.tangentsIn.fill(TANGENT.linear);
    columns.tangentsOut.fill(TANGENT.linear);
  });
}
