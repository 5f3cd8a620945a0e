/** Switches: channels whose value says which of several things holds, and which no edit may blend. */
import { SEGMENT } from '../curve/curve.ts';
import { channelKind } from '../rig/node.ts';
import { curveOf, splitChannel } from './shot.ts';
import type { ChannelId, Shot } from './shot.ts';

/** Whether a channel that neither moves, turns nor scales steps between whole numbers wherever it is keyed: IK on or off, a space. */
export function isSwitch(shot: Shot, channel: ChannelId): boolean {
  if (channelKind(splitChannel(channel).name) !== 'other') return false;
  const { values, segments } = curveOf(shot, null, channel);
  if (!values.every(Number.isInteger)) return false;
  return values.length < 2 || segments.subarray(0, -1).every((kind) => kind === SEGMENT.stepped);
}
