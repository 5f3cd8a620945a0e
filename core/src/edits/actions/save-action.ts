/**
 * Save an action: the chosen controls over a range as curves of their own. Missing keys at the two ends are added to
 * the action first, so that it stands on its own.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { rising } from '../../base/frames.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { framesOf } from '../../base/frame-range.ts';
import { EMPTY_CURVE, rowAtTime } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { curveAlong } from '../../curve/curve-through.ts';
import { later } from '../../curve/later.ts';
import { partOf } from '../../curve/part.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { CHANNEL_KINDS, channelKind, restValue } from '../../rig/node.ts';
import { ACTION_VERSION, curvesToJson } from '../../document/action.ts';
import type { ActionJson } from '../../document/action.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { characterOf, ownSkeletonOf } from '../../mapping/skeletons.ts';
import { selectedChannels } from '../../document/selection.ts';
import { constantCurve, curveOf, layerOf, rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { contactsIn } from './action-contacts.ts';
import { limbsShown } from './limbs-shown.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

/** What a saved action is called, and found by. */
export const nameAndWords = {
  name: z
    .string()
    .trim()
    .min(1)
    .max(80)
    .meta({ title: 'Name', description: 'What the action is called in the pantry.' }),
  tags: z.array(z.string()).default([]).meta({ title: 'Tags', description: 'Words to find it by.' }),
  notes: z.string().max(2000).default('').meta({ title: 'Notes' }),
};

export const saveAction = defineEdit({
  id: 'actions.save',
  title: 'Save as action',
  summary: 'Saves the selected controls over the range to the pantry; the shot stays as it is.',
  words: 'clip library reuse store pose export',
  group: 'actions',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    ...nameAndWords,
    kinds: z
      .array(z.enum(CHANNEL_KINDS))
      .default([...CHANNEL_KINDS])
      .meta({ title: 'Kinds', description: 'Which kinds of channel are saved.' }),
    what: z
      .enum(['shows', 'layer'])
      .default('shows')
      .meta({
        title: 'What is saved',
        labels: { shows: 'what shows', layer: 'the chosen layer alone' },
        description: 'What shows has passes in it, and channels without keys as they stand.',
      }),
    takeAway: z
      .boolean()
      .default(false)
      .meta({ title: 'Take the keys away', description: 'The saved keys leave the shot.' }),
  }),
  *run(shot, selection, { name, tags, notes, kinds, what, takeAway }) {
    const channels = selectedChannels(shot, { ...selection, keys: {} }).filter((id) =>
      kinds.includes(channelKind(splitChannel(id).name)),
    );
    const pass = selection.layer === null ? null : layerOf(shot, selection.layer);
    if (takeAway && pass?.locked) return refused(shot, selection, finding('lockedPass', {}, pass.name));
    if (channels.length === 0) return refused(shot, selection, finding('emptyAction', {}));
    const layered = what === 'shows' ? layeredOver(shot) : new Set<ChannelId>();
    const keyed = channels.flatMap((id) => {
      const { times } = curveOf(shot, what === 'shows' ? null : selection.layer, id);
      return times.length > 0 ? [{ start: times[0]!, end: times[times.length - 1]! }] : [];
    });
    const range = selection.range ?? (keyed.length > 0 ? spanOf(keyed) : shot.range);
    let ends = 0;
    const sampled: ChannelId[] = [];
    const curves = new Map<ChannelId, Curve>();
    for (const channel of channels) {
      const curve = curveOf(shot, what === 'shows' ? null : selection.layer, channel);
      if (layered.has(channel)) sampled.push(channel);
      else if (curve.times.length > 0) {
        const part = partOf(curve, range);
        ends += [range.start, range.end].filter((frame) => rowAtTime(curve, frame) < 0).length;
        curves.set(channel, part);
      } else if (what === 'shows') curves.set(channel, constantCurve(restValue(splitChannel(channel).name)));
    }
    for (const [channel, curve] of curvesShown(shot, sampled, range)) curves.set(channel, curve);
    if (curves.size === 0) return refused(shot, selection, finding('emptyAction', {}));
    const nodes = new Set(channels.map((id) => splitChannel(id).node));
    const limbs = what === 'shows' ? yield* limbsShown(shot, nodes, range) : [];
    const contacts = what === 'shows' ? contactsIn(shot, nodes, range) : [];
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
      skeleton: skeletonAround(shot, channels),
      roots: rootsAmong(shot, channels),
      ...(contacts.length > 0 && { contacts }),
      ...(limbs.length > 0 && { limbs }),
    };
    const findings: Finding[] = [finding('coveredRange', {}, range.start, range.end)];
    if (ends > 0) findings.push(finding('endsKeyed', {}, ends));
    if (sampled.length > 0) findings.push(finding('shownOnFrames', {}, sampled));
    const locks = new Set(shot.locked);
    const free = [...curves.keys()].filter((id) => !locks.has(id));
    if (takeAway && free.length < curves.size)
      findings.push(
        finding(
          'lockedChannels',
          {},
          shot.locked.filter((id) => curves.has(id)),
        ),
      );
    const saved = { ...selection, nodes: [], keys: {}, channels: free, range };
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

/** Those of the channels' nodes that nothing carries. */
export const rootsAmong = (shot: Shot, channels: readonly ChannelId[]): string[] => {
  const nodes = new Set(channels.map((id) => splitChannel(id).node));
  return shot.nodes.filter(({ id, parent }) => parent === null && nodes.has(id)).map(({ id }) => id);
};

/** The skeleton of the character that most of the channels belong to. */
export function skeletonAround(shot: Shot, channels: readonly ChannelId[]): ActionJson['skeleton'] {
  const { bones, facing } = ownSkeletonOf(
    shot,
    characterOf(
      shot,
      channels.map((id) => splitChannel(id).node),
    ),
  );
  return { bones: [...bones], facing };
}

function spanOf(ranges: readonly FrameRange[]): FrameRange {
  return {
    start: Math.min(...ranges.map(({ start }) => start)),
    end: Math.max(...ranges.map(({ end }) => end)),
  };
}

/** The channels that some layer makes other than the base has them. */
function layeredOver(shot: Shot): ReadonlySet<ChannelId> {
  const { base, top } = stackOf(shot);
  return new Set(rigOf(shot).channels.flatMap(({ id }, c) => (top[c] === base[c] ? [] : [id])));
}

/** What channels show over a range, with keys on its frames: exact there, jumps stay jumps, and between them nothing is off by more than can be seen. */
function curvesShown(shot: Shot, channels: readonly ChannelId[], range: FrameRange): [ChannelId, Curve][] {
  const rig = rigOf(shot);
  const { top } = stackOf(shot);
  const places = rising(
    [range.start, range.end],
    framesOf({ start: Math.ceil(range.start), end: Math.floor(range.end) }),
  );
  return channels.map((id) => [
    id,
    later(curveAlong(top[rig.channelIndex(id)]!, places, NEAR_ENOUGH), -range.start),
  ]);
}

/** The channels' units. */
const NEAR_ENOUGH = 1e-3;

function without(curve: Curve, rows: readonly number[]): Curve {
  const gone = new Set(rows);
  const kept = allRows(curve).filter((row) => !gone.has(row));
  return kept.length === 0 ? EMPTY_CURVE : rebuild(curve, kept);
}
