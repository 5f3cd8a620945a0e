/** Where the keys of a curve show, in its repeats too. */
import type { FrameRange } from '../base/frame-range.ts';
import { refuse } from '../base/finding.ts';
import { rising } from '../base/frames.ts';
import { LIMITS } from '../base/limits.ts';
import type { Curve, Lead } from './curve.ts';
import { hasLead, repeats } from './lead.ts';

/** The times of its keys wherever they stand, and in a range those at which its repeats show them, rising. */
export function timesWithRepeats(curve: Curve, { start, end }: FrameRange): number[] {
  const own = Array.from(curve.times);
  if (!hasLead(curve)) return own;
  const [first, last] = [own[0]!, own[own.length - 1]!];
  const length = last - first;
  const found = own;
  const side = (lead: Lead, count: number, reach: number, way: 1 | -1) => {
    if (!repeats(lead) || reach <= 0) return;
    const turns = Math.min(Math.ceil(reach / length), count > 0 ? count : Infinity);
    if (turns * curve.times.length > LIMITS.keys)
      refuse('tooManyKeys', {}, turns * curve.times.length, LIMITS.keys);
    for (let turn = 1; turn <= turns; turn += 1) {
      const backward = lead === 'swing' && turn % 2 !== 0;
      for (const time of curve.times) {
        const shown = (backward ? first + last - time : time) + way * turn * length;
        if (shown >= start && shown <= end) found.push(shown);
      }
    }
  };
  side(curve.leadOut, curve.leadOutCount, end - last, 1);
  side(curve.leadIn, curve.leadInCount, first - start, -1);
  return rising(found);
}
