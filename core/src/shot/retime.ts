/**
 * Everything that holds frames, carried along by one map of time: keys on all layers, weights and ranges of layers, frames in settings, pose columns set
 * by hand, and the shot's range. Whoever changes when something happens goes through here, so that nothing is left behind.
 */
import { bakeLeads } from '../curve/bake-lead.ts';
import { carried } from '../curve/carry.ts';
import type { CarryOptions } from '../curve/carry.ts';
import type { Curve } from '../curve/curve.ts';
import { hasLead } from '../curve/lead.ts';
import { repeatsAtAll } from '../curve/with-key.ts';
import type { RepeatWay } from '../curve/with-key.ts';
import { timeReader } from '../base/time-map.ts';
import type { TimeMap, TimeReader } from '../base/time-map.ts';
import { kindOf } from '../layers/kinds.ts';
import { relationKindOf } from '../rig/relations/kinds.ts';
import { carriedLayerRange } from '../layers/layer-range.ts';
import { changeLayers } from './change-layers.ts';
import type { LayerChanges } from './change-layers.ts';
import { withColumnFrames, withLayerTimes } from './shot.ts';
import type { ChannelId, Shot } from './shot.ts';

export interface Retiming extends CarryOptions {
  /** The channels that move; null is everything, and then what belongs to no channel moves too. */
  readonly channels: ReadonlySet<ChannelId> | null;
  /** What becomes of repeats that a cut falls into: they go on as they are, or become keys first. */
  readonly repeats?: RepeatWay;
  /** Whether the shot may end earlier than it did. */
  readonly shrink?: boolean;
}

export interface Retimed extends LayerChanges {
  readonly map: TimeMap;
  readonly merged: number;
  readonly gone: number;
  /** Channels whose repeats or slopes go on as they did, though time was cut there; and those that were baked. */
  readonly goOn: readonly ChannelId[];
  readonly baked: readonly ChannelId[];
  /** Channels whose cycle, which they repeat, has another length now. */
  readonly otherCycle: readonly ChannelId[];
}

/** The shot where a map of time takes it. */
export function retimeShot(shot: Shot, map: TimeMap, retiming: Retiming): Retimed {
  const time = timeReader(map);
  const { channels, repeats = 'cycle', shrink = true, drift: _, ...still } = retiming;
  let [merged, gone] = [0, 0];
  const goOn = new Set<ChannelId>();
  const baked = new Set<ChannelId>();
  const otherCycle = new Set<ChannelId>();
  const changes = changeLayers(shot, channels, map.pieces[0]!.from, (curve, channel, pass) => {
    const cut = cutsLead(curve, time, shot);
    const ready = cut && repeats === 'bake' ? bakeLeads(curve, shot.range.start, shot.range.end) : curve;
    if (cut) (ready === curve ? goOn : baked).add(channel);
    const after = carried(ready, time, pass === null ? retiming : still);
    merged += after.merged;
    gone += after.gone;
    if (repeatsAtAll(ready) && Math.abs(lengthOf(after.curve) - lengthOf(ready)) > 1e-6)
      otherCycle.add(channel);
    return after.curve;
  });
  const extra = { map, merged, gone, goOn: [...goOn], baked: [...baked], otherCycle: [...otherCycle] };
  if (changes.shot === shot && channels !== null) return { ...changes, ...extra };
  const end = Math.max(time.at(shot.range.end, 1), shot.range.start);
  const grows = end > shot.range.end || (channels === null && shrink);
  // Where the last frame lies in time that is taken out, the shot ends at the cut.
  let after =
    grows && end !== shot.range.end ? { ...changes.shot, range: { ...shot.range, end } } : changes.shot;
  if (channels === null) after = withLoose(after, time, still);
  return { ...changes, shot: after, ...extra };
}

/** Whether time changes at once somewhere outside the keys, where the curve does more than hold. */
function cutsLead(curve: Curve, { cuts }: TimeReader, { range }: Shot): boolean {
  if (!hasLead(curve)) return false;
  const [first, last] = [curve.times[0]!, curve.times[curve.times.length - 1]!];
  return cuts.some(
    (cut) =>
      (curve.leadOut !== 'hold' && cut > last - 1e-6 && cut < range.end - 1e-6) ||
      (curve.leadIn !== 'hold' && cut < first + 1e-6 && cut > range.start + 1e-6),
  );
}

const lengthOf = ({ times }: Curve) => (times.length > 0 ? times[times.length - 1]! - times[0]! : 0);

/** The weights that variants keep. */
function withVariantTimes(shot: Shot, time: TimeReader, options: CarryOptions): Shot {
  if (!shot.variants?.some(({ states }) => states.some(({ weight }) => weight.times.length > 1))) return shot;
  const moved = (weight: Curve) => (weight.times.length > 1 ? carried(weight, time, options).curve : weight);
  const variants = shot.variants.map((variant) => ({
    ...variant,
    states: variant.states.map((state) => ({ ...state, weight: moved(state.weight) })),
  }));
  return { ...shot, variants };
}

function withRelationTimes(shot: Shot, time: TimeReader): Shot {
  if (!shot.relations.some((relation) => relationKindOf(relation)?.retime)) return shot;
  const relations = shot.relations.map((relation) => {
    const kind = relationKindOf(relation);
    const settings = kind?.retime && kind.settings.safeParse(relation.settings);
    return settings?.success ? { ...relation, settings: kind!.retime!(settings.data, time) } : relation;
  });
  return { ...shot, relations };
}

/** What belongs to no channel: weights and ranges of layers, columns set by hand. */
function withLoose(shot: Shot, time: TimeReader, options: CarryOptions): Shot {
  const passed = withLayerTimes(shot, (layer) => {
    const retime = kindOf(layer)?.retime;
    return {
      weight: layer.weight.times.length > 1 ? carried(layer.weight, time, options).curve : layer.weight,
      range: layer.range && carriedLayerRange(layer.range, time),
      settings: retime ? retime(layer.settings, time) : layer.settings,
    };
  });
  return withColumnFrames(withRelationTimes(withVariantTimes(passed, time, options), time), (frames) =>
    frames
      .filter((frame) => !time.isGone(frame))
      .flatMap((frame) => {
        // A frame at which time was put in stands on both of its sides; whole frames stay whole.
        const both = [time.at(frame, -1), time.at(frame, 1)];
        return Number.isInteger(frame) ? both.map(Math.round) : both;
      }),
  );
}
