/** Refine: turns the values and slopes of keys that are there so that the motion costs less: less jerk, less slide, less effort, staying as close to what it was as is asked. Their number and times stay. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { roughnessOf } from '../../bodies/roughness.ts';
import type { Roughness } from '../../bodies/roughness.ts';
import type { Curve } from '../../curve/curve.ts';
import { selectedChannels } from '../../document/selection.ts';
import { framesPerSecond, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { rangeIn } from '../timing/scope.ts';
import { countedPoints, standingIn, weighedBodies } from './refine-bodies.ts';
import { costOf } from './refine-cost.ts';
import { courseOf, MOST_STEPS } from './refine-course.ts';
import type { Come, Stage } from './refine-course.ts';
import { curveWith, freedomOf } from './refine-freedom.ts';
import type { Free } from './refine-freedom.ts';

const share = (title: string, value: number, description: string) =>
  z.number().min(0).max(100).default(value).meta({ title, unit: '', step: 0.1, description });

/** The measures of a course, one for each of its steps. */
export const COST_BY_STEP = 'cost by step';

/** A control with so much weight, or more, does not turn at all. */
export const HELD_AT = 1000;

/** What it goes by: each may be another in each stage of its course. */
const settings = {
  roughness: share('Roughness', 1, 'How much jerk counts, by the mass that is moved.'),
  slide: share('Slide', 0.3, 'How much it counts that contacts slide.'),
  effort: share('Effort', 0.1, 'How much it counts that joints speed up and slow down.'),
  balance: share(
    'Balance',
    0,
    'How much it counts that the centre of mass leans out of what stands, while it is slow.',
  ),
  flight: share('Flight', 0, 'How much it counts that leaps are off the parabola between their contacts.'),
  closeness: share('Staying close', 0.2, 'How strongly it keeps to what was there.'),
  closeFrames: z.array(z.number().min(-1e6).max(1e6)).max(1000).default([]).meta({
    title: 'Close on the frames',
    unit: 'frames',
    description: 'Where staying close counts as the next row says, straight between; none: alike everywhere.',
  }),
  closeWeights: z.array(z.number().min(0).max(1000)).max(1000).default([]).meta({
    title: 'By',
    unit: '×',
    description: 'One for each of these frames: 0 lets it go, 10 holds it.',
  }),
  closeControls: z.array(z.string()).max(1000).default([]).meta({
    title: 'Close for the controls',
    description:
      'Controls for which staying close counts as the next row says; for all others it counts once.',
  }),
  controlWeights: z
    .array(z.number().min(0).max(HELD_AT))
    .max(1000)
    .default([])
    .meta({
      title: 'By, each',
      unit: '×',
      description: `One for each of these controls: 0 lets it go, 10 holds it, ${HELD_AT} leaves it as it is.`,
    }),
};
type Settings = z.output<z.ZodObject<typeof settings>>;
const SETTINGS = Object.keys(settings) as readonly (keyof Settings)[];

const steps = (value: number) =>
  z.number().int().min(0).max(MOST_STEPS).default(value).meta({
    title: 'Steps',
    unit: '',
    description: 'It goes on for so many, or until another one brings nothing.',
  });

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
    ...settings,
    ends: z.boolean().default(false).meta({
      title: 'Slopes at the ends',
      description: 'Whether the tangents at both ends of the range may turn; their values never do.',
    }),
    course: z
      .array(z.object({ ...settings, steps: steps(0) }))
      .max(100)
      .default([])
      .meta({
        title: 'Course',
        description: 'What came before: so many steps with other weights. It goes on from there.',
      }),
    steps: steps(60),
  }),
  *run(shot, selection, { ends, course, ...last }): Work<Outcome, Shot> {
    const range = rangeIn(shot, selection);
    // What lies beside the range leads in and out of it: it counts, and stays.
    const wide = {
      start: Math.max(shot.range.start, range.start - BESIDE),
      end: Math.min(shot.range.end, range.end + BESIDE),
    };
    const frames = framesOf(wide);
    const ids = selectedChannels(shot, selection);
    const stages = [...course, last];
    for (const stage of stages) refuseOddWeights(shot, stage);
    const free = freedomOf(shot, ids, selection.layer, range, frames, ends);
    if (free.count === 0) return refused(shot, selection, finding('nothingFree', {}), ...free.findings);
    const amount = free.channels.length * frames.length;
    if (amount > MOST) refuse('tooMuchToRefine', {}, amount, MOST);
    const points = countedPoints(shot, free);
    const standing = standingIn(shot, wide);
    const bodies = weighedBodies(shot, free, frames);
    const objectiveOf = (given: Settings) =>
      costOf({
        ...{ shot, free, frames, points, standing, shares: given },
        bodies: given.balance + given.flight > 0 ? bodies : [],
        rate: framesPerSecond(shot.rate),
        closeAt: frames.map((frame) => weightAt(given.closeFrames, given.closeWeights, frame)),
        closeOf: weightsOf(shot, free, given),
      });
    const plan = stages.map(({ steps: count, ...given }): Stage => ({
      name: JSON.stringify(SETTINGS.map((name) => given[name])),
      steps: count,
      objective: () => objectiveOf(given),
    }));
    const made = ({ x }: Come): Shot =>
      withCurves(
        shot,
        selection.layer,
        new Map(free.channels.map((one): [ChannelId, Curve] => [one.id, curveWith(one, x)])),
      );
    const asked = JSON.stringify([ids, selection.layer, range, ends]);
    const way = courseOf(shot, asked, free.start, plan);
    let step = way.next();
    for (; !step.done; step = way.next()) {
      const come = step.value;
      yield { done: come.done, soFar: () => made(come), costs: come.costs };
    }
    const come = step.value;
    const before = roughnessOf(shot, points, wide);
    const after = come.steps > 0 ? made(come) : shot;
    const now = roughnessOf(after, points, wide);
    const { roughness, slide, effort, balance, flight } = last;
    if (
      come.steps === 0 ||
      (roughness > 0 && now.total > before.total && slide + effort + balance + flight === 0)
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
          come.steps,
        ),
        ...momentsOf(before),
        ...free.findings,
      ],
      measures: [
        { name: 'roughness', value: percent(now.total, before.total), before: 100, unit: '%' },
        { name: 'cost', value: 100 * come.costs.at(-1)!, before: 100, unit: '%' },
        { name: 'steps', value: come.steps, unit: '' },
        { name: 'numbers turned', value: free.count, unit: '' },
        ...come.costs.map((cost) => ({ name: COST_BY_STEP, value: 100 * cost, unit: '%' })),
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

function refuseOddWeights(shot: Shot, given: Settings): void {
  const { closeFrames, closeWeights, closeControls, controlWeights } = given;
  if (
    closeFrames.length !== closeWeights.length ||
    closeFrames.some((at, k) => k > 0 && at <= closeFrames[k - 1]!)
  )
    refuse('closeNotPairs', {});
  if (closeControls.length !== controlWeights.length) refuse('closeNotPairs', {});
  const unknown = closeControls.find((id) => rigOf(shot).indexOf(id) < 0);
  if (unknown !== undefined) refuse('unknownNode', { node: unknown }, unknown);
}

/** How much staying close counts for each free channel; what is held counts without end. */
function weightsOf(shot: Shot, free: Free, { closeControls, controlWeights }: Settings): number[] {
  const rig = rigOf(shot);
  const byNode = new Map(closeControls.map((id, k) => [id, controlWeights[k]!]));
  return free.channels.map(({ channel }) => {
    const weight = byNode.get(rig.nodes[rig.channels[channel]!.node]!.id) ?? 1;
    return weight >= HELD_AT ? Infinity : weight;
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
