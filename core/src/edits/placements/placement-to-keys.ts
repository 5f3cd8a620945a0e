/**
 * Turn a placement to keys. Where all of it counts they are the action's own; where it comes in or goes out they are as many as keep to what showed.
 * What lies outside stays.
 */
import { ownOnBase } from '../shared/own-on-base.ts';
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import { reverseRange } from '../../curve/reverse.ts';
import { FLAG, SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { curveWithin } from '../../curve/curve-through.ts';
import { joinedParts } from '../../curve/joined-parts.ts';
import { later } from '../../curve/later.ts';
import { partOf } from '../../curve/part.ts';
import { retimedBy } from '../../curve/retimed-by.ts';
import { landingsOf, roundsOf } from '../../layers/placements/block-time.ts';
import { actionOf } from '../../layers/placements/placement-settings.ts';
import { movesNothing, ownSignals } from '../../layers/placements/placement.ts';
import type { Signal } from '../../layers/signal.ts';
import { contextOf } from '../../evaluation/context.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withActionsPlaced, withCurves } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { orStill, replacePart, restOn } from '../shared/lay-part.ts';
import { motionMeasures, notKept, UNASKED } from '../shared/same-motion.ts';
import { shownAgainst } from '../shared/bake.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { contactsOf } from '../../document/contacts.ts';
import { withContactsLaid } from '../actions/action-contacts.ts';
import { openPlacement, placementOption } from './placement-option.ts';
import type { Placement } from './placement-option.ts';

/** Where a placement comes in or goes out, or has been moved over the ground, its keys keep to what showed within this, in the channel's unit. */
const NEAR_ENOUGH = 1e-3;

export const placementToKeys = defineEdit({
  id: 'actions.toKeys',
  title: 'Turn placement to keys',
  summary: 'Turns what a placed action shows into keys, and takes the block away.',
  words: 'clip block bake flatten commit',
  group: 'actions',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    placement: placementOption,
    onto: z
      .enum(['base', 'pass'])
      .default('base')
      .meta({
        title: 'Onto',
        labels: { base: 'the base', pass: 'a replace pass' },
        description: 'Over other layers they always go onto a pass.',
      }),
  }),
  run(shot, selection, { placement: named, onto }) {
    const block = openPlacement(shot, named);
    const { id } = block;
    if (block.muted) refuse('mutedPlacement', {}, block.name);
    // Under solo other layers are silent: what is turned to keys now would show twice, or not at all, when it ends.
    if (shot.layers.some((layer) => layer.solo)) refuse('soloFirst', {});
    const context = contextOf(shot);
    const { levels, top } = stackOf(shot);
    const level = levels.findIndex(({ layer }) => layer.id === id);
    const above = levels[level + 1]?.below ?? top;
    const rig = rigOf(shot);
    const [onBase, onPass] = [new Map<ChannelId, Curve>(), new Map<ChannelId, Curve>()];
    const own = ownSignals(block, context);
    const plain = ownOnBase(
      shot,
      id,
      [...own.keys()].map((c) => rig.channels[c]!.id),
    );
    for (const c of own.keys()) {
      const { id: channel, node, name } = rig.channels[c]!;
      const stored = actionOf(block.settings, context.actions)?.curves[node]?.[name];
      const part = partFor(block, above[c]!, stored, rig.nodes[node]!.id);
      if (onto === 'base' && plain.has(channel)) onBase.set(channel, part);
      else onPass.set(channel, part);
    }
    const blocked = [...onBase.keys()].filter(
      (channel) => shot.locked.includes(channel) || hasLockedKey(curveOf(shot, null, channel), block.range),
    );
    if (blocked.length > 0) refuse('lockedInTheWay', {}, blocked);
    const pass = freshLayer(shot, '', block.name, {
      kind: 'replace',
      members: block.members,
      settings: {},
      range: { ...block.range, rampIn: 0, rampOut: 0 },
    });
    const layers = shot.layers.flatMap((layer) =>
      layer.id !== id ? [layer] : onPass.size > 0 ? [pass] : [],
    );
    let [overwritten, laid] = [0, 0];
    const keyed = new Map<ChannelId, Curve>();
    for (const [channel, part] of onBase) {
      const before = curveOf(shot, null, channel);
      const result = replacePart(
        orStill(before, shot.range, restOn(null, channel)),
        part,
        block.range,
        shot.range,
      );
      overwritten += result.overwritten;
      keyed.set(channel, result.curve);
    }
    for (const part of [...onBase.values(), ...onPass.values()]) laid += part.times.length;
    const bare = withActionsPlaced({ ...shot, layers });
    const moved = new Map([...onPass].map(([channel, part]) => [channel, later(part, block.range.start)]));
    const after = withCurves(withCurves(bare, null, keyed), pass.id, moved);
    const brought = contactsOf(shot).filter((one) => one.block === id);
    const stood = withContactsLaid(after, brought, block.range, (frame) => frame);
    const touched = [...onBase.keys(), ...onPass.keys()];
    const found = shownAgainst(shot, after, touched);
    const findings: Finding[] = [
      ...(overwritten > 0 ? [finding('keysOverwritten', {}, overwritten)] : []),
      // Who asked for a pass knows where they are.
      ...(onto === 'base' && onPass.size > 0
        ? [finding('bakedOver', {}, pass.name, [...onPass.keys()])]
        : []),
      // Without ramps a block begins and ends at once, which keys cannot between two frames.
      ...notKept(found, UNASKED),
    ];
    return outcome(shot, stood, selection, {
      touched,
      findings,
      measures: [{ name: 'keys laid', value: laid, unit: '' }, ...motionMeasures(found)],
    });
  },
});

const hasLockedKey = ({ times, flags }: Curve, range: FrameRange): boolean =>
  times.some((time, row) => inRange(range, time) && (flags[row]! & FLAG.locked) !== 0);

/** What a channel shows over the block; frames from 0. */
function partFor(block: Placement, shown: Signal, stored: Curve | undefined, node: string): Curve {
  const { range, settings } = block;
  const [up, down] = [range.start + range.rampIn, range.end - range.rampOut];
  const whole = stored && ownCurve(block, stored, node);
  const times = [
    ...new Set([up, down, ...landingsOf(settings, [...(stored?.times ?? [])]), ...block.weight.times]),
  ];
  const fitted = (start: number, end: number) => {
    const inside = times.filter((time) => time > start && time < end).sort((a, b) => a - b);
    return curveWithin(shown, [start, ...inside, end], NEAR_ENOUGH);
  };
  const parts =
    whole && down - up >= 1e-6
      ? [
          ...(up > range.start ? [fitted(range.start, up)] : []),
          later(partOf(whole, { start: up, end: down }), up),
          ...(down < range.end ? [fitted(down, range.end)] : []),
        ]
      : [fitted(range.start, range.end)];
  return later(parts.length > 1 ? joinedParts(parts[0]!, parts) : parts[0]!, -range.start);
}

/** The action's own keys where the shot shows them, as far as all of it counts and nothing else is made of it; else null. */
function ownCurve({ weight, settings, members }: Placement, stored: Curve, node: string): Curve | null {
  const { from, to, factor, repeats, first, adds, course, backward } = settings;
  if (course) return null;
  const full = weight.times.length === 1 && weight.values[0] === 1;
  if (!full || adds || !members.includes(node) || !movesNothing(settings, node)) return null;
  const forward = partOf(stored, { start: from, end: to });
  const length = (to - from) * factor;
  // Turned as a range is, steps come a frame apart from where time as such would have them.
  if (backward && forward.segments.includes(SEGMENT.stepped)) return null;
  const part = retimedBy(backward ? reverseRange(forward, 0, to - from) : forward, factor);
  const [begins, ends] = [part.values[0]!, part.values[part.values.length - 1]!];
  // Where it begins anew elsewhere than it ended there is a jump, which no key can be.
  if (repeats > 1 && Math.abs(begins - ends) > 1e-9) return null;
  const rounds = Array.from({ length: roundsOf(repeats) }, (_, round) => {
    const share = Math.min(repeats - round, 1);
    return later(share < 1 ? partOf(part, { start: 0, end: share * length }) : part, first + round * length);
  });
  return rounds.length > 1 ? joinedParts(part, rounds) : rounds[0]!;
}
