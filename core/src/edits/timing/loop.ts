/**
 * Loop: the ends of a range made to agree in value and slope over a blend, then repeated, as keys or as what the curve does
 * after them. The travel of the root is carried on. A seam has one key, so that no frame is doubled: a cycle of 24 frames has its
 * last key on frame 25, equal to frame 1, and plays 1–24 (common practice, no source).
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import { timeRepeated } from '../../base/time-pieces.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import { FLAG, rowAtTime, TANGENT } from '../../curve/curve.ts';
import type { Curve, Lead } from '../../curve/curve.ts';
import { joinedParts } from '../../curve/joined-parts.ts';
import { partOf } from '../../curve/part.ts';
import { buildCurve, rebuild } from '../../curve/rebuild.ts';
import { closeSeam, seamGap, SEAM_WINNERS } from '../../curve/seam.ts';
import type { SeamWinner } from '../../curve/seam.ts';
import { channelKind, unitOf } from '../../rig/node.ts';
import { changeLayers } from '../../document/change-layers.ts';
import { curveOf, splitChannel, withCurves } from '../../document/shot.ts';
import { isSwitch } from '../../document/switches.ts';
import { partsThroughTime } from '../../document/through-time.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { travellers, travelsOver } from '../shared/travel.ts';
import { channelsIn, leftAlone, rangeIn, scopeOption } from './scope.ts';
import {
  channelOf,
  isHeading,
  takenAlong,
  turnedCycle,
  TURNING_CHANNELS,
  cycleHeadings,
  withEvenPace,
} from './cycle-heading.ts';
import type { CycleHeading } from './cycle-heading.ts';

export const loop = defineEdit({
  id: 'timing.loop',
  title: 'Loop',
  summary: 'Makes first and last agree, and repeats the range; travel is carried on.',
  words: 'cycle repeat seamless infinity walk find loop points comes back capture',
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
    blend: z.number().int().min(0).max(100000).default(6).meta({
      title: 'Blend',
      unit: 'frames',
      step: 1,
      description: 'Over so many frames at an end the difference fades out; 0 changes the end alone.',
    }),
    carry: z.boolean().default(true).meta({
      title: 'Carry travel on',
      description: 'Controls without a parent go on from where they stand, and facing where they face.',
    }),
    rise: z
      .boolean()
      .default(false)
      .meta({
        title: 'Carry a rise on too',
        when: { carry: true },
        description: 'Up a stair or a ladder; off, heights are the same on every turn.',
      }),
    scope: scopeOption,
  }),
  run(shot, selection, { times, as, winner, blend, carry, rise, scope }) {
    const range = rangeIn(shot, selection);
    const length = range.end - range.start;
    const channels = channelsIn(shot, selection, scope);
    const travels = travellers(shot, rise);
    const turnings = carry ? cycleHeadings(shot, range) : [];
    const turned = new Map(
      turnings.flatMap((turning) =>
        takenAlong(shot, turning).flatMap((node) =>
          TURNING_CHANNELS.map((name) => [channelOf(node, name), { node, turning }] as const),
        ),
      ),
    );
    const gaps = new Map<string, Measure>();
    let outside = 0;
    const changes = changeLayers(shot, channels, range.start, (curve, channel, pass) => {
      if (curve.times.length < 2 || (pass === null && turned.has(channel))) return curve;
      // What lies over the motion does not travel: it is the same on every turn.
      const carries = carry && pass === null && travels.has(channel) && travelsOver(curve, range);
      const cycle = cycleOf(curve, range);
      outside += curve.times.filter((time) => !inRange(range, time)).length;
      note(gaps, channel, seamGap(cycle, range.start, range.end).value, carries);
      // What chooses has no middle: its cycle begins as it began.
      const closed = isSwitch(shot, channel)
        ? cycle
        : closeSeam(cycle, range.start, range.end, blend, winner, carries);
      noteVelocity(gaps, channel, seamGap(closed, range.start, range.end).slope);
      return repeated(closed, range, times, carries ? 'loopCarry' : 'loop', as);
    });
    const around = turnedCurves(shot, turnings, channels, range, { times, blend, winner });
    let after = withCurves(changes.shot, null, around);
    const touched = [...new Set([...changes.touched, ...around.keys()])];
    // Where the last key equals the first, its frame belongs to the next turn.
    const end = range.start + times * length - (length > 1 ? 1 : 0);
    if (after !== shot) after = { ...after, range: { start: range.start, end } };
    const findings = leftAlone(changes);
    const time = timeRepeated(range, times);
    if (channels === null) {
      const loose = partsThroughTime(after, time, shot.range, (weight) =>
        repeatedWeight(weight, range, times, as, blend, winner),
      );
      // One idea of the cycle for all that is loop-aware, wherever the shot ends.
      after = after === shot ? loose.shot : { ...loose.shot, period: length };
      findings.push(...loose.findings);
    }
    if (outside > 0) findings.push(finding('keysGone', {}, outside, 'outside the loop'));
    for (const { degrees, node } of turnings)
      findings.push(finding('headingCarried', { node }, Number(degrees.toFixed(1))));
    if (end > shot.range.end && after !== shot) findings.push(finding('rangeGrown', {}, end));
    return outcome(
      shot,
      after,
      { ...selection, range: null },
      {
        touched,
        findings,
        measures: [
          { name: 'curves', value: touched.length, unit: '' },
          { name: 'plays', value: end - range.start + 1, unit: 'frames' },
          ...tidied([...gaps.values()]),
        ],
      },
    );
  },
});

/** What a curve shows over the range, where it stands: a loop is its cycle. */
function cycleOf(curve: Curve, range: FrameRange): Curve {
  const part = partOf(curve, range);
  return rebuild(part, null, (columns) => {
    for (let row = 0; row < columns.times.length; row += 1) columns.times[row]! += range.start;
  });
}

function repeated(cycle: Curve, range: FrameRange, times: number, lead: Lead, as: 'keys' | 'leadOut'): Curve {
  if (times === 1) return cycle;
  const repeating: Curve = { ...cycle, leadOut: lead, leadOutCount: times - 1 };
  if (as === 'leadOut') return repeating;
  return bakeLeads(repeating, range.start, range.start + times * (range.end - range.start));
}

/** The controls of characters that turn with each cycle: their turns one after another, as keys. */
function turnedCurves(
  shot: Shot,
  turnings: readonly CycleHeading[],
  channels: ReadonlySet<ChannelId> | null,
  range: FrameRange,
  { times, blend, winner }: { times: number; blend: number; winner: SeamWinner },
): Map<ChannelId, Curve> {
  const result = new Map<ChannelId, Curve>();
  const locks = new Set(shot.locked);
  for (const turning of turnings) {
    for (const node of takenAlong(shot, turning)) {
      const ids = TURNING_CHANNELS.map((name) => channelOf(node, name));
      // Place and heading go together or not at all.
      if (ids.some((id) => locks.has(id) || (channels !== null && !channels.has(id)))) continue;
      const cycle = new Map(
        TURNING_CHANNELS.map((name) => {
          const own = stillOrCycle(shot, channelOf(node, name), range);
          // Places meet by the turning itself; angles are closed as those of any control, the heading in its slope.
          const closes = name.startsWith('r') && isHeading(node);
          return [name, closes ? closeSeam(own, range.start, range.end, blend, winner, name === 'ry') : own];
        }),
      );
      const [tx, tz] = withEvenPace(turning, cycle.get('tx')!, cycle.get('tz')!);
      cycle.set('tx', tx).set('tz', tz);
      const turns = Array.from({ length: times }, (_, k) =>
        turnedCycle(node, turning, cycle, range, k, { blend, winner }),
      );
      for (const name of TURNING_CHANNELS) {
        const parts = turns.map((turn) => turn.get(name)!);
        result.set(channelOf(node, name), smoothSeams(joinedParts(parts[0]!, parts), range, times));
      }
    }
  }
  return result;
}

/** A channel without keys stands still. */
function stillOrCycle(shot: Shot, id: ChannelId, range: FrameRange): Curve {
  const curve = curveOf(shot, null, id);
  if (curve.times.length > 0) return cycleOf(curve, range);
  return buildCurve(2, (columns) => columns.times.set([range.start, range.end]));
}

/** One slope at each seam: the mean of how a turn ends and the next begins. */
function smoothSeams(curve: Curve, { start, end }: FrameRange, times: number): Curve {
  return rebuild(curve, null, (columns) => {
    for (let k = 1; k < times; k += 1) {
      const row = rowAtTime(curve, start + k * (end - start));
      if (row < 0) continue;
      const slope = (curve.slopesIn[row]! + curve.slopesOut[row]!) / 2;
      columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
      columns.slopesIn[row] = columns.slopesOut[row] = slope;
      columns.flags[row]! &= ~FLAG.broken;
    }
  });
}

/** A weight as the curves are: its cycle closed, and repeated. */
function repeatedWeight(
  weight: Curve,
  range: FrameRange,
  times: number,
  as: 'keys' | 'leadOut',
  blend: number,
  winner: SeamWinner,
): Curve {
  const closed = closeSeam(cycleOf(weight, range), range.start, range.end, blend, winner, false);
  return repeated(closed, range, times, 'loop', as);
}

/** Steps in velocity that are none say so once, and not for each kind of channel. */
function tidied(measures: readonly Measure[]): Measure[] {
  const isStep = ({ name }: Measure) => name.startsWith(VELOCITY);
  const steps = measures.filter(isStep);
  const seen = steps.filter(({ value }) => value > 1e-6);
  return [...measures.filter((one) => !isStep(one)), ...(seen.length > 0 ? seen : steps.slice(0, 1))];
}

const VELOCITY = 'step in velocity at the seam';

/** Keeps the greatest step in velocity that is left at the seam, of each kind of channel. */
function noteVelocity(gaps: Map<string, Measure>, channel: ChannelId, slope: number): void {
  const { name } = splitChannel(channel);
  const title = `${VELOCITY}, ${channelKind(name)}`;
  if (Math.abs(slope) <= (gaps.get(title)?.value ?? -1)) return;
  const unit = unitOf(name);
  gaps.set(title, {
    name: title,
    value: Math.abs(slope),
    unit: unit ? `${unit}/frame` : '/frame',
    where: { channel },
  });
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
