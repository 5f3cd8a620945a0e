/** Channels that choose, in a shot: a space, FK or IK. No edit may blend them. */
import { CHOICE, isStepping } from '../rig/choices.ts';
import type { Curve } from '../curve/curve.ts';
import { channelKind } from '../rig/node.ts';
import { curveOf, rigOf, splitChannel } from './shot.ts';
import type { ChannelId, Shot } from './shot.ts';

const choiceOf = (shot: Shot, channel: ChannelId): number =>
  rigOf(shot).choices[rigOf(shot).channelIndex(channel)] ?? CHOICE.never;

/** Whether a channel chooses, by its relation or by what is set on its node, whatever its keys are. */
export const isAlwaysChoice = (shot: Shot, channel: ChannelId): boolean =>
  choiceOf(shot, channel) === CHOICE.always;

/** Whether it chooses, or is the weight of a relation that is only ever switched. */
export const isChoice = (shot: Shot, channel: ChannelId): boolean =>
  isAlwaysChoice(shot, channel) ||
  (choiceOf(shot, channel) === CHOICE.asKeyed && switches(curveOf(shot, null, channel)));

/** Whether it is ever switched: one that is the same at all times is worked on like any other. */
const switches = (curve: Curve) =>
  isStepping(curve) && curve.values.some((value) => value !== curve.values[0]);

/** Whether it chooses, or steps between whole numbers wherever it is keyed and is no place, turn or size: what is not blended, to be sure. */
export const isSwitch = (shot: Shot, channel: ChannelId): boolean =>
  isChoice(shot, channel) ||
  (channelKind(splitChannel(channel).name) === 'other' && isStepping(curveOf(shot, null, channel)));
