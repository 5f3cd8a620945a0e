/**
 * A key below a filter that makes what shows of many frames, so that what is wanted shows on one of them. A spring or a smooth is linear in the values below it, and so are most
 * rules of tangents: two tries tell the value, and a few more come to it where a rule bends (secant method).
 */
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { withValueAt } from '../../curve/with-key.ts';
import type { KeyPlace, RepeatWay } from '../../curve/with-key.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { restOn } from '../shared/lay-part.ts';

/** A key that shows as less than this part of its change would have to go too far. */
const LEAST = 0.02;
const MOST_TRIES = 12;
/** Of the wanted value's size. */
const NEAR_ENOUGH = 1e-10;

/** Null where no key there shows it. @param layer the one that is keyed; null is the base */
export function keyedThrough(
  shot: Shot,
  layer: string | null,
  channel: ChannelId,
  frame: number,
  wanted: number,
  repeats: RepeatWay,
): { readonly curve: Curve; readonly way: KeyPlace['way'] } | null {
  const c = rigOf(shot).channelIndex(channel);
  const before = curveOf(shot, layer, channel);
  const keyed = (value: number) => withValueAt(before, frame, value, repeats, shot.range);
  const shownWith = (value: number) =>
    stackOf(withCurves(shot, layer, new Map([[channel, keyed(value).curve]]))).top[c]!.at(frame);
  let last = evaluate(before, frame, restOn(layer, channel));
  let shown = shownWith(last);
  let value = last + 1;
  for (let tries = 0; tries < MOST_TRIES; tries += 1) {
    const now = shownWith(value);
    if (Math.abs(now - wanted) <= NEAR_ENOUGH * (1 + Math.abs(wanted))) return keyed(value);
    const share = (now - shown) / (value - last);
    if (!(Math.abs(share) >= LEAST)) return null;
    [last, shown, value] = [value, now, value + (wanted - now) / share];
    if (!Number.isFinite(value)) return null;
  }
  return null;
}
