/**
 * Merge passes into one, or onto the base: what shows stays, within tolerances that are said, and what would be lost is said before it is applied.
 *
 * The merged pass takes the place of the lowest. Where that adds, the result adds what all of them make of what lies below; where it replaces, it
 * replaces by what shows above the uppermost.
 */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { rising } from '../../base/frames.ts';
import { FLAG } from '../../curve/curve.ts';
import type { Shown } from '../../curve/curve-through.ts';
import { timesWithRepeats } from '../../curve/repeated-times.ts';
import { effectOf, isKeyed } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import type { Signals } from '../../layers/signal.ts';
import { weightOf } from '../../layers/weight.ts';
import { soundingLayers } from '../../evaluation/context.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { constantCurve, curveOf, curvesIn, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { bake, bakeOptions, movedAlike, repeatsEnded, timesOf } from '../shared/bake.ts';
import type { Baked } from '../shared/bake.ts';
import { keysOn } from './pass-nodes.ts';
import { knownPass } from './pass-option.ts';

export const mergePasses = defineEdit({
  id: 'passes.merge',
  title: 'Merge passes',
  summary: 'Makes one of several passes, or puts them onto the base; says first what would be lost.',
  words: 'layer flatten collapse combine bake down',
  group: 'passes',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    which: z
      .enum(['down', 'all', 'chosen'])
      .default('down')
      .meta({
        title: 'Merge',
        labels: { down: 'into the one below', all: 'all onto the base', chosen: 'those named' },
        description:
          'The chosen pass into the one below it (the lowest onto the base), all of them, or those named.',
      }),
    pass: z
      .string()
      .nullable()
      .default(null)
      .meta({ title: 'Pass', description: 'The id of the pass that goes into the one below.' }),
    passes: z
      .array(z.string())
      .default([])
      .meta({
        title: 'Passes',
        when: { which: 'chosen' },
        description: 'Ids of the passes that become one; they lie next to each other.',
      }),
    ...bakeOptions,
  }),
  *run(shot, selection, { which, pass, passes, ...wishes }) {
    const { merged, onto } = meant(shot, which, pass, passes);
    const target = onto ?? null;
    const [lowest, highest] = [
      shot.layers.indexOf(merged[0]!),
      shot.layers.indexOf(merged[merged.length - 1]!),
    ];
    const sounding = new Set(soundingLayers(shot));
    // What counts, in the places that it has, whatever is solo.
    const heard = (layers: readonly Layer[]): Signals =>
      stackOf({
        ...shot,
        layers: layers.filter((layer) => sounding.has(layer)).map((layer) => ({ ...layer, solo: false })),
      }).top;
    const below = heard(shot.layers.slice(0, lowest));
    const above = heard(shot.layers.slice(0, highest + 1));
    const rig = rigOf(shot);
    const counting = merged.filter((layer) => sounding.has(layer));
    const adds = target !== null && effectOf(counting[0] ?? target) === 'adds';
    const baked = new Map<ChannelId, Baked>();
    rig.channels.forEach(({ id }, c) => {
      if (above[c] === below[c]) return;
      const [over, under] = [above[c]!, below[c]!];
      const shown: Shown = adds
        ? {
            at: (frame) => over.at(frame) - under.at(frame),
            jumps: (range) => rising(over.jumps(range), under.jumps(range)),
          }
        : over;
      const own = counting.flatMap((layer) => timesOf(shot, layer, id));
      const keyed =
        adds && counting.every((layer) => effectOf(layer) === 'adds')
          ? []
          : timesWithRepeats(curveOf(shot, null, id), shot.range);
      const exact =
        target === null ? movedAlike(shot, curveOf(shot, null, id), under, over, rising(own)) : null;
      baked.set(id, { shown, times: rising(own, keyed), exact });
    });
    if (target === null) refuseLocked(shot, [...baked.keys()]);
    const gone = new Set(merged);
    const made: Layer | null = target && {
      ...target,
      members: [...new Set(merged.flatMap(({ members }) => members))],
      muted: false,
      solo: counting.some(({ solo }) => solo),
      weight: constantCurve(1, shot.range.start),
      range: null,
      kind: adds ? 'offset' : 'replace',
      settings: { rotations: 'channels' },
      curves: [],
    };
    const rest = shot.layers.flatMap((layer) =>
      layer === merged[0] && made ? [made] : gone.has(layer) ? [] : [layer],
    );
    const bare = { ...shot, layers: rest };
    const {
      shot: after,
      curves,
      measures,
      findings: strays,
    } = yield* bake(shot, baked, wishes, (made) => withCurves(bare, target?.id ?? null, made));
    const touched = new Set([
      ...curves.keys(),
      ...merged.flatMap(({ curves: own }) => [...curvesIn(own, shot.nodes)].map(([id]) => id)),
    ]);
    let keys = 0;
    for (const curve of curves.values()) keys += curve.times.length;
    return outcome(shot, after, selection, {
      selection: { ...selection, layer: target?.id ?? null, keys: {} },
      touched: [...touched],
      findings: [
        ...lost(shot, merged, sounding),
        ...strays,
        ...(target === null ? repeatsEnded(baked, (id) => curveOf(shot, null, id)) : []),
      ],
      measures: [
        {
          name: 'passes',
          value: rest.filter(isKeyed).length,
          unit: '',
          before: shot.layers.filter(isKeyed).length,
        },
        {
          name: 'keys',
          value: keys,
          unit: '',
          before: merged.reduce((sum, layer) => sum + keysOn(shot, layer), 0),
        },
        ...measures,
      ],
    });
  },
});

/** What is merged, from bottom to top, and the pass that it goes into; null is the base. */
function meant(
  shot: Shot,
  which: 'down' | 'all' | 'chosen',
  pass: string | null,
  passes: readonly string[],
): { readonly merged: readonly Layer[]; readonly onto: Layer | null } {
  const keyed = shot.layers.filter(isKeyed);
  if (keyed.length === 0) refuse('noPasses', {});
  const chosen =
    which === 'all'
      ? keyed
      : which === 'chosen'
        ? passes.map((id) => knownPass(shot, id))
        : downFrom(shot, keyed, pass);
  const merged = keyed.filter((layer) => chosen.includes(layer));
  if (merged.length === 0 || (which === 'chosen' && merged.length < 2)) refuse('twoPasses', {});
  const locked = merged.filter((layer) => layer.locked).map(({ name }) => name);
  if (locked.length > 0) refuse('lockedInTheWay', {}, locked);
  const onto = which === 'all' || merged.length === 1 ? null : merged[0]!;
  const from = onto === null ? 0 : shot.layers.indexOf(merged[0]!);
  const between = shot.layers
    .slice(from, shot.layers.indexOf(merged[merged.length - 1]!))
    .filter((layer) => !merged.includes(layer));
  if (between.length > 0)
    refuse(
      'notNeighbours',
      {},
      between.map(({ name }) => name),
    );
  return { merged, onto };
}

/** The pass and the one below it; the lowest alone goes onto the base. */
function downFrom(shot: Shot, keyed: readonly Layer[], id: string | null): readonly Layer[] {
  if (id === null) return refuse('noPassChosen', {});
  const at = keyed.indexOf(knownPass(shot, id));
  return keyed.slice(Math.max(at - 1, 0), at + 1);
}

function refuseLocked(shot: Shot, channels: readonly ChannelId[]): void {
  const locked = channels.filter(
    (id) =>
      shot.locked.includes(id) || curveOf(shot, null, id).flags.some((flag) => (flag & FLAG.locked) !== 0),
  );
  if (locked.length > 0) refuse('lockedInTheWay', {}, locked);
}

/** What is not there any more after it: passes that do not count, and what a replace pass hides. */
function lost(shot: Shot, merged: readonly Layer[], sounding: ReadonlySet<Layer>): Finding[] {
  const silent = merged
    .filter((layer) => !sounding.has(layer) && keysOn(shot, layer) > 0)
    .map(({ name }) => name);
  const hidden = new Set<ChannelId>();
  merged.forEach((layer, i) => {
    if (!sounding.has(layer) || !coversAlways(shot, layer)) return;
    for (const [id] of curvesIn(layer.curves, shot.nodes))
      if (merged.slice(0, i).some((lower) => curveOf(shot, lower.id, id).times.length > 0)) hidden.add(id);
  });
  const bent = merged
    .filter((layer) => sounding.has(layer))
    .filter(
      (layer) =>
        layer.weight.times.length > 1 ||
        layer.range !== null ||
        (layer.settings['rotations'] === 'orientations' &&
          (effectOf(layer) === 'adds' || layer.weight.values[0] !== 1)),
    )
    .map(({ name }) => name);
  return [
    ...(bent.length > 0 ? [finding('weighedIn', {}, bent)] : []),
    ...(silent.length > 0 ? [finding('silentLost', {}, silent)] : []),
    ...(hidden.size > 0 ? [finding('hiddenLost', {}, [...hidden])] : []),
  ];
}

const coversAlways = (shot: Shot, layer: Layer): boolean =>
  effectOf(layer) === 'covers' &&
  layer.range === null &&
  layer.weight.values.every((value) => value === 1) &&
  weightOf(layer).at(shot.range.start) === 1;
