/**
 * Turn a filter into keys. Where nothing lies between the base and the filter its result becomes the base's keys; a channel that passes or other filters
 * change below it goes to a replace pass in the filter's place, so that what lies below stays as it is.
 */
import { ownOnBase } from '../shared/own-on-base.ts';
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { rising } from '../../base/frames.ts';
import { FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { timesWithRepeats } from '../../curve/repeated-times.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withActionsPlaced, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { bake, bakeOptions, repeatsEnded, timesOf } from '../shared/bake.ts';
import type { Baked } from '../shared/bake.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { filterOption, openFilter } from './filter-option.ts';

export const bakeFilter = defineEdit({
  id: 'filters.bake',
  title: 'Bake filter',
  summary: 'Turns what a filter shows into keys, and takes the filter away.',
  words: 'procedural modifier apply flatten keys',
  group: 'filters',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({ filter: filterOption, ...bakeOptions }),
  *run(shot, selection, { filter: id, ...wishes }) {
    const filter = openFilter(shot, id);
    if (filter.muted) refuse('mutedFilter', {}, filter.name);
    // Under solo other layers are silent: what is baked now would sound twice, or not at all, when it ends.
    if (shot.layers.some((layer) => layer.solo)) refuse('soloFirst', {});
    const at = shot.layers.indexOf(filter);
    const { levels, top } = stackOf(shot);
    const level = levels.findIndex(({ layer }) => layer.id === id);
    const below = levels[level]!.below;
    const above = levels[level + 1]?.below ?? top;
    const rig = rigOf(shot);
    const baked = new Map<ChannelId, Baked>();
    const onBase = new Set<ChannelId>();
    const plain = ownOnBase(
      shot,
      id,
      rig.channels.filter((_, c) => above[c] !== below[c]).map((channel) => channel.id),
    );
    rig.channels.forEach(({ id: channel }, c) => {
      if (above[c] === below[c]) return;
      if (plain.has(channel)) onBase.add(channel);
      const own = levels.slice(0, level).flatMap(({ layer }) => timesOf(shot, layer, channel));
      const keyed = [...timesWithRepeats(curveOf(shot, null, channel), shot.range), ...own];
      // Where keys are, or else, for as few as needed, on all frames: what a filter makes lies between keys.
      const times = wishes.keys === 'union' ? keyed : [...keyed, ...timesOf(shot, filter, channel)];
      baked.set(channel, {
        shown: above[c]!,
        times: rising(times),
      });
    });
    if (baked.size === 0) refuse('nothingFiltered', {}, filter.members);
    const locked = [...onBase].filter(
      (channel) =>
        shot.locked.includes(channel) ||
        curveOf(shot, null, channel).flags.some((flag) => (flag & FLAG.locked) !== 0),
    );
    if (locked.length > 0) refuse('lockedInTheWay', {}, locked);
    const over = [...baked.keys()].filter((channel) => !onBase.has(channel));
    const pass = freshLayer(shot, '', filter.name, {
      kind: 'replace',
      members: filter.members.filter((node) => over.some((channel) => channel.startsWith(`${node}.`))),
      settings: {},
    });
    const rest = [
      ...shot.layers.slice(0, at),
      ...(over.length > 0 ? [pass] : []),
      ...shot.layers.slice(at + 1),
    ];
    const put = (curves: ReadonlyMap<ChannelId, Curve>): Shot => {
      const [own, others] = [true, false].map(
        (base) => new Map([...curves].filter(([channel]) => onBase.has(channel) === base)),
      );
      return withCurves(
        withCurves(withActionsPlaced({ ...shot, layers: rest }), null, own!),
        pass.id,
        others!,
      );
    };
    const { shot: after, curves, measures, findings: strays } = yield* bake(shot, baked, wishes, put);
    let [before, keys] = [0, 0];
    for (const [channel, curve] of curves) {
      keys += curve.times.length;
      if (onBase.has(channel)) before += curveOf(shot, null, channel).times.length;
    }
    return outcome(shot, after, selection, {
      touched: [...curves.keys()],
      findings: [
        ...(before > 0 ? [finding('keysReplaced', {}, before)] : []),
        ...strays,
        ...repeatsEnded(new Map([...baked].filter(([id]) => onBase.has(id))), (id) =>
          curveOf(shot, null, id),
        ),
        ...(over.length > 0 ? [finding('bakedOver', {}, pass.name, over)] : []),
      ],
      measures: [{ name: 'keys', value: keys, unit: '', before }, ...measures],
    });
  },
});
