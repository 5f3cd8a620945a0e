/** Offset in time: controls one after another down a chain, or each by chance from a seed, so that they do not all move at once. */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import { seededRandom } from '../../base/random.ts';
import type { Curve } from '../../curve/curve.ts';
import { repeats } from '../../curve/lead.ts';
import { repeatsAtAll } from '../../curve/with-key.ts';
import { retimeCurve } from '../../curve/retime-keys.ts';
import { selectedChannels } from '../../document/selection.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { blockedFinding, changeTargets, freeOfLocked, lockedKeysFinding } from '../shared/targets.ts';

export const offset = defineEdit({
  id: 'timing.offset',
  title: 'Offset in time',
  summary: 'Moves the selected controls in time, each a step later than the one above it, or by chance.',
  words: 'overlap drag successive break delay stagger lag follow through shift',
  group: 'timing',
  needs: 'keys',
  locks: 'strip',
  options: z.object({
    order: z
      .enum(['chain', 'selection', 'random'])
      .default('chain')
      .meta({
        title: 'Order',
        labels: { chain: 'down the chain', selection: 'as selected', random: 'by chance' },
        description:
          'down the chain: by depth below the first selected control; by chance: up to Step either way.',
      }),
    step: z.number().min(-1000).max(1000).default(1).meta({
      title: 'Step',
      unit: 'frames',
      step: 1,
      description: 'Frames from one control to the next; by chance, the most.',
    }),
    seed: z
      .number()
      .int()
      .min(0)
      .max(2147483647)
      .default(1)
      .meta({
        title: 'Seed',
        when: { order: 'random' },
        unit: '',
        step: 1,
        description: 'For by chance: the same seed gives the same offsets.',
      }),
    wholeFrames: z
      .boolean()
      .default(true)
      .meta({ title: 'Land on whole frames', description: 'Offsets are rounded.' }),
  }),
  run(shot, selection, { order, step, seed, wholeFrames }) {
    const nodes = [...new Set(selectedChannels(shot, selection).map((id) => splitChannel(id).node))];
    if (step === 0) return refused(shot, selection, finding('noStep', {}));
    const random = seededRandom(seed);
    const depths = depthsOf(shot, nodes);
    const by = new Map(
      nodes.map((node, i) => {
        const frames =
          order === 'chain'
            ? depths.get(node)! * step
            : order === 'selection'
              ? i * step
              : (2 * random.next() - 1) * step;
        return [node, wholeFrames ? Math.round(frames) : frames] as const;
      }),
    );
    if ([...by.values()].every((frames) => frames === 0))
      return outcome(shot, shot, selection, { findings: [finding('nobodyLags', {}, nodes.length)] });
    let overwritten = 0;
    let blocked = 0;
    const bothWays: string[] = [];
    const otherCycle: string[] = [];
    const changes = changeTargets(shot, selection, (curve, wanted, channel) => {
      const frames = by.get(splitChannel(channel).node)!;
      if (frames === 0) return curve;
      const rows = freeOfLocked(curve, wanted, (row) => curve.times[row]! + frames);
      blocked += wanted.length - rows.length;
      const moving = new Set(rows.map((row) => curve.times[row]!));
      const moved = retimeCurve(curve, (time) => (moving.has(time) ? time + frames : time));
      overwritten += moved.merged;
      const whole = rows.length === curve.times.length;
      if (!whole && repeatsAtAll(curve) && lengthOf(moved.curve) !== lengthOf(curve))
        otherCycle.push(channel);
      const turning = whole ? turningBothWays(moved.curve, frames, shot.range) : moved.curve;
      if (turning !== moved.curve) bothWays.push(channel);
      return turning;
    });
    const findings = [...lockedKeysFinding(changes.lockedKeys), ...blockedFinding(blocked)];
    if (bothWays.length > 0) findings.push(finding('repeatsBothWays', {}, bothWays));
    if (otherCycle.length > 0) findings.push(finding('cycleChanged', {}, otherCycle));
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    const moved = new Set(changes.touched.map((id) => splitChannel(id).node));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: nodes
        .filter((node) => by.get(node) !== 0 && moved.has(node))
        .slice(0, 12)
        .map((node): Measure => ({ name: node, value: by.get(node)!, unit: 'frames' })),
    });
  },
});

const lengthOf = ({ times }: Curve) => times[times.length - 1]! - times[0]!;

/** A cycle that was moved goes on into the time that it left, so that the loop stays whole over the shot. */
function turningBothWays(curve: Curve, frames: number, { start, end }: FrameRange): Curve {
  const { times, leadIn, leadOut, leadInCount, leadOutCount } = curve;
  const later = frames > 0 && times[0]! > start + 1e-6;
  const earlier = frames < 0 && times[times.length - 1]! < end - 1e-6;
  if (later && leadIn === 'hold' && repeats(leadOut) && leadOutCount === 0)
    return { ...curve, leadIn: leadOut, leadInCount: 0 };
  if (earlier && leadOut === 'hold' && repeats(leadIn) && leadInCount === 0)
    return { ...curve, leadOut: leadIn, leadOutCount: 0 };
  return curve;
}

/** How many selected controls stand above each, in the rig. */
function depthsOf(shot: Shot, nodes: readonly string[]): Map<string, number> {
  const rig = rigOf(shot);
  const chosen = new Set(nodes);
  return new Map(
    nodes.map((node) => {
      let depth = 0;
      for (let i = rig.parents[rig.indexOf(node)]!; i >= 0; i = rig.parents[i]!)
        if (chosen.has(rig.nodes[i]!.id)) depth += 1;
      return [node, depth];
    }),
  );
}
