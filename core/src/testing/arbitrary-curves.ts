/** Curves for properties: keys on and between frames, every segment and tangent kind, handles of any length. */
import fc from 'fast-check';
import { FLAG } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { buildCurve } from '../curve/rebuild.ts';

export interface CurveKinds {
  /** Whether handles may have lengths of their own, up to the whole segment. */
  readonly weighted?: boolean;
  /** Cubic segments only. */
  readonly flowing?: boolean;
  /** Keys on whole frames only. */
  readonly whole?: boolean;
  readonly fewest?: number;
  readonly most?: number;
}

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

/** A curve that begins near frame 0, with gaps of half a frame to ten. */
export function anyCurve({
  weighted = false,
  flowing = false,
  whole = false,
  fewest = 2,
  most = 7,
}: CurveKinds = {}): fc.Arbitrary<Curve> {
  const key = fc.record({
    gap: whole ? fc.integer({ min: 1, max: 10 }) : number(0.5, 10),
    value: number(-40, 40),
    slopeIn: number(-9, 9),
    slopeOut: number(-9, 9),
    lengthIn: number(0, 1),
    lengthOut: number(0, 1),
    segment: flowing ? fc.constant(2) : fc.integer({ min: 0, max: 2 }),
    tangentIn: fc.integer({ min: 0, max: 4 }),
    tangentOut: fc.integer({ min: 0, max: 4 }),
    flags: fc.constantFrom(0, FLAG.broken, ...(weighted ? [FLAG.weightedIn, FLAG.weightedOut, 13] : [])),
  });
  return fc
    .tuple(
      fc.array(key, { minLength: fewest, maxLength: most }),
      whole ? fc.integer({ min: -3, max: 3 }) : number(-3, 3),
    )
    .map(([keys, start]) =>
      buildCurve(keys.length, (columns) => {
        let time = start;
        keys.forEach((made, i) => {
          if (i > 0) time += made.gap;
          columns.times[i] = time;
          columns.values[i] = made.value;
          columns.slopesIn[i] = made.slopeIn;
          columns.slopesOut[i] = made.slopeOut;
          columns.lengthsIn[i] = made.lengthIn * made.gap;
          columns.lengthsOut[i] = made.lengthOut * (keys[i + 1]?.gap ?? 1);
          columns.segments[i] = made.segment;
          columns.tangentsIn[i] = made.tangentIn;
          columns.tangentsOut[i] = made.tangentOut;
          columns.flags[i] = made.flags;
        });
      }),
    );
}
