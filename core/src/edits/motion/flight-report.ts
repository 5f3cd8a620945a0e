/** How far what flies is from where it should be, and what a flight says of itself in numbers. */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { LOOKS_PER_FRAME } from '../../evaluation/measure.ts';
import type { Triple } from '../../math/euler.ts';
import type { Measure } from '../edit.ts';

interface Strayed {
  readonly greatest: number;
  readonly frame: number;
  readonly rms: number;
}

/** How far it is from where it should be, on frames and between them. */
export function strayOf(
  now: (frame: number) => Triple,
  air: FrameRange,
  flown: (frame: number) => Triple,
): Strayed {
  let [greatest, at, sum, count] = [0, air.start, 0, 0];
  for (const frame of framesOf(air, 1 / LOOKS_PER_FRAME)) {
    const off = apart(now(frame), flown(frame));
    sum += off * off;
    count += 1;
    if (off > greatest) [greatest, at] = [off, frame];
  }
  return { greatest, frame: at, rms: Math.sqrt(sum / Math.max(1, count)) };
}

export function flightMeasures(
  span: FrameRange,
  frames: number,
  top: number,
  present: { readonly greatest: number; readonly rms: number },
  strays: Strayed,
  keys: number,
  mm: (length: number) => number,
): Measure[] {
  return [
    { name: 'frames in the air', value: frames, before: span.end - span.start, unit: '' },
    { name: 'top', value: top, unit: 'cm' },
    {
      name: 'off the parabola',
      value: mm(strays.greatest),
      before: mm(present.greatest),
      unit: 'mm',
      where: { frame: strays.frame },
    },
    { name: 'off the parabola, rms', value: mm(strays.rms), before: mm(present.rms), unit: 'mm' },
    { name: 'keys written', value: keys, unit: '' },
  ];
}

export const apart = (p: Readonly<Triple>, q: Readonly<Triple>): number =>
  Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
