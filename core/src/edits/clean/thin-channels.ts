/** Thinning the selected channels, each within a tolerance of its own: what both ways of setting a tolerance share. */
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { thinCurve } from '../../curve/thin.ts';
import type { ThinOptions } from '../../curve/thin.ts';
import type { Work } from '../../base/work.ts';
import { channelKind, unitOf } from '../../rig/node.ts';
import type { ChannelKind } from '../../rig/node.ts';
import { splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Selection } from '../../document/selection.ts';
import type { Measure } from '../edit.ts';
import { changeTargetsOver } from '../shared/targets.ts';
import type { CurveChanges } from '../shared/targets.ts';

export type FitWishes = Omit<ThinOptions, 'tolerance' | 'takesPart'>;

export interface Thinned extends CurveChanges {
  /** Each channel as it was, as it is, and over which frames it was changed. */
  readonly fits: readonly ChannelFit[];
  readonly keysBefore: number;
  readonly keysAfter: number;
}

interface ChannelFit {
  readonly channel: ChannelId;
  readonly before: Curve;
  readonly after: Curve;
  readonly range: { readonly start: number; readonly end: number };
  readonly tolerance: number;
}

/** @param toleranceOf in the channel's own unit, > 0 */
export function* thinChannels(
  shot: Shot,
  selection: Selection,
  wishes: FitWishes,
  toleranceOf: (channel: ChannelId) => number,
): Work<Thinned, Shot> {
  const fits: ChannelFit[] = [];
  let [keysBefore, keysAfter] = [0, 0];
  const changes = yield* changeTargetsOver(shot, selection, (before, rows, channel) => {
    const part = new Uint8Array(before.times.length);
    for (const row of rows) part[row] = 1;
    const tolerance = toleranceOf(channel);
    const after = thinCurve(before, { ...wishes, tolerance, takesPart: (row) => part[row] === 1 });
    keysBefore += before.times.length;
    keysAfter += after.times.length;
    if (after === before) return before;
    // Nothing changes beyond the neighbours of what takes part.
    const last = Math.min(rows[rows.length - 1]! + 1, before.times.length - 1);
    const range = { start: before.times[Math.max(rows[0]! - 1, 0)]!, end: before.times[last]! };
    fits.push({ channel, before, after, range, tolerance });
    return after;
  });
  return { ...changes, fits, keysBefore, keysAfter };
}

export interface FitErrors {
  /** The worst of each kind, then greatest and RMS of each channel, those nearest to their tolerance first; between keys too. */
  readonly measures: readonly Measure[];
  /** Channels whose samples were too coarse for the tolerance to hold between them, and by how much; see `difference.ts`. */
  readonly coarse: ReadonlyMap<ChannelId, string>;
}

/** How far the thinned curves are from the old ones, between keys too. */
export function fitErrors({ fits }: Thinned): FitErrors {
  const worst = new Map<ChannelKind, Measure>();
  const perChannel: { readonly share: number; readonly measures: readonly Measure[] }[] = [];
  const coarse = new Map<ChannelId, string>();
  for (const { channel, before, after, range, tolerance } of fits) {
    const { name } = splitChannel(channel);
    const kind = channelKind(name);
    const unit = unitOf(name);
    const { greatest, frame, rms } = differenceOf(before, after, range);
    if (greatest > tolerance) coarse.set(channel, `${greatest.toPrecision(3)} ${unit}`.trim());
    const measure = { name: `greatest ${kind} error`, value: greatest, unit, where: { channel, frame } };
    perChannel.push({
      share: greatest / tolerance,
      measures: [
        { ...measure, name: 'greatest error' },
        { name: 'RMS error', value: rms, unit, where: { channel } },
      ],
    });
    if (greatest > (worst.get(kind)?.value ?? -1)) worst.set(kind, measure);
  }
  perChannel.sort((a, b) => b.share - a.share);
  return { measures: [...worst.values(), ...perChannel.flatMap(({ measures }) => measures)], coarse };
}
