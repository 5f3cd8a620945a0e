/** Paste keys: a copied clip onto the same channels or others, at a frame, in one of three ways. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { addedTo } from '../../curve/add.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { freeze } from '../../curve/split.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { channelKind, restValue, unitOf } from '../../rig/node.ts';
import { clipSchema, readClip } from '../../evaluation/clip.ts';
import type { Clip } from '../../evaluation/clip.ts';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import { curveOf, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { inRange, MOST_FRAMES } from '../../base/frame-range.ts';
import { grownTo, layKeys } from '../shared/lay-keys.ts';
import { withFixedEnds } from '../shared/lay-part.ts';
import { travellers, travelsOver } from '../shared/travel.ts';

export const pasteKeys = defineEdit({
  id: 'keys.paste',
  title: 'Paste keys',
  summary: 'Lays copied keys or curves onto the same channels, or onto those that are selected.',
  words: 'copy duplicate insert merge clipboard',
  group: 'keys',
  locks: 'refuse',
  options: z.object({
    clip: clipSchema.meta({ title: 'Clip', description: 'As copying gives it.' }),
    frame: z.number().min(-MOST_FRAMES).max(MOST_FRAMES).nullable().default(null).meta({
      title: 'Frame',
      unit: 'frame',
      description: 'Where the first key lands; null puts everything where it was.',
    }),
    mode: z.enum(['replace', 'merge', 'insert']).default('replace').meta({
      title: 'Keys there',
      description:
        'replace: keys of the covered range go; merge: only those on the same frames; insert: later keys move on.',
    }),
    value: z.enum(['asIs', 'relative', 'carryOn']).default('asIs').meta({
      title: 'Values',
      description:
        'as is; relative: added to the curve there; carry on: channels that travel go on from where they stand.',
    }),
    stay: z.array(z.string()).default([]).meta({
      title: 'Do not carry on',
      description: 'For carry on: channels that come as they are all the same.',
    }),
    onto: z.enum(['auto', 'same', 'selected']).default('auto').meta({
      title: 'Onto',
      description: 'auto: the same channels where they are there, else the selected ones by kind and order.',
    }),
  }),
  run(shot, selection, { clip: json, frame, mode, value, stay, onto }) {
    const clip = readClip(json);
    if (clip.curves.size === 0) return refused(shot, selection, finding('emptyClip', {}));
    const { pairs, missing } = pairsOf(shot, selection, clip, onto);
    const start = frame ?? clip.json.start;
    const covered = { start, end: start + clip.json.length };
    const locks = new Set(shot.locked);
    const travels = travellers(shot);
    const changed = new Map<ChannelId, Curve>();
    const locked: ChannelId[] = [];
    const carried: Measure[] = [];
    let [laid, overwritten, lockedKeys, rippled] = [0, 0, 0, 0];
    for (const [from, to] of pairs) {
      if (locks.has(to)) {
        locked.push(to);
        continue;
      }
      const source = clip.curves.get(from)!;
      const before = curveOf(shot, selection.layer, to);
      const { name } = splitChannel(to);
      const present = (time: number) =>
        evaluate(before, time, selection.layer === null ? restValue(name) : 0);
      const first = evaluate(source, 0);
      const goesOn =
        value === 'carryOn' &&
        travels.has(to) &&
        travelsOver(source, { start: 0, end: clip.json.length }) &&
        !stay.includes(to);
      const shift = goesOn ? present(start) - first : 0;
      if (shift !== 0)
        carried.push({ name: 'carried on', value: shift, unit: unitOf(name), where: { channel: to } });
      const relative = value === 'relative';
      // Later keys make room, so that there is no base below what is inserted: it goes on from the value at the cut.
      const onBase = relative && mode !== 'insert' && before.times.length > 0;
      const added = onBase ? addedTo(before, source, start, first) : source;
      // What was copied as more than one key keeps its own ends: a key that lies near it would bend them.
      const ended =
        added.times.length > 1 ? withFixedEnds(added, before, covered, shot.range, clip.json.length) : added;
      // Merged, keys that stay between would bend all of them.
      const ready =
        mode === 'merge' && before.times.some((time) => inRange(covered, time)) ? frozen(ended) : ended;
      const done = layKeys(before, ready, {
        covered,
        mode,
        stretch: 1,
        shiftAt: () => (relative && !onBase ? present(start) - first : shift),
      });
      laid += added.times.length;
      overwritten += done.overwritten;
      lockedKeys += done.lockedKeys;
      rippled += done.rippled;
      changed.set(to, done.curve);
    }
    const findings: Finding[] = [];
    if (missing.length > 0) findings.push(finding('unmatchedChannels', {}, missing));
    if (locked.length > 0) findings.push(finding('lockedChannels', {}, locked));
    if (changed.size === 0)
      return refused(shot, selection, ...(findings.length > 0 ? findings : [finding('noPasteTarget', {})]));
    findings.push(finding('coveredRange', {}, covered.start, covered.end));
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    if (lockedKeys > 0) findings.push(finding('lockedKeys', {}, lockedKeys));
    const lastKey = Math.max(
      ...[...changed.values()].map((curve) => curve.times[curve.times.length - 1] ?? 0),
    );
    const { shot: after, finding: grown } = grownTo(withCurves(shot, selection.layer, changed), lastKey);
    if (grown) findings.push(grown);
    return outcome(shot, after, selection, {
      touched: [...changed.keys()],
      findings,
      measures: [
        { name: 'channels', value: changed.size, unit: '' },
        { name: 'keys laid', value: laid, unit: '' },
        { name: 'keys overwritten', value: overwritten, unit: '' },
        { name: 'keys moved on', value: rippled, unit: '' },
        ...carried,
      ],
    });
  },
});

/** The curve with the slopes that it has, whatever comes to stand between its keys. */
const frozen = (curve: Curve): Curve =>
  rebuild(curve, null, (columns) => {
    for (let row = 0; row < columns.times.length; row += 1) freeze(columns, row);
  });

/** Which copied channel goes onto which: the same ones, one onto all, or by kind and order. */
function pairsOf(shot: Shot, selection: Selection, { curves }: Clip, onto: 'auto' | 'same' | 'selected') {
  const rig = rigOf(shot);
  const sources = [...curves.keys()];
  const targets = selectedChannels(shot, { ...selection, keys: {} });
  const known = sources.filter((id) => rig.channelIndex(id) >= 0);
  const byName =
    onto === 'same' ||
    (onto === 'auto' &&
      known.length > 0 &&
      known.every((id) => targets.length === 0 || targets.includes(id)));
  if (byName) {
    const missing = sources.filter((id) => rig.channelIndex(id) < 0);
    return { pairs: known.map((id) => [id, id] as const), missing };
  }
  if (sources.length === 1) return { pairs: targets.map((to) => [sources[0]!, to] as const), missing: [] };
  // The channel of the same name on the next control, then the next of its kind.
  const free = new Set(targets);
  const pairs: (readonly [ChannelId, ChannelId])[] = [];
  const missing: ChannelId[] = [];
  for (const from of sources) {
    const { name } = splitChannel(from);
    const to =
      [...free].find((id) => splitChannel(id).name === name) ??
      [...free].find((id) => channelKind(splitChannel(id).name) === channelKind(name));
    if (to === undefined) {
      missing.push(from);
      continue;
    }
    free.delete(to);
    pairs.push([from, to]);
  }
  return { pairs, missing };
}
