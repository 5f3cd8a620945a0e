/**
 * Where a curve jumps: stepped segments whose next key holds another value, and seams of loops whose ends differ, in its repeats too. At the first
 * the value just before is another than on the frame; at a seam past the keys the value just after is, since a seam belongs to the turn that
 * reaches it from the keys (`lead.ts`).
 */
import type { FrameRange } from '../base/frame-range.ts';
import { refuse } from '../base/finding.ts';
import { rising } from '../base/frames.ts';
import { LIMITS } from '../base/limits.ts';
import { SEGMENT } from './curve.ts';
import type { Curve, Lead } from './curve.ts';
import { hasLead, repeats } from './lead.ts';

/** The times at which it jumps within a range, ends included, rising. */
export function jumpsOfCurve(curve: Curve, range: FrameRange): number[] {
  const { times, values, segments } = curve;
  const own: number[] = [];
  for (let row = 0; row + 1 < times.length; row += 1)
    if (segments[row] === SEGMENT.stepped && values[row] !== values[row + 1]) own.push(times[row + 1]!);
  const inside = (time: number) => time >= range.start - 1e-9 && time <= range.end + 1e-9;
  if (!hasLead(curve)) return own.length === 0 ? own : rising(own.filter(inside));
  return rising([...own, ...repeated(curve, own, range)].filter(inside));
}

/** The same in the repeats. @param own jumps within the keys */
function repeated(curve: Curve, own: readonly number[], { start, end }: FrameRange): number[] {
  const { times, values } = curve;
  const [first, last] = [times[0]!, times[times.length - 1]!];
  const length = last - first;
  const differ = values[0] !== values[values.length - 1];
  const found: number[] = [];
  /** @param from where the first turn begins, seen from the keys, @param way along which turns follow */
  const side = (lead: Lead, count: number, reach: number, from: number, way: 1 | -1) => {
    const seams = lead === 'loop' && differ;
    if (!repeats(lead) || reach < 0 || (own.length === 0 && !seams)) return;
    const turns = Math.min(Math.floor(reach / length) + 1, count > 0 ? count : Infinity);
    if (turns * (own.length + 1) > LIMITS.keys)
      refuse('tooManyKeys', {}, turns * (own.length + 1), LIMITS.keys);
    for (let turn = 1; turn <= turns; turn += 1) {
      const backward = lead === 'swing' && turn % 2 !== 0;
      for (const time of own) found.push((backward ? first + last - time : time) + way * turn * length);
      if (seams) found.push(from + way * (turn - 1) * length);
    }
  };
  side(curve.leadOut, curve.leadOutCount, end - last, last, 1);
  side(curve.leadIn, curve.leadInCount, first - start, first, -1);
  return found;
}
