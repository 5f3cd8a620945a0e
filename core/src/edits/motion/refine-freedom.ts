/**
 * What Refine may turn: values and slopes of keys, as one row of numbers x. What shows of a channel on a frame is linear in its own keys' values and slopes, through passes and all filters that are linear
 * in what lies below: `shown = shown₀ + Σ basis · (x − x₀)`.
 */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { isFilter } from '../../layers/kinds.ts';
import { CHOICE } from '../../rig/choices.ts';
import { curveOf, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { soundingLayers } from '../../evaluation/context.ts';
import { stackOf } from '../../evaluation/evaluation.ts';

/** One number that may be turned. */
interface Freedom {
  readonly row: number;
  readonly what: 'value' | 'slope' | 'slopeIn' | 'slopeOut';
  /** What shows of it: which frames, by their place in the list, and how much a unit of it adds there. */
  readonly from: number;
  readonly basis: Float64Array;
}

export interface FreeChannel {
  readonly id: ChannelId;
  /** Its place among the rig's channels. */
  readonly channel: number;
  readonly curve: Curve;
  readonly freedoms: readonly Freedom[];
  /** Its first number in x. */
  readonly first: number;
}

export interface Free {
  readonly channels: readonly FreeChannel[];
  /** How many numbers there are. */
  readonly count: number;
  readonly start: Float64Array;
  readonly findings: readonly Finding[];
}

/** @param layer null is the base @param ends whether the slopes at the ends of the range are free */
export function freedomOf(
  shot: Shot,
  ids: readonly ChannelId[],
  layer: string | null,
  range: FrameRange,
  frames: Float64Array,
  ends: boolean,
): Free {
  const rig = rigOf(shot);
  const channels: FreeChannel[] = [];
  const stepped: ChannelId[] = [];
  const start: number[] = [];
  for (const id of ids) {
    const channel = rig.channelIndex(id);
    const { kind } = rig.channels[channel]!;
    const curve = curveOf(shot, layer, id);
    const isMeant = (kind === 'position' || kind === 'rotation') && rig.choices[channel] === CHOICE.never;
    if (!isMeant || curve.times.length < 2 || shot.locked.includes(id)) continue;
    if (
      curve.times.some(
        (time, row) => time >= range.start && time < range.end && curve.segments[row] === SEGMENT.stepped,
      )
    ) {
      stepped.push(id);
      continue;
    }
    const plans = plansOf(curve, range, ends);
    if (plans.length === 0) continue;
    const freedoms = basesOf(shot, layer, id, channel, curve, plans, frames);
    channels.push({ id, channel, curve, freedoms, first: start.length });
    for (const { row, what } of plans)
      start.push(
        what === 'value'
          ? curve.values[row]!
          : what === 'slopeIn'
            ? curve.slopesIn[row]!
            : curve.slopesOut[row]!,
      );
  }
  const findings = stepped.length > 0 ? [finding('steppedStay', {}, stepped)] : [];
  return { channels, count: start.length, start: Float64Array.from(start), findings };
}

type Plan = Pick<Freedom, 'row' | 'what'>;

/** What of a curve is free within a range: not what is locked, and of the keys at its ends no value. */
function plansOf(curve: Curve, { start, end }: FrameRange, ends: boolean): Plan[] {
  const { times, flags, segments } = curve;
  const rows = [...times.keys()].filter((row) => times[row]! >= start - 1e-6 && times[row]! <= end + 1e-6);
  const [first, last] = [rows[0], rows.at(-1)];
  return rows.flatMap((row): Plan[] => {
    if ((flags[row]! & FLAG.locked) !== 0) return [];
    const isEnd = row === first || row === last;
    const into = row > 0 && segments[row - 1] === SEGMENT.cubic;
    const out = row < times.length - 1 && segments[row] === SEGMENT.cubic;
    const broken = (flags[row]! & FLAG.broken) !== 0;
    const within = { into: into && row !== first, out: out && row !== last };
    const slopes: Plan[] = broken
      ? [
          ...(within.into ? [{ row, what: 'slopeIn' as const }] : []),
          ...(within.out ? [{ row, what: 'slopeOut' as const }] : []),
        ]
      : within.into || within.out
        ? [{ row, what: 'slope' as const }]
        : [];
    return isEnd ? (ends ? slopes : []) : [{ row, what: 'value' }, ...slopes];
  });
}

/** A curve with some of its numbers at other places. Where a slope is another its rule is let go. */
export function curveWith(
  { curve, freedoms, first }: Pick<FreeChannel, 'curve' | 'first'> & { readonly freedoms: readonly Plan[] },
  x: Float64Array,
): Curve {
  const changed = freedoms.some((one, k) => numberOf(curve, one) !== x[first + k]);
  if (!changed) return curve;
  return rebuild(curve, null, (columns) => {
    // A rule would turn the slopes that stay, since the values beside them are others: all that is free is held as it is.
    for (const { row } of freedoms) columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
    freedoms.forEach(({ row, what }, k) => {
      const to = x[first + k]!;
      if (what === 'value') columns.values[row] = to;
      if (what !== 'value' && what !== 'slopeOut') columns.slopesIn[row] = to;
      if (what !== 'value' && what !== 'slopeIn') columns.slopesOut[row] = to;
    });
  });
}

const numberOf = (curve: Curve, { row, what }: Plan): number =>
  what === 'value' ? curve.values[row]! : what === 'slopeIn' ? curve.slopesIn[row]! : curve.slopesOut[row]!;

/** Less than this of what shows is nothing. */
const NOTHING = 1e-12;

function basesOf(
  shot: Shot,
  layer: string | null,
  id: ChannelId,
  channel: number,
  curve: Curve,
  plans: readonly Plan[],
  frames: Float64Array,
): Freedom[] {
  const gain = gainOf(shot, layer, id, channel, frames);
  const x = Float64Array.from(plans, (plan) => numberOf(curve, plan));
  const held = curveWith({ curve, freedoms: plans, first: 0 }, nudged(x, 0, 0));
  const alone = gain === null ? null : new CurveReader(frozen(held, plans));
  const column = (of: Curve): Float64Array => {
    const { top } = stackOf(withCurves(shot, layer, new Map([[id, of]])));
    return frames.map((frame) => top[channel]!.at(frame));
  };
  const before = alone ? null : column(frozen(held, plans));
  return plans.map((plan, k): Freedom => {
    const one = curveWith({ curve: frozen(held, plans), freedoms: plans, first: 0 }, nudged(x, k, 1));
    let adds: Float64Array;
    if (alone && gain) {
      const reader = new CurveReader(one);
      adds = frames.map((frame, f) => gain[f]! * (reader.at(frame) - alone.at(frame)));
    } else {
      const after = column(one);
      adds = after.map((value, f) => value - before![f]!);
    }
    let [from, to] = [0, adds.length];
    while (from < to && Math.abs(adds[from]!) < NOTHING) from += 1;
    while (to > from && Math.abs(adds[to - 1]!) < NOTHING) to -= 1;
    return { ...plan, from, basis: adds.slice(from, to) };
  });
}

const nudged = (x: Float64Array, at: number, by: number): Float64Array =>
  x.map((value, k) => (k === at ? value + by : value));

/** The curve with the rules of what is free let go. */
const frozen = (curve: Curve, plans: readonly Plan[]): Curve =>
  rebuild(curve, null, (columns) => {
    for (const { row } of plans) columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
  });

/** By how much a unit of the curve shows on each frame; null where something over it reads other frames. */
function gainOf(
  shot: Shot,
  layer: string | null,
  id: ChannelId,
  channel: number,
  frames: Float64Array,
): Float64Array | null {
  const { node } = splitChannel(id);
  const sounding = soundingLayers(shot);
  const above = sounding.slice(layer === null ? 0 : sounding.findIndex((one) => one.id === layer) + 1);
  if (above.some((one) => isFilter(one) && one.members.includes(node))) return null;
  const curve = curveOf(shot, layer, id);
  const raised = rebuild(curve, null, (columns) => {
    for (let row = 0; row < columns.values.length; row += 1) columns.values[row]! += 1;
  });
  const [before, after] = [shot, withCurves(shot, layer, new Map([[id, raised]]))].map((one) => {
    const { top } = stackOf(one);
    return frames.map((frame) => top[channel]!.at(frame));
  });
  return after!.map((value, f) => value - before![f]!);
}
