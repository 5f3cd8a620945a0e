/**
 * Flip a range: left and right exchange their motion, in place; or appended, so that half a cycle becomes a whole one: contact at
 * 0 and 100 %, its flip at 50 % (common practice, no source).
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { later } from '../../curve/later.ts';
import { hasLead } from '../../curve/lead.ts';
import { EMPTY_CURVE, FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { oddOnes } from '../../mirror/flip-test.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import {
  curveOf,
  curvesIn,
  DEFAULT_COLUMNS,
  layerOf,
  rigOf,
  splitChannel,
  withCurves,
} from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { flippedContacts } from './flipped-contacts.ts';
import { flippedLayers, withCoversCut } from './flipped-layers.ts';
import { orStill, appendPart, partOf, replacePart, restOn } from '../shared/lay-part.ts';
import type { LaidPart } from '../shared/lay-part.ts';
import { rangeIn } from '../timing/scope.ts';
import { travellers, travelsOver } from '../shared/travel.ts';
import { excludedNodes, exclusionOptions, planeChoice, planeOptions } from './flipped-pose.ts';
import { nodesWithPartners } from './flip-pose.ts';
import { flippedCurves } from './flipped-curves.ts';
import { flippedSpaces } from './flipped-spaces.ts';
import type { FlippedCurves } from './flipped-curves.ts';
import { unitOf } from '../../rig/node.ts';

export const flipRange = defineEdit({
  id: 'poses.flipRange',
  title: 'Flip a range',
  summary: 'Left and right exchange their motion over a range, in place or placed after it.',
  words: 'mirror walk cycle second half swap left right symmetry',
  group: 'poses',
  locks: 'none',
  promise: 'nothingOutside',
  options: z.object({
    append: z.boolean().default(false).meta({
      title: 'Place it after',
      description: 'Half a cycle becomes a whole one; off, the range itself is flipped.',
    }),
    carry: z
      .boolean()
      .default(true)
      .meta({
        title: 'Carry travel on',
        when: { append: true },
        description: 'Placed after: controls without a parent go on from where they stand.',
      }),
    seam: z
      .enum(['exact', 'smooth'])
      .default('exact')
      .meta({
        title: 'At the seam',
        when: { append: true },
        labels: { exact: 'as it is', smooth: 'smooth' },
        description:
          'Placed after: as it is keeps both halves exact reflections; smooth lets tangents follow their rules across.',
      }),
    ...exclusionOptions,
    ...planeOptions,
  }),
  *run(given, selection, { append, carry, seam: join, ...options }) {
    const range = rangeIn(given, selection);
    const length = range.end - range.start;
    const repeated = withRepeatsKeyed(given, nodesWithPartners(given, selection), range, append);
    const { baked } = repeated;
    const cut =
      selection.layer === null
        ? withCoversCut(repeated.shot, nodesWithPartners(given, selection), range, append)
        : { shot: repeated.shot, outside: new Set<string>(), inside: new Set<string>() };
    const { shot } = cut;
    const left = excludedNodes(shot, options);
    const choice = planeChoice(shot, options);
    const nodes = nodesWithPartners(shot, selection);
    const locks = new Set(shot.locked);
    const layers = selection.layer === null ? [null, ...shot.layers.map(({ id }) => id)] : [selection.layer];
    const travels = travellers(shot);
    const seam = new Map<string, Measure>();
    const locked: ChannelId[] = [];
    const touched = new Set<ChannelId>();
    let [after, keys, overwritten] = [shot, 0, 0];
    let flipped: FlippedCurves = { curves: new Map(), alone: [], keyedAnew: [] };
    const findings: Finding[] = [];
    for (const layer of layers) {
      if (layer !== null && cut.outside.has(layer)) continue;
      const alone = layer !== null && cut.inside.has(layer);
      const pass = shot.layers.find(({ id }) => id === layer);
      flipped = flippedCurves(shot, layer, nodes, left, range, append ? 'always' : 'cut', choice);
      if (flipped.curves.size === 0) continue;
      if (pass?.locked) {
        findings.push(finding('lockedPass', {}, pass.name));
        continue;
      }
      const changed = new Map<ChannelId, Curve>();
      for (const [channel, part] of append && !alone
        ? [...flipped.curves, ...ownParts(shot, layer, nodes, left, range)]
        : flipped.curves) {
        const before = curveOf(shot, layer, channel);
        if (locks.has(channel)) {
          locked.push(channel);
          continue;
        }
        const shift =
          append && carry && travels.has(channel) && travelsOver(before, range)
            ? evaluate(before, range.end) - evaluate(part, 0)
            : 0;
        if (append) noteSeam(seam, channel, evaluate(part, 0) + shift - evaluate(before, range.end));
        const laid = alone
          ? aloneIn(shot, layer, channel, part, append ? range.end : range.start)
          : append
            ? appendPart(orStill(before, range, restOn(layer, channel)), part, range.end, shift, join)
            : replaced(shot, layer, channel, before, part, range);
        keys += part.times.length;
        overwritten += laid.overwritten;
        changed.set(channel, laid.curve);
        touched.add(channel);
      }
      // What only covers where it is flipped has no keys for what its partner had none for.
      if (alone)
        for (const [channel] of curvesIn(pass!.curves, shot.nodes)) {
          const { node } = splitChannel(channel);
          if (nodes.has(node) && !left.has(node) && !changed.has(channel)) changed.set(channel, EMPTY_CURVE);
        }
      after = withCurves(after, layer, changed);
    }
    if (touched.size === 0)
      return refused(
        given,
        selection,
        ...(locked.length > 0 ? [finding('lockedChannels', {}, locked)] : [finding('noPairs', {})]),
      );
    const end = append ? Math.max(shot.range.end, range.end + length) : shot.range.end;
    if (end > shot.range.end) {
      after = { ...after, range: { ...shot.range, end } };
      findings.push(finding('rangeGrown', {}, end));
    }
    if (append) after = withColumns(after, shot, range);
    if (selection.layer === null) {
      const taking = new Set([...nodes].filter((node) => !left.has(node)));
      const spaces = yield* flippedSpaces(
        shot,
        after,
        taking,
        range,
        append ? range.end : range.start,
        choice,
      );
      after = spaces.shot;
      for (const channel of spaces.touched) touched.add(channel);
      locked.push(...spaces.locked.filter((id) => !locked.includes(id)));
      if (spaces.unlike.length > 0) findings.push(finding('unlikeTargets', {}, spaces.unlike));
    }
    if (overwritten > 0)
      findings.push(
        finding(
          'overwrites',
          {},
          overwritten,
          append ? range.end : range.start,
          append ? range.end + length : range.end,
        ),
      );
    if (locked.length > 0) findings.push(finding('lockedChannels', {}, locked));
    if (selection.layer === null) {
      const taking = new Set([...nodes].filter((node) => !left.has(node)));
      const layered = flippedLayers(after, taking, range, append, choice, cut);
      after = flippedContacts(layered.shot, taking, range, append);
      findings.push(...layered.findings);
    }
    const skipped = [...left].filter((node) => nodes.has(node));
    if (skipped.length > 0) findings.push(finding('excluded', {}, skipped));
    if (flipped.alone.length > 0) findings.push(finding('withoutPartner', {}, flipped.alone));
    const odd = oddOnes(shot, nodes).filter((node) => !left.has(node));
    if (odd.length > 0) findings.push(finding('notAMirror', {}, odd));
    if (flipped.keyedAnew.length > 0) findings.push(finding('keyedAnew', {}, flipped.keyedAnew));
    if (baked.length > 0) findings.push(finding('repeatsBaked', {}, baked));
    return outcome(given, after, selection, {
      touched: [...touched],
      findings,
      measures: [
        { name: 'curves', value: touched.size, unit: '' },
        { name: 'keys laid', value: keys, unit: '' },
        { name: 'keys overwritten', value: overwritten, unit: '' },
        ...seam.values(),
      ],
    });
  },
});

/** The shot with repeats as keys wherever the range cuts into them: only a part of what repeats is flipped, and what lies outside stays. */
function withRepeatsKeyed(
  shot: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
  append: boolean,
): { readonly shot: Shot; readonly baked: ChannelId[] } {
  const whole = !append && range.start <= shot.range.start && range.end >= shot.range.end;
  if (whole) return { shot, baked: [] };
  const end = Math.max(shot.range.end, append ? 2 * range.end - range.start : range.end);
  const locks = new Set(shot.locked);
  const baked = new Set<ChannelId>();
  let after = shot;
  for (const layer of [null, ...shot.layers.filter(({ locked }) => !locked).map(({ id }) => id)]) {
    const table = layer === null ? shot.curves : layerOf(shot, layer)!.curves;
    const changed = new Map<ChannelId, Curve>();
    for (const [channel, curve] of curvesIn(table, shot.nodes)) {
      if (!hasLead(curve) || locks.has(channel) || !nodes.has(splitChannel(channel).node)) continue;
      const keyed = bakeLeads(curve, shot.range.start, end);
      if (keyed === curve) continue;
      changed.set(channel, keyed);
      baked.add(channel);
    }
    after = withCurves(after, layer, changed);
  }
  return { shot: after, baked: [...baked] };
}

/** What is flipped on a pass that counts nowhere else: as it is, and nothing where the partner has no keys on it. */
function aloneIn(shot: Shot, layer: string, channel: ChannelId, part: Curve, at: number): LaidPart {
  const { pair } = shot.nodes[rigOf(shot).indexOf(splitChannel(channel).node)]!;
  const keyed = Object.keys(layerOf(shot, layer)!.curves[rigOf(shot).indexOf(pair!)] ?? {}).length > 0;
  return { curve: keyed ? later(part, at) : EMPTY_CURVE, overwritten: 0, lockedKeys: 0, baked: false };
}

/** A curve that lies in the range as a whole, at rest beyond it, and whose partner has none, goes away: flipped twice it is there again. */
function replaced(
  shot: Shot,
  layer: string | null,
  channel: ChannelId,
  before: Curve,
  part: Curve,
  range: FrameRange,
): LaidPart {
  const { node, name } = splitChannel(channel);
  const { pair } = shot.nodes[rigOf(shot).indexOf(node)]!;
  const { times } = before;
  const rest = restOn(layer, channel);
  const whole = times.length > 0 && times[0]! >= range.start && times[times.length - 1]! <= range.end;
  const locked = before.flags.some((flag) => (flag & FLAG.locked) !== 0);
  const bare = curveOf(shot, layer, `${pair}.${name}`).times.length === 0;
  if (whole && !locked && bare && restsBeyond(before, rest, range, shot.range))
    return { curve: EMPTY_CURVE, overwritten: times.length, lockedKeys: 0, baked: false };
  const from = restsBeyond(part, rest, range, shot.range) ? before : orStill(before, shot.range, rest);
  return replacePart(from, part, range, shot.range);
}

/** Whether what a curve holds beyond its keys is nothing but rest, or lies where nobody sees it. */
function restsBeyond({ times, values }: Curve, rest: number, range: FrameRange, shown: FrameRange): boolean {
  if (times.length === 0) return true;
  const ahead = range.start <= shown.start + 1e-6 || values[0] === rest;
  return ahead && (range.end >= shown.end - 1e-6 || values[times.length - 1] === rest);
}

/** Controls that are left out go on as they do: their own keys again. */
function ownParts(
  shot: Shot,
  layer: string | null,
  nodes: ReadonlySet<string>,
  left: ReadonlySet<string>,
  range: FrameRange,
): [ChannelId, Curve][] {
  return rigOf(shot)
    .channels.filter(({ node }) => {
      const { id } = rigOf(shot).nodes[node]!;
      return nodes.has(id) && left.has(id);
    })
    .flatMap(({ id }): [ChannelId, Curve][] => {
      const curve = curveOf(shot, layer, id);
      return curve.times.length > 1 ? [[id, partOf(curve, range)]] : [];
    });
}

/** Columns that were set by hand in the range stand in what follows too. */
function withColumns(after: Shot, before: Shot, { start, end }: FrameRange): Shot {
  const rule = before.poseColumns ?? DEFAULT_COLUMNS;
  const again = rule.added
    .filter((frame) => frame > start && frame <= end)
    .map((frame) => frame + end - start);
  if (again.length === 0 || poseColumns(before).frames.length === 0) return after;
  return { ...after, poseColumns: { ...rule, added: [...new Set([...rule.added, ...again])] } };
}

/** Where the flipped beginning does not meet the end of the range. */
function noteSeam(seam: Map<string, Measure>, channel: ChannelId, gap: number): void {
  const unit = unitOf(splitChannel(channel).name);
  const name = `widest step at the seam, ${unit || 'other'}`;
  if (Math.abs(gap) <= Math.max(1e-6, seam.get(name)?.value ?? 0)) return;
  seam.set(name, { name, value: Math.abs(gap), unit, where: { channel } });
}
