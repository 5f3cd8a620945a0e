/** Refine: turns the values and slopes of keys that are there so that the motion costs less: less jerk, less slide, less effort, staying as close to what it was as is asked. Their number and times stay. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { roughnessOf, weighingPoints } from '../../bodies/roughness.ts';
import type { Roughness } from '../../bodies/roughness.ts';
import type { Curve } from '../../curve/curve.ts';
import { contactsOf } from '../../document/contacts.ts';
import { selectedChannels } from '../../document/selection.ts';
import { framesPerSecond, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { PointMass } from '../../motion/body.ts';
import { minimise } from '../../motion/minimise.ts';
import { movedBy } from '../../rig/influence.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { rangeIn } from '../timing/scope.ts';
import { costOf } from './refine-cost.ts';
import type { Standing } from './refine-cost.ts';
import { curveWith, freedomOf } from './refine-freedom.ts';
import type { Free } from './refine-freedom.ts';

const share = (title: string, value: number, description: string) =>
  z.number().min(0).max(100).default(value).meta({ title, unit: '', step: 0.1, description });

/** Frames beside a range that a jerk looks at. */
const BESIDE = 3;

/** Channels times frames that are looked at in a step. */
const MOST = 2_000_000;

export const refine = defineEdit({
  id: 'motion.refine',
  title: 'Refine',
  summary:
    'Turns the values and tangents of keys that are there so that the motion is smoother, and stays close.',
  words: 'smooth polish jerk roughness optimise minimum clean spline interpolation flow',
  group: 'motion',
  needs: 'channels',
  locks: 'strip',
  options: z.object({
    roughness: share('Roughness', 1, 'How much the jerk of what weighs counts.'),
    slide: share('Slide', 0.3, 'How much it counts that contacts slide.'),
    effort: share('Effort', 0.1, 'How much it counts that joints speed up and slow down.'),
    closeness: share('Staying close', 0.2, 'How strongly it keeps to what was there.'),
    closeFrames: z.array(z.number().min(-1e6).max(1e6)).max(1000).default([]).meta({
      title: 'Close on the frames',
      unit: 'frames',
      description:
        'Where staying close counts as the next row says, straight between; none: alike everywhere.',
    }),
    closeWeights: z.array(z.number().min(0).max(1000)).max(1000).default([]).meta({
      title: 'By',
      unit: '×',
      description: 'One for each of these frames: 0 lets it go, 10 holds it.',
    }),
    ends: z.boolean().default(false).meta({
      title: 'Slopes at the ends',
      description: 'Whether the tangents at both ends of the range may turn; their values never do.',
    }),
    steps: z.number().int().min(1).max(1000).default(60).meta({
      title: 'Steps',
      unit: '',
      description: 'It goes on for so many, or until another one brings nothing.',
    }),
  }),
  *run(shot, selection, { closeFrames, closeWeights, ends, steps, ...shares }): Work<Outcome, Shot> {
    const range = rangeIn(shot, selection);
    // What lies beside the range leads in and out of it: it counts, and stays.
    const wide = {
      start: Math.max(shot.range.start, range.start - BESIDE),
      end: Math.min(shot.range.end, range.end + BESIDE),
    };
    const frames = framesOf(wide);
    const ids = selectedChannels(shot, selection);
    if (
      closeFrames.length !== closeWeights.length ||
      closeFrames.some((at, k) => k > 0 && at <= closeFrames[k - 1]!)
    )
      refuse('closeNotPairs', {});
    const free = freedomOf(shot, ids, selection.layer, range, frames, ends);
    if (free.count === 0) return refused(shot, selection, finding('nothingFree', {}), ...free.findings);
    const amount = free.channels.length * frames.length;
    if (amount > MOST) refuse('tooMuchToRefine', {}, amount, MOST);
    const points = countedPoints(shot, free);
    const objective = costOf({
      ...{ shot, free, frames, points, shares },
      rate: framesPerSecond(shot.rate),
      standing: standingIn(shot, wide),
      closeAt: frames.map((frame) => weightAt(closeFrames, closeWeights, frame)),
    });
    const made = (x: Float64Array): Shot =>
      withCurves(
        shot,
        selection.layer,
        new Map(free.channels.map((one): [ChannelId, Curve] => [one.id, curveWith(one, x)])),
      );
    const before = roughnessOf(shot, points, wide);
    const course: number[] = [];
    let best = { x: free.start, steps: 0 };
    for (const { x, value, steps: step } of minimise(objective, free.start, { steps })) {
      best = { x, steps: step };
      course.push(value);
      yield { done: step / steps, soFar: () => made(x) };
    }
    const after = best.steps > 0 ? made(best.x) : shot;
    const now = roughnessOf(after, points, wide);
    if (
      best.steps === 0 ||
      (shares.roughness > 0 && now.total > before.total && shares.slide + shares.effort === 0)
    )
      return outcome(shot, shot, selection, { findings: [finding('notSmoother', {}), ...free.findings] });
    const worst = (of: Roughness) => of.profile.reduce((most, part) => Math.max(most, part), 0);
    return outcome(shot, after, selection, {
      touched: free.channels.map(({ id }) => id),
      findings: [
        finding(
          'refined',
          {},
          percent(now.total, before.total),
          percent(worst(now), worst(before)),
          best.steps,
        ),
        ...momentsOf(before),
        ...free.findings,
      ],
      measures: [
        { name: 'roughness', value: percent(now.total, before.total), before: 100, unit: '%' },
        { name: 'cost', value: percent(course.at(-1) ?? 1, course[0] ?? 1), before: 100, unit: '%' },
        { name: 'steps', value: best.steps, unit: '' },
        { name: 'numbers turned', value: free.count, unit: '' },
      ],
    });
  },
});

const percent = (part: number, of: number): number => (of > 0 ? (100 * part) / of : 100);

/** Where it was rough, for who wants to know. */
const momentsOf = ({ worst }: Roughness): Finding[] =>
  worst.length === 0
    ? []
    : [
        finding(
          'roughMoments',
          { node: worst[0]!.node, frame: worst[0]!.frame },
          worst.map(({ frame, node, share: part }) => `${node} at ${frame} (${Math.round(100 * part)} %)`),
        ),
      ];

/** The points of the bodies that these channels move; where they move nothing that weighs, their nodes themselves. */
function countedPoints(shot: Shot, free: Free): readonly PointMass[] {
  const rig = rigOf(shot);
  const nodes = [...new Set(free.channels.map(({ channel }) => rig.channels[channel]!.node))];
  const moved = movedBy(rig, nodes);
  const characters = new Set(nodes.map((row) => rig.nodes[row]!.character));
  const points = [...characters]
    .flatMap((id) => weighingPoints(shot, id))
    .filter(({ row }) => moved[row] === 1);
  if (points.length > 0) return points;
  return nodes.map((row) => ({ row, at: [0, 0, 0], share: 1 / nodes.length }));
}

/** What stands in a range, as places in its frames. */
function standingIn(shot: Shot, { start, end }: FrameRange): Standing[] {
  const rig = rigOf(shot);
  return contactsOf(shot).flatMap((one): Standing[] => {
    const row = rig.indexOf(one.node);
    const [first, last] = [Math.ceil(Math.max(one.start, start)), Math.floor(Math.min(one.end, end))];
    if (row < 0 || last <= first) return [];
    return [
      {
        point: { row, at: [...one.at], share: 1 },
        first: first - Math.ceil(start),
        last: last - Math.ceil(start),
      },
    ];
  });
}

/** Straight between, and alike beyond the ends. */
function weightAt(frames: readonly number[], weights: readonly number[], frame: number): number {
  if (frames.length === 0) return 1;
  const k = frames.findIndex((at) => at >= frame);
  if (k === 0) return weights[0]!;
  if (k < 0) return weights.at(-1)!;
  const part = (frame - frames[k - 1]!) / (frames[k]! - frames[k - 1]!);
  return weights[k - 1]! + part * (weights[k]! - weights[k - 1]!);
}
