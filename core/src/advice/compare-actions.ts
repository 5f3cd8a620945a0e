/** Two actions held against each other: whether they are the same motion, and where they differ. */
import { differenceOf } from '../curve/difference.ts';
import { retimedBy } from '../curve/retimed-by.ts';
import { curvesToJson } from '../document/action.ts';
import type { Action, ActionJson } from '../document/action.ts';
import { framesPerSecond } from '../document/shot.ts';
import type { ChannelId } from '../document/shot.ts';

/**
 * What an action does, and nothing of what it is called: two with the same text are the same motion.
 * Keys' ids and the order of channels do not count.
 */
export function contentOf({ json, curves }: Action): string {
  const plain = Object.entries(curvesToJson(curves))
    .map(([id, { ids: _, ...curve }]) => [id, curve] as const)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  const { rate, length, skeleton, roots } = json;
  return JSON.stringify([framesPerSecond(rate), length, plain, skeleton ?? null, [...roots].sort()]);
}

interface ChannelDifference {
  readonly channel: ChannelId;
  /** Which of the two alone has it; null for both. */
  readonly only: 'first' | 'second' | null;
  /** The greatest distance, in the channel's unit, and the frame of the first where it is; 0 where only one has it. */
  readonly greatest: number;
  readonly frame: number;
}

export interface Comparison {
  /** Frames of the first by which the second is longer. */
  readonly longer: number;
  /** Channels that differ, those with the greatest distance first. */
  readonly channels: readonly ChannelDifference[];
  /** How many channels are the same in both. */
  readonly same: number;
}

/** Distances smaller than this are none. */
const SAME = 1e-6;

/** The second against the first, in the first one's frames: the same seconds are the same place. */
export function compareActions(first: Action, second: Action): Comparison {
  const stretch = framesPerSecond(first.json.rate) / framesPerSecond(second.json.rate);
  const lengthOf = ({ json }: { json: ActionJson }) => json.length;
  const range = { start: 0, end: Math.max(lengthOf(first), lengthOf(second) * stretch) };
  const channels: ChannelDifference[] = [];
  let same = 0;
  for (const channel of new Set([...first.curves.keys(), ...second.curves.keys()])) {
    const [a, b] = [first.curves.get(channel), second.curves.get(channel)];
    if (!a || !b) {
      channels.push({ channel, only: a ? 'first' : 'second', greatest: 0, frame: 0 });
      continue;
    }
    const { greatest, frame } = differenceOf(a, retimedBy(b, stretch), range);
    if (greatest > SAME) channels.push({ channel, only: null, greatest, frame });
    else same += 1;
  }
  return {
    longer: lengthOf(second) * stretch - lengthOf(first),
    channels: channels.sort((a, b) => b.greatest - a.greatest),
    same,
  };
}
