/**
 * Follow-through: controls that hang on one another lag, swing past and settle, as ears, tails and strings do. Each is a rod that is driven by what carries it in the world, drawn by its
 * weight, sprung to what its keys say and slowed by the air (`motion/chain-run.ts`). The roll of a control about its own bone stays as it is keyed.
 *
 * It is worked out in steps of at most 1/240 s from the start of its range on, and the driver is asked at those times exactly, so that the frame rate makes no difference.
 * What relations of the carrier show of other times is not seen.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { numberOf, seededRandom } from '../../base/random.ts';
import type { Followed } from '../../motion/chain-run.ts';
import { partFor } from '../../rig/influence.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Answers, Context, Layer } from '../layer.ts';
import { shared } from '../signal.ts';
import type { Signal, Signals } from '../signal.ts';
import { mixed, WeighedSignal, weightOf } from '../weight.ts';
import { bodiesOver } from './follow-bodies.ts';
import { FollowedChain } from './followed-chain.ts';
import { chainsOf, driveOf, gridOver, leapsOf, MOST_FRAMES } from './follow-drive.ts';
import type { Chain, Leap } from './follow-drive.ts';

const settings = z.object({
  frequency: z.number().min(0).max(20).default(1.6).meta({
    slider: true,
    title: 'Stiffness',
    unit: 'Hz',
    step: 0.1,
    description: 'How fast a whole chain swings by itself about what its keys say; at 0 it only hangs.',
  }),
  damping: z.number().min(0).max(5).default(0.25).meta({
    title: 'Damping',
    step: 0.05,
    description: 'In the joints: below 1 it swings past and settles; at 1 it comes to rest without.',
  }),
  growth: z.number().min(0).max(0.9).default(0.15).meta({
    title: 'Looser along it',
    step: 0.05,
    description: 'By how much each control is looser than the one that it hangs on.',
  }),
  gravity: z.number().min(0).max(10).default(1).meta({
    title: 'Gravity',
    unit: '×',
    step: 0.1,
    description: '1 is that of the earth, a unit of the shot taken for a centimetre.',
  }),
  sags: z.boolean().default(false).meta({
    title: 'Sags',
    description: 'Its weight draws it down from the pose; off, the pose is meant with its weight in it.',
  }),
  drag: z.number().min(0).max(50).default(0.6).meta({
    title: 'Air',
    step: 0.1,
    description: 'How much the air slows it, a second.',
  }),
  wind: z.number().min(0).max(5000).default(0).meta({
    title: 'Wind',
    unit: 'cm/s',
    step: 10,
    description: 'How fast the air goes; it carries as much as the air slows.',
  }),
  heading: z.number().min(-360).max(360).default(0).meta({
    title: 'Wind toward',
    unit: '°',
    step: 5,
    description: 'Where it blows to, about the upright: 0 is +z, 90 is +x.',
  }),
  gusts: z.number().min(0).max(1).default(0.3).meta({
    title: 'Gusts',
    step: 0.05,
    description: 'How much of the wind comes and goes.',
  }),
  led: z.boolean().default(false).meta({
    title: 'First control keyed',
    description: 'The first control of each chain keeps to its keys, and leads the others.',
  }),
  collides: z.boolean().default(false).meta({
    title: 'Body in the way',
    description:
      'Ends of links stay out of the body: spheres and capsules in place of its solids, no deeper in them than they are at rest.',
  }),
  unlike: z.number().min(0).max(0.1).default(0.03).meta({
    title: 'Unlike',
    step: 0.01,
    description: 'How much chains differ in stiffness, so that two ears are no twins.',
  }),
  untimely: z.number().min(0).max(0.1).default(0).meta({
    title: 'Out of time',
    step: 0.01,
    description: 'How much chains differ in how fast their time goes: weight, springs and air together.',
  }),
  seed: z.number().int().min(0).max(1e9).default(1).meta({
    title: 'Seed',
    step: 1,
    description: 'Another seed, other gusts and other differences.',
  }),
  starts: z
    .enum(['rest', 'moving'])
    .default('rest')
    .meta({
      title: 'It starts',
      when: { loop: false },
      labels: { rest: 'at rest', moving: 'as the keys move' },
      description: 'How it goes where the filter begins.',
    }),
  loop: z.boolean().default(false).meta({
    title: 'Loop-aware',
    description: 'It goes round until the end of the range leads over to its start, travel aside.',
  }),
});
type Settings = z.output<typeof settings>;

/** Steps a second, at least; and cm/s² where a unit is a centimetre. */
const [LEAST_RATE, GRAVITY] = [240, 981];
/** Sines of the gusts, and between which frequencies they lie, Hz. */
const [GUSTS, SLOW, FAST] = [5, 0.15, 1.1];

/** The wind by seconds. */
function windOf({ wind, heading, gusts, seed, loop }: Settings, cycle: number): Followed['wind'] {
  if (wind === 0) return () => STILL_AIR;
  const random = seededRandom(seed);
  const sines = Array.from({ length: GUSTS }, (_, i) => {
    const hertz = SLOW + ((i + random.next()) / GUSTS) * (FAST - SLOW);
    const whole = loop && cycle > 0 ? Math.max(1, Math.round(hertz * cycle)) / cycle : hertz;
    return { turns: 2 * Math.PI * whole, phase: 2 * Math.PI * random.next() };
  });
  const [x, z] = [Math.sin((heading * Math.PI) / 180), Math.cos((heading * Math.PI) / 180)];
  return (seconds) => {
    const sum = sines.reduce((all, { turns, phase }) => all + Math.sin(turns * seconds + phase), 0);
    const now = wind * Math.max(0, 1 + (gusts * sum) / Math.sqrt(GUSTS / 2));
    return [now * x, 0, now * z];
  };
}
const STILL_AIR = [0, 0, 0] as const;

function chainOver(context: Context, layer: Layer, chain: Chain, below: Signals): FollowedChain {
  const given = layer.settings as Settings;
  const { rig, range: shotRange, framesPerSecond, period } = context;
  const over = layer.range ?? shotRange;
  const cycle = layer.range ?? { start: over.start, end: period === null ? over.end : over.start + period };
  const span = given.loop ? cycle : over;
  const pace = Math.max(1, Math.ceil(LEAST_RATE / framesPerSecond - 1e-9));
  const [first] = chain as [number];
  const moving = new Set([
    ...partFor(rig, [first]).channels,
    ...chain.flatMap((row) => [...rig.slots.subarray(row * 9, row * 9 + 6)]),
  ]);
  const signals = [...moving].filter((c) => c >= 0).map((c) => below[c]!);
  const random = seededRandom((given.seed + numberOf(rig.nodes[first]!.id)) >>> 0);
  const unlike = 1 + given.unlike * (2 * random.next() - 1);
  // As if its seconds were as much shorter: speeds go with it, accelerations with its square.
  const time = 1 + given.untimely * (2 * random.next() - 1);
  const step = 1 / (framesPerSecond * pace);
  const grid = gridOver(span, pace);
  const drive = () =>
    shared(
      chain,
      [
        'follow drive',
        rig,
        span.start,
        grid.steps,
        pace,
        given.collides,
        ...(given.collides ? below : signals),
      ],
      () => driveOf(rig, below, chain, grid, given.collides ? bodiesOver(rig, below, chain, grid) : null),
    );
  const numbers = Object.keys(settings.shape).map((name) => given[name as keyof Settings]);
  return shared(
    chain,
    ['follow', rig, span.start, span.end, pace, step, ...numbers, ...(given.collides ? below : signals)],
    () =>
      new FollowedChain(rig, below, chain, span, pace, drive, {
        frequency: given.frequency * unlike * time,
        damping: given.damping,
        growth: given.growth,
        gravity: given.gravity * GRAVITY * time * time,
        sags: given.sags,
        drag: given.drag * time,
        wind: windOf(given, (span.end - span.start) / framesPerSecond),
        moving: given.starts === 'moving',
        loop: given.loop,
        step,
      }),
  );
}

export const follow = defineLayer({
  kind: 'follow',
  title: 'Follow-through',
  summary:
    'Controls that hang on one another lag, swing past and settle by their weight; what hangs on the chosen one comes along.',
  words: 'overlap drag secondary dynamics chain rope tail ear hair string cloth wind jiggle settle',
  settings,
  keyed: false,
  effect: () => 'changes',
  fresh: { starts: 'moving' },
  // What swings does so in seconds, and never backward: it swings on as it does.
  time: { is: 'inPiece', split: 'never', looksAround: true, inPiece: (given) => given },
  problem: (_, { range }) =>
    range.end - range.start > MOST_FRAMES ? finding('tooLongToFollow', {}, MOST_FRAMES) : null,
  flip: (given) => ({ ...given, heading: -given.heading }),
  gather: withAllBelow,
  said(layer, below, context) {
    const given = layer.settings as Settings;
    const runs = runsOver(layer, below, context);
    const over = layer.range ?? context.range;
    const leaps = runs.flatMap(({ chain }) => leapsOf(context.rig, below, chain, over));
    const kicks = new Set(leaps.map(({ frame }) => frame)).size;
    const worst = leaps.reduce((most, leap) => (leap.distance > most.distance ? leap : most), NO_LEAP);
    return [
      ...(given.loop && runs.length > 0
        ? [finding('followSeam', {}, Math.max(...runs.map(({ run }) => run.seam)))]
        : []),
      ...(kicks > 0
        ? [finding('followKicked', { frame: worst.frame }, kicks, 10 * worst.distance, worst.frame)]
        : []),
    ];
  },
  over(layer, below, context) {
    const above = [...below];
    for (const { channels } of runsOver(layer, below, context))
      for (const [c, signal] of channels) above[c] = signal;
    return above;
  },
  under(layer, wants, _, context) {
    const weight = weightOf(layer);
    const led = (layer.settings as Settings).led;
    const own = new Set(
      chainsOf(context, layer, led).flatMap((chain) => channelsOf(context, layer, chain).map(([c]) => c)),
    );
    const answers: Answers = new Map();
    for (const [c, want] of wants)
      answers.set(c, own.has(c) && Math.abs(weight.at(want.frame)) > 1e-9 ? 'blocked' : want);
    return answers;
  },
});

const NO_LEAP: Leap = { frame: 0, distance: 0 };

interface ChainOver {
  readonly chain: Chain;
  readonly run: FollowedChain;
  /** The channels that it makes, and what they are. */
  readonly channels: readonly (readonly [number, Signal])[];
}

/** Its chains in turn: one that hangs on another follows what that does. */
function runsOver(layer: Layer, below: Signals, context: Context): ChainOver[] {
  const weight = weightOf(layer);
  let under = below;
  return chainsOf(context, layer, (layer.settings as Settings).led).map((chain) => {
    const run = chainOver(context, layer, chain, under);
    const channels = channelsOf(context, layer, chain).map(([c, link, axis]): [number, Signal] => {
      const [from, own] = [under[c]!, run.signal(link, axis)];
      return [c, shared(from, ['follow', weight, own], () => new WeighedSignal(from, own, weight, mixed))];
    });
    const made = new Map(channels);
    under = under.map((signal, c) => made.get(c) ?? signal);
    return { chain, run, channels };
  });
}

/** The rotations of a chain that are meant: channel, place in the chain, axis. */
function channelsOf(context: Context, { channels }: Layer, chain: Chain): [number, number, number][] {
  const { rig } = context;
  return chain.flatMap((row, link) =>
    [0, 1, 2].flatMap((axis): [number, number, number][] => {
      const c = rig.slots[row * 9 + 3 + axis]!;
      if (c < 0) return [];
      const { id, name } = rig.channels[c]!;
      const meant = channels === null || channels.includes(name) || channels.includes(id);
      return meant && !chooses(context, c) ? [[c, link, axis]] : [];
    }),
  );
}

/** Where nothing that hangs on a control is chosen, all of that is meant: a chain is taken by its first. */
function withAllBelow(nodes: readonly string[], rig: Rig): string[] {
  const rows = new Set(nodes.map(rig.indexOf).filter((row) => row >= 0));
  const isAbove = (row: number, low: number): boolean =>
    low >= 0 && (rig.parents[low] === row || isAbove(row, rig.parents[low]!));
  const alone = [...rows].filter((row) => ![...rows].some((low) => low !== row && isAbove(row, low)));
  const all = rig.nodes.flatMap(({ id, channels }, low) =>
    !rows.has(low) && channels.includes('rx') && alone.some((row) => isAbove(row, low)) ? [id] : [],
  );
  return [...nodes, ...all];
}
