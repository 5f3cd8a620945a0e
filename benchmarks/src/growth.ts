/** How the cost of every edit grows: ten times the keys, or ten times the channels, may cost a little more than ten times. */
import {
  AT_REST,
  buildCurve,
  capturePose,
  copyKeys,
  EDITS,
  FLAG,
  newShot,
  NOTHING,
  runEdit,
  withCurves,
} from '@kneader/core';
import type { Node, Selection, Shot } from '@kneader/core';
import { median, processorTimeOf } from './measure.ts';
import type { Row } from './measure.ts';

const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];
const MOST_BY_KEYS = 15;
const MOST_BY_CHANNELS = 12;

/** A body with `limbs` pairs of limbs, a key on every frame of every channel; every fiftieth key is locked where that is asked. */
function shotOf(limbs: number, keys: number, locked = false): Shot {
  const node = (id: string, side: Node['side'], pair: string, parent: string | null): Node => ({
    id,
    parent,
    kind: 'control',
    rest: { ...AT_REST, translation: [side === 'left' ? 20 : side === 'right' ? -20 : 0, 10, 0] },
    order: 'yxz',
    channels: CHANNELS,
    side,
    pair,
    part: 'arm',
    character: 'one',
    solids: [],
  });
  const nodes = [node('hips', 'centre', 'hips', null)];
  for (let i = 0; i < limbs; i += 1)
    nodes.push(
      node(`arm_${i}_l`, 'left', `arm_${i}_r`, 'hips'),
      node(`arm_${i}_r`, 'right', `arm_${i}_l`, 'hips'),
    );
  const curves = nodes.flatMap(({ id }, n) =>
    CHANNELS.map((name, c) => {
      const curve = buildCurve(keys, (columns) => {
        for (let i = 0; i < keys; i += 1) {
          columns.times[i] = i;
          columns.values[i] = 20 * Math.sin(i / 9 + c + n) + ((i * 7919) % 13) / 40;
          if (locked && i % 50 === 25) columns.flags[i] = FLAG.locked;
        }
      });
      return [`${id}.${name}`, curve] as const;
    }),
  );
  const bare = newShot('Growth', nodes, [], { numerator: 24, denominator: 1 }, { start: 0, end: keys - 1 });
  return withCurves({ ...bare, characters: [{ id: 'one', name: 'One' }] }, null, new Map(curves));
}

/** What each edit is given on a shot; one that is not here runs with its defaults. */
function optionsFor(id: string, shot: Shot): object {
  const middle = Math.floor(shot.range.end / 2);
  const clip = () =>
    copyKeys(shot, {
      ...NOTHING,
      nodes: shot.nodes.map((node) => node.id),
      range: { start: 1, end: middle },
    });
  const given: Record<string, () => object> = {
    'clean.resample': () => ({ every: 2 }),
    'clean.rescale': () => ({ factor: 2 }),
    'clean.rotationOrder': () => ({ order: 'xyz' }),
    'tangents.set': () => ({ kind: 'flat' }),
    'keys.add': () => ({ frame: middle + 0.5 }),
    'keys.move': () => ({ frames: 1 }),
    'keys.paste': () => ({ clip: clip(), frame: middle, mode: 'merge' }),
    'keys.transform': () => ({ scaleValue: 1.2, scaleTime: 1.5 }),
    'keys.setValue': () => ({ value: 1, relative: true }),
    'keys.setLead': () => ({ leadOut: 'loop' }),
    'keys.lockChannels': () => ({ channels: ['hips.tx'] }),
    'timing.setGap': () => ({ frame: 4, gap: 9 }),
    'timing.setColumns': () => ({ add: [4, 9] }),
    'timing.addHold': () => ({ frame: middle, frames: 4 }),
    'timing.movingHold': () => ({ frame: middle, frames: 4 }),
    'timing.stretch': () => ({ factor: 2 }),
    'timing.warp': () => ({
      points: [
        [0, 0],
        [middle, middle + 9],
        [shot.range.end, shot.range.end],
      ],
    }),
    'poses.flip': () => ({ frame: middle }),
    'poses.mirror': () => ({ frame: middle }),
    'poses.blend': () => ({ frame: middle, toward: 'rest' }),
    'poses.rest': () => ({ frame: middle }),
    'poses.paste': () => ({ pose: capturePose(shot, NOTHING, 2), frame: middle, flip: true }),
    'poses.setPair': () => ({ node: 'arm_0_l', pair: null }),
    'poses.setFlipSigns': () => ({ node: 'arm_0_l', signs: { rx: -1 } }),
    'poses.setFacing': () => ({ character: 'one', degrees: 90 }),
    'actions.save': () => ({ name: 'One' }),
    'actions.apply': () => ({
      action: runEdit('actions.save', shot, everything(shot), { name: 'One' }).made,
      frame: 3,
    }),
  };
  if (id === 'timing.pattern') return {};
  return given[id]?.() ?? {};
}

const everything = (shot: Shot): Selection => ({ ...NOTHING, nodes: shot.nodes.map(({ id }) => id) });
const half = (shot: Shot): Selection => ({
  ...everything(shot),
  range: { start: 0, end: Math.floor(shot.range.end / 2) },
});

interface Growth {
  readonly id: string;
  /** The median over pairs, timed one after the other: machine noise falls on both alike. */
  readonly ratio: number;
  readonly large: number;
}

type Work = readonly [shot: Shot, selection: Selection, options: object];

function growthOf(id: string, small: Work, large: Work): Growth {
  const run = (work: Work) => processorTimeOf(() => runEdit(id, ...work));
  run(small);
  const first = run(large);
  const pairs = Array.from({ length: first > 1000 ? 3 : 5 }, () => {
    // Several runs of the small one: it is short, and the clock is coarse.
    const own = median([run(small), run(small), run(small)]);
    const other = run(large);
    return { ratio: other / Math.max(own, 1), large: other };
  });
  return {
    id,
    ratio: median(pairs.map(({ ratio }) => ratio)),
    large: median(pairs.map((pair) => pair.large)),
  };
}

function growthRow(work: string, against: string, grown: readonly Growth[], most: number): Row {
  const ratios = [...grown].sort((a, b) => b.ratio - a.ratio);
  const words = ratios
    .slice(0, 4)
    .map(({ id, ratio, large }) => `${id} ${ratio.toFixed(1)}× (${Math.round(large)} ms)`)
    .join(', ');
  return { work, against, measured: `${words}`, toReach: `≤ ${most}×`, reached: ratios[0]!.ratio <= most };
}

export function growthRows(): Row[] {
  const [small, large] = [shotOf(1, 1000), shotOf(1, 10000)];
  const byKeys = EDITS.map(({ id }) =>
    growthOf(id, [small, half(small), optionsFor(id, small)], [large, half(large), optionsFor(id, large)]),
  );
  const locks = [shotOf(1, 1000, true), shotOf(1, 10000, true)] as const;
  const hard: [string, object][] = [
    ['keys.move', { frames: 3 }],
    ['clean.resample', { every: 2 }],
    ['clean.thin', { keepFrames: Array.from({ length: 400 }, (_, i) => 25 * i) }],
  ];
  const withLocks = hard.map(([id, options]) =>
    growthOf(id, [locks[0], half(locks[0]), options], [locks[1], half(locks[1]), options]),
  );
  const [few, many] = [shotOf(41, 100), shotOf(416, 100)];
  const byChannels = ['keys.move', 'keys.transform', 'clean.thin', 'clean.smooth', 'keys.paste'].map((id) =>
    growthOf(id, [few, everything(few), optionsFor(id, few)], [many, everything(many), optionsFor(id, many)]),
  );
  return [
    growthRow(
      'each of the edits, 10,000 keys on each of 18 channels, half of them meant',
      'the same with 1,000',
      byKeys,
      MOST_BY_KEYS,
    ),
    growthRow(
      'the same over locked keys, and thinning with 400 kept frames',
      'the same with 1,000 keys',
      withLocks,
      MOST_BY_KEYS,
    ),
    growthRow(
      'move, transform, thin, smooth, paste on 5,000 channels of 100 keys',
      'the same on 500',
      byChannels,
      MOST_BY_CHANNELS,
    ),
  ];
}
