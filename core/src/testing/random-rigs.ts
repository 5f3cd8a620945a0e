/** Seeded rigs whose nodes are turned, scaled and keyed in every way, for properties of relations. */
import { seededRandom } from '../base/random.ts';
import { EULER_ORDERS } from '../math/euler.ts';
import { unit } from '../math/quaternion.ts';
import type { Node } from '../rig/node.ts';
import { newShot, withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { curve } from './shot-literals.ts';

const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];

/** n0 … with random parents, orders, rest turns and even scales, and curves over 0 to 24 on all of them. @param shear scales that differ by axis, too */
export function randomRig(seed: number, count = 6, shear = false): Shot {
  const { next: random } = seededRandom(seed);
  const spread = (size: number) => (random() - 0.5) * 2 * size;
  const nodes = Array.from({ length: count }, (_, i): Node => {
    const parent = i > 0 && random() < 0.6 ? `n${Math.floor(random() * i)}` : null;
    const even = 0.6 + random();
    return {
      id: `n${i}`,
      parent,
      kind: 'control',
      rest: {
        translation: [spread(40), spread(40), spread(40)],
        rotation: unit([spread(1), spread(1), spread(1), 1 + random()]),
        scale: shear && i < 2 ? [even, even * 1.3, even * 0.8] : [even, even, even],
      },
      order: EULER_ORDERS[Math.floor(random() * 6)]!,
      channels: CHANNELS,
      side: 'centre',
      pair: null,
      part: 'extra',
      character: null,
      solids: [],
    };
  });
  const bare = newShot('Random', nodes, [], { numerator: 24, denominator: 1 }, { start: 0, end: 24 });
  // Of every other rig the last node is keyed on two channels alone.
  const keyed = (id: string) => (seed % 2 === 1 && id === `n${count - 1}` ? ['ty', 'rx'] : CHANNELS);
  const curves = nodes.flatMap(({ id }) =>
    keyed(id).map((name) => {
      const size = name.startsWith('t') ? 30 : 70;
      return [`${id}.${name}`, curve([0, 7, 13, 24].flatMap((frame) => [frame, spread(size)]))] as const;
    }),
  );
  return withCurves(bare, null, new Map(curves));
}
