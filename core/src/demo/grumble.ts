/** A performance for the stand-in capture feed: somebody who grumbles under his breath, from the hips up. Every seed grumbles in its own way. */
import { seededRandom } from '../base/random.ts';
import type { ChannelId } from '../document/shot.ts';

/** Channel, and by how many degrees or cm it goes, in how many seconds. */
const PARTS: readonly (readonly [ChannelId, number, number])[] = [
  ['spine_low.rx', 3, 2.6],
  ['spine_low.ry', 6, 3.1],
  ['spine_high.ry', 8, 2.3],
  ['spine_high.rz', 4, 2.9],
  ['chest.rx', 5, 1.7],
  ['chest.ry', 6, 2.1],
  ['clavicle_l.rz', 7, 1.3],
  ['clavicle_r.rz', -7, 1.3],
  ['neck.rx', 5, 1.1],
  ['head.rx', 9, 0.9],
  ['head.ry', 16, 1.6],
  ['head.rz', 7, 1.4],
  ['jaw.rx', 7, 0.34],
  ['moustache.rx', 12, 0.42],
  ['brow_l.ty', 1.1, 0.8],
  ['brow_r.ty', 1.1, 0.8],
];

export const GRUMBLE_CHANNELS: readonly ChannelId[] = PARTS.map(([channel]) => channel);

/** Sines that fit no beat: for each part three, by the seed. */
const OVER = [1, 2.13, 3.71] as const;

/** What a seed does. @returns values in the order of the channels, at a time in seconds */
export function grumble(seed: number): (seconds: number) => number[] {
  const random = seededRandom(seed);
  const phases = PARTS.map(() => OVER.map(() => 2 * Math.PI * random.next()));
  return (seconds) =>
    PARTS.map(([, reach, period], i) =>
      OVER.reduce(
        (sum, over, k) =>
          sum + (reach / (2 * over)) * Math.sin((2 * Math.PI * over * seconds) / period + phases[i]![k]!),
        0,
      ),
    );
}
