/**
 * What the channel list and the curves lane show: the channels of what is selected, or all that have a curve, as far as they
 * match the filter; in the lane those that are not hidden or that are isolated. It is no part of the shot.
 */
import {
  curveOf,
  matchesWords,
  meansWeight,
  rigOf,
  sampleInto,
  splitChannel,
  WEIGHT,
  wordsOf,
} from '@kneader/core';
import type { ChannelId, Curve, Selection, Shot } from '@kneader/core';
import type { ShownCurve, Span } from './curve-view.ts';

export interface LaneView {
  /** The channels of the selected controls, or of everything that has a curve. */
  readonly showing: 'selected' | 'all';
  readonly filter: string;
  /** Each curve in its own measure, so that small and large ones can be compared. */
  readonly normalised: boolean;
  /** Only these, while there are any. */
  readonly isolated: readonly ChannelId[];
  readonly hidden: readonly ChannelId[];
  /** Whether chosen keys wear a transform box. */
  readonly box: boolean;
  /** On what retiming by hand acts. */
  readonly timeScope: 'everything' | 'selected';
  /** Whether what is later follows a pose that is moved in time; else it slides between its neighbours. */
  readonly ripples: boolean;
}

export const PLAIN_VIEW: LaneView = {
  showing: 'selected',
  filter: '',
  normalised: false,
  isolated: [],
  hidden: [],
  box: false,
  timeScope: 'everything',
  ripples: true,
};

/** The channels of the list, in the shot's order. */
export function listedChannels(shot: Shot, selection: Selection, view: LaneView): ChannelId[] {
  const rig = rigOf(shot);
  const words = wordsOf(view.filter);
  const chosen = new Set(selection.nodes);
  return rig.channels
    .filter(({ id, node, name }) => {
      const shown =
        view.showing === 'all'
          ? curveOf(shot, selection.layer, id).times.length > 0
          : chosen.has(rig.nodes[node]!.id);
      return shown && matchesWords(rig.nodes[node]!, name, words);
    })
    .map(({ id }) => id);
}

/**
 * The curves of the lane.
 * @param measured whose curves give each one's measure in the normalised view, so that a drag does not change it
 */
export function shownCurves(
  shot: Shot,
  selection: Selection,
  view: LaneView,
  measured: Shot = shot,
): ShownCurve[] {
  const weight = meansWeight(selection);
  const listed = weight ? [WEIGHT] : listedChannels(shot, selection, view);
  const chosen = new Set(weight ? [] : selection.channels);
  const isolated = new Set(view.isolated);
  const hidden = new Set(view.hidden);
  return listed.flatMap((channel): ShownCurve[] => {
    if (chosen.size > 0 && view.showing === 'selected' && !chosen.has(channel)) return [];
    if (isolated.size > 0 ? !isolated.has(channel) : hidden.has(channel)) return [];
    const curve = curveOf(shot, selection.layer, channel);
    if (curve.times.length === 0) return [];
    const span = () => spanOf(curveOf(measured, selection.layer, channel), shot);
    return [{ channel, curve, ...(view.normalised ? { span: span() } : {}) }];
  });
}

const spans = new WeakMap<Curve, Span>();
const LOOKS = 200;

/** The values that a curve takes over its shot; a level curve gets one unit of room. */
function spanOf(curve: Curve, shot: Shot): Span {
  const known = spans.get(curve);
  if (known) return known;
  const { start, end } = shot.range;
  const times = Float64Array.from({ length: LOOKS }, (_, i) => start + ((end - start) * i) / (LOOKS - 1));
  const values = new Float64Array(LOOKS);
  sampleInto(values, 0, 1, curve, times);
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) {
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  const span = high - low > 1e-9 ? { low, high } : { low: low - 0.5, high: high + 0.5 };
  spans.set(curve, span);
  return span;
}

/** The channels that keystrokes on curves mean: those of chosen keys, else the chosen ones, else all that the lane shows. */
export function meantChannels(shot: Shot, selection: Selection, view: LaneView): ChannelId[] {
  const keyed = Object.keys(selection.keys).filter((id) => selection.keys[id]!.length > 0);
  if (keyed.length > 0) return keyed;
  if (selection.channels.length > 0) return [...selection.channels];
  return shownCurves(shot, selection, view).map(({ channel }) => channel);
}

export const channelWords = (channel: ChannelId): string => {
  const { node, name } = splitChannel(channel);
  return `${node} ${name}`.trim();
};
