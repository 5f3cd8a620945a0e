/**
 * Everything that holds frames, carried along by one map of time: keys on all layers, weights and ranges of layers, frames in settings, pose columns set
 * by hand, and the shot's range. Whoever changes when something happens goes through here, so that nothing is left behind.
 */
import { bakeLeads } from '../curve/bake-lead.ts';
import { readThroughTime } from '../curve/curve-through-time.ts';
import type { ThroughTimeOptions } from '../curve/curve-through-time.ts';
import type { Curve } from '../curve/curve.ts';
import { hasLead } from '../curve/lead.ts';
import { repeatsAtAll } from '../curve/with-key.ts';
import type { RepeatWay } from '../curve/with-key.ts';
import type { Finding } from '../base/finding.ts';
import { timeReader } from '../base/time-map.ts';
import type { TimeMap, TimeReader } from '../base/time-map.ts';
import { piecesOfMap } from '../base/time-pieces.ts';
import type { TimePieces } from '../base/time-pieces.ts';
import { changeLayers } from './change-layers.ts';
import type { LayerChanges } from './change-layers.ts';
import { partsThroughTime } from './through-time.ts';
import type { ChannelId, Shot } from './shot.ts';

export interface Retiming extends ThroughTimeOptions {
  /** The channels that move; null is everything, and then what belongs to no channel moves too. */
  readonly channels: ReadonlySet<ChannelId> | null;
  /** What becomes of repeats that a cut falls into: they go on as they are, or become keys first. */
  readonly repeats?: RepeatWay;
  /** Whether the shot may end earlier than it did. */
  readonly shrink?: boolean;
}

export interface Retimed extends LayerChanges {
  readonly pieces: TimePieces;
  /** What is to be said of layers and relations. */
  readonly findings: readonly Finding[];
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
    const after = readThroughTime(ready, time, pass === null ? retiming : still);
    merged += after.merged;
    gone += after.gone;
    if (repeatsAtAll(ready) && Math.abs(lengthOf(after.curve) - lengthOf(ready)) > 1e-6)
      otherCycle.add(channel);
    return after.curve;
  });
  const pieces = piecesOfMap(map);
  const extra = {
    findings: [],
    pieces,
    merged,
    gone,
    goOn: [...goOn],
    baked: [...baked],
    otherCycle: [...otherCycle],
  };
  if (changes.shot === shot && channels !== null) return { ...changes, ...extra };
  const end = Math.max(time.at(shot.range.end, 1), shot.range.start);
  const grows = end > shot.range.end || (channels === null && shrink);
  // Where the last frame lies in time that is taken out, the shot ends at the cut.
  const after =
    grows && end !== shot.range.end ? { ...changes.shot, range: { ...shot.range, end } } : changes.shot;
  if (channels !== null) return { ...changes, shot: after, ...extra };
  const loose = partsThroughTime(
    after,
    pieces,
    shot.range,
    (weight) => readThroughTime(weight, time, still).curve,
  );
  return { ...changes, shot: loose.shot, ...extra, findings: loose.findings };
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
