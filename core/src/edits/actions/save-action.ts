/**
 * Save an action: the chosen controls over a range as curves of their own. Missing keys at the two ends are added to
 * the action first, so that it stands on its own.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import { EMPTY_CURVE } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { CHANNEL_KINDS, channelKind } from '../../rig/node.ts';
import { ACTION_VERSION, curvesToJson } from '../../shot/action.ts';
import type { ActionJson } from '../../shot/action.ts';
import { targetsOf } from '../../shot/selection.ts';
import type { Target } from '../../shot/selection.ts';
import { splitChannel } from '../../shot/shot.ts';
import type { ChannelId } from '../../shot/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsChannels } from '../targets.ts';

export const saveAction = defineEdit({
  id: 'actions.save',
  title: 'Save as action',
  summary: 'Saves the selected controls over the range to the pantry; the shot stays as it is.',
  group: 'actions',
  acts: 'on the selection',
  options: z.object({
    name: z
      .string()
      .trim()
      .min(1)
      .max(80)
      .meta({ title: 'Name', description: 'What the action is called in the pantry.' }),
    tags: z.array(z.string()).default([]).meta({ title: 'Tags', description: 'Words to find it by.' }),
    notes: z.string().max(2000).default('').meta({ title: 'Notes' }),
    kinds: z
      .array(z.enum(CHANNEL_KINDS))
      .default([...CHANNEL_KINDS])
      .meta({ title: 'Kinds', description: 'Which kinds of channel are saved.' }),
    takeAway: z
      .boolean()
      .default(false)
      .meta({ title: 'Take the keys away', description: 'The saved keys leave the shot.' }),
  }),
  accepts: needsChannels,
  run(shot, selection, { name, tags, notes, kinds, takeAway }) {
    const targets = targetsOf(shot, { ...selection, keys: {} }).filter(({ channel }) =>
      kinds.includes(channelKind(splitChannel(channel).name)),
    );
    if (targets.length === 0) return refused(shot, selection, finding('emptyAction', {}));
    const range = selection.range ?? keyedRange(targets);
    let ends = 0;
    const curves = new Map<ChannelId, Curve>();
    for (const { channel, curve } of targets) {
      const whole = addKeysKeepingShape(curve, [range.start, range.end]);
      ends += whole.times.length - curve.times.length;
      curves.set(channel, cut(whole, range));
    }
    const roots = shot.nodes.filter((node) => node.parent === null).map((node) => node.id);
    const action: ActionJson = {
      format: 'kneader-action',
      version: ACTION_VERSION,
      name,
      tags,
      notes,
      source: shot.name,
      rate: shot.rate,
      length: range.end - range.start,
      curves: curvesToJson(curves),
      roots: roots.filter((id) => targets.some(({ channel }) => splitChannel(channel).node === id)),
    };
    const findings: Finding[] = [finding('coveredRange', {}, range.start, range.end)];
    if (ends > 0) findings.push(finding('endsKeyed', {}, ends));
    const saved = { ...selection, nodes: [], keys: {}, channels: [...curves.keys()], range };
    const changes = takeAway ? changeTargets(shot, saved, without) : { shot, touched: [], lockedKeys: 0 };
    return outcome(shot, changes.shot, selection, {
      made: action,
      touched: changes.touched,
      findings: [...findings, ...lockedKeysFinding(changes.lockedKeys)],
      measures: [
        { name: 'channels', value: curves.size, unit: '' },
        {
          name: 'keys',
          value: [...curves.values()].reduce((sum, curve) => sum + curve.times.length, 0),
          unit: '',
        },
        { name: 'length', value: action.length, unit: 'frames' },
      ],
    });
  },
});

/** From the first key of any curve to the last. */
function keyedRange(targets: readonly Target[]): FrameRange {
  return {
    start: Math.min(...targets.map(({ curve }) => curve.times[0]!)),
    end: Math.max(...targets.map(({ curve }) => curve.times[curve.times.length - 1]!)),
  };
}

/** The keys within the range, counted from its start. */
function cut(curve: Curve, range: FrameRange): Curve {
  const rows = allRows(curve).filter((row) => inRange(range, curve.times[row]!));
  return rebuild(curve, rows, (columns) => {
    for (let row = 0; row < rows.length; row += 1) columns.times[row]! -= range.start;
  });
}

function without(curve: Curve, rows: readonly number[]): Curve {
  const gone = new Set(rows);
  const kept = allRows(curve).filter((row) => !gone.has(row));
  return kept.length === 0 ? EMPTY_CURVE : rebuild(curve, kept);
}
